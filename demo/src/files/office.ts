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
import ExcelJS from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';

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
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = columns.map((c) => ({ header: c.header, width: c.width }));
  sheet.getRow(1).font = { bold: true };
  for (const row of rows) sheet.addRow([...row]);
  return settled(new Uint8Array(await book.xlsx.writeBuffer()));
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
