import type { PDFDocumentProxy } from 'pdfjs-dist';

/** Dots to an inch on paper; a PDF counts 72 to an inch. */
const DPI = 150;

/**
 * Prints a PDF: its pages are drawn, stand on the page while the browser prints, and go. `progress` hears how many are
 * drawn; `signal` gives it up.
 */
export async function printPages(
  document_: PDFDocumentProxy,
  progress: (drawn: number) => void,
  signal: AbortSignal,
): Promise<void> {
  const holder = document.createElement('div');
  holder.className = 'printed-pages';
  const addresses: string[] = [];
  const canvas = document.createElement('canvas');
  try {
    for (let number = 1; number <= document_.numPages; number += 1) {
      signal.throwIfAborted();
      const page = await document_.getPage(number);
      const viewport = page.getViewport({ scale: DPI / 72 });
      canvas.width = Math.floor(viewport.width);
      canvas.height = Math.floor(viewport.height);
      await page.render({ canvas, viewport, intent: 'print' }).promise;
      const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve));
      if (!blob) throw new Error(`Page ${number} could not be drawn.`);
      const picture = new Image();
      picture.src = URL.createObjectURL(blob);
      addresses.push(picture.src);
      await picture.decode();
      holder.append(picture);
      progress(number);
    }
    signal.throwIfAborted();
    document.body.append(holder);
    // Returns once the person has printed, or has thought better of it.
    window.print();
  } finally {
    holder.remove();
    canvas.width = 0;
    for (const address of addresses) URL.revokeObjectURL(address);
  }
}
