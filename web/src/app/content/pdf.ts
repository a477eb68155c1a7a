import { getDocument, GlobalWorkerOptions } from 'pdfjs-dist';
import workerAddress from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

// A worker for each PDF: one that they shared would end with the first of them that is closed.
GlobalWorkerOptions.workerSrc = workerAddress;

/** Letters, characters and decoders that a PDF may want and not bring along; laid there by the build. */
const PARTS = `${import.meta.env.BASE_URL}assets/pdf/`;

/** A PDF on its way, as much of it as is looked at. */
export function loadPdf(url: string) {
  return getDocument({
    url,
    isEvalSupported: false,
    rangeChunkSize: 1 << 18,
    cMapUrl: `${PARTS}cmaps/`,
    standardFontDataUrl: `${PARTS}standard_fonts/`,
    wasmUrl: `${PARTS}wasm/`,
  });
}
