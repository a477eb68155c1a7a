import {
  Document,
  HeadingLevel,
  Packer,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
} from 'docx';
import pptx from 'pptxgenjs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import writeExcelFile from 'write-excel-file/node';

export interface TextFile {
  readonly title: string;
  readonly paragraphs: readonly string[];
  readonly table?: readonly (readonly string[])[];
}

/** A text document (Office Open XML). */
export async function makeText({ title, paragraphs, table }: TextFile): Promise<Uint8Array> {
  const rows = (table ?? []).map(
    (row, r) =>
      new TableRow({
        children: row.map(
          (cell) =>
            new TableCell({
              children: [new Paragraph({ children: [new TextRun({ text: cell, bold: r === 0 })] })],
            }),
        ),
      }),
  );
  const document = new Document({
    creator: 'Fennmoor College',
    title,
    sections: [
      {
        children: [
          new Paragraph({ text: title, heading: HeadingLevel.TITLE }),
          ...paragraphs.map((text) => new Paragraph({ text, spacing: { after: 160 } })),
          ...(rows.length > 0
            ? [new Table({ rows, width: { size: 100, type: WidthType.PERCENTAGE } })]
            : []),
        ],
      },
    ],
  });
  return settled(await Packer.toBuffer(document));
}

export interface SheetFile {
  readonly name: string;
  readonly columns: readonly { readonly header: string; readonly width: number }[];
  readonly rows: readonly (readonly (string | number)[])[];
}

/** A spreadsheet (Office Open XML). */
export async function makeSheet({ name, columns, rows }: SheetFile): Promise<Uint8Array> {
  const headings = columns.map(({ header }) => ({ value: header, fontWeight: 'bold' as const }));
  const sheet = [headings, ...rows.map((row) => row.map((value) => ({ value })))];
  const written = writeExcelFile(sheet, {
    sheet: name,
    columns: columns.map(({ width }) => ({ width })),
    stickyRowsCount: 1,
  });
  return settled(new Uint8Array(await written.toBuffer()));
}

export interface Slide {
  readonly title: string;
  readonly points: readonly string[];
}

/** A slide deck (Office Open XML): a title slide, then one slide for each heading with its points. */
export async function makeSlides(title: string, slides: readonly Slide[]): Promise<Uint8Array> {
  // The package is CommonJS; its class stands one level deeper than its types say.
  const deck = new ((pptx as unknown as { default?: typeof pptx }).default ?? pptx)();
  deck.layout = 'LAYOUT_WIDE';
  deck.title = title;
  deck.author = 'Fennmoor College';
  const first = deck.addSlide();
  first.background = { color: '2F6F4F' };
  first.addText(title, {
    x: 0.8,
    y: 2.6,
    w: 11.7,
    h: 1.4,
    fontSize: 48,
    bold: true,
    color: 'FFFFFF',
  });
  first.addText('Fennmoor College', {
    x: 0.8,
    y: 4,
    w: 11.7,
    h: 0.6,
    fontSize: 20,
    color: 'DCEBDF',
  });
  for (const { title: heading, points } of slides) {
    const slide = deck.addSlide();
    slide.addText(heading, {
      x: 0.8,
      y: 0.5,
      w: 11.7,
      h: 1,
      fontSize: 34,
      bold: true,
      color: '2F6F4F',
    });
    slide.addText(
      points.map((text) => ({ text, options: { bullet: true, breakLine: true } })),
      {
        x: 0.8,
        y: 1.7,
        w: 11.7,
        h: 4.8,
        fontSize: 24,
        color: '1F2A2E',
        valign: 'top',
        paraSpaceAfter: 12,
      },
    );
  }
  return settled(new Uint8Array((await deck.write({ outputType: 'arraybuffer' })) as ArrayBuffer));
}

const FIXED = '2026-08-01T00:00:00Z';

/** The same archive with fixed times, so that the same content gives the same bytes. */
function settled(archive: Uint8Array): Uint8Array {
  const files = unzipSync(archive);
  const core = files['docProps/core.xml'];
  if (core)
    files['docProps/core.xml'] = strToU8(
      strFromU8(core).replace(/(<dcterms:(created|modified)[^>]*>)[^<]*/gu, `$1${FIXED}`),
    );
  return zipSync(files, { mtime: '2026-08-01T00:00:00' });
}
