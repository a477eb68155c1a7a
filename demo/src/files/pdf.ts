import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import { DRAWINGS, type DrawingName } from './drawings.ts';

/** What stands in a handout, from top to bottom. */
export type Block =
  | { readonly heading: string }
  | { readonly text: string }
  | { readonly list: readonly string[] }
  | { readonly table: readonly (readonly string[])[]; readonly widths?: readonly number[] }
  | { readonly drawing: DrawingName; readonly caption: string }
  | { readonly lines: number }
  | { readonly newPage: true };

export interface Handout {
  readonly title: string;
  readonly course: string;
  readonly code: string;
  readonly colour: string;
  readonly blocks: readonly Block[];
  /** Without it nobody opens the handout. */
  readonly password?: string;
}

const font = createRequire(import.meta.url);
const FONTS = {
  title: '@fontsource/literata/files/literata-latin-700-normal.woff',
  text: '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff',
  bold: '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff',
};
const INK = '#1f2a2e';
const SOFT = '#5d6a6c';
const LINE = '#c9c1b0';
const MARGIN = 56;
const WIDTH = 595.28 - 2 * MARGIN;
const BOTTOM = 841.89 - 70;

/** Draws a handout on A4 pages; the same handout gives the same bytes. */
export function makePdf(handout: Handout): Promise<Buffer> {
  const date = new Date(Date.UTC(2026, 7, 1));
  const doc = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    bufferPages: true,
    ...(handout.password !== undefined && { userPassword: handout.password }),
    info: { Title: handout.title, Author: 'Fennmoor College', CreationDate: date, ModDate: date },
  });
  for (const [name, path] of Object.entries(FONTS)) doc.registerFont(name, font.resolve(path));
  const chunks: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('data', (chunk: Buffer) => chunks.push(chunk));
    doc.on('end', () => resolve(Buffer.concat(chunks)));
    doc.on('error', reject);
  });
  head(doc, handout);
  for (const block of handout.blocks) draw(doc, block);
  foot(doc, handout);
  doc.end();
  return done;
}

type Doc = PDFKit.PDFDocument;

function head(doc: Doc, { title, course, code, colour }: Handout) {
  doc.rect(0, MARGIN - 6, 74, 24).fill(colour);
  doc
    .font('bold')
    .fontSize(11)
    .fillColor('#ffffff')
    .text(code, 18, MARGIN + 1, { lineBreak: false });
  doc
    .font('text')
    .fontSize(10.5)
    .fillColor(SOFT)
    .text(course, 88, MARGIN + 1, { lineBreak: false });
  doc
    .font('title')
    .fontSize(25)
    .fillColor(INK)
    .text(title, MARGIN, MARGIN + 34, { width: WIDTH });
  doc.moveDown(0.6);
}

function foot(doc: Doc, { title }: Handout) {
  const { count } = doc.bufferedPageRange();
  for (let n = 0; n < count; n += 1) {
    doc.switchToPage(n);
    doc.page.margins.bottom = 0;
    doc.font('text').fontSize(9).fillColor(SOFT);
    doc.text(title, MARGIN, 800, { lineBreak: false });
    doc.text(`${n + 1} of ${count}`, MARGIN, 800, {
      width: WIDTH,
      align: 'right',
      lineBreak: false,
    });
  }
}

/** Starts a new page when `height` points do not fit any more. */
function room(doc: Doc, height: number) {
  if (doc.y + height > BOTTOM) doc.addPage();
}

function draw(doc: Doc, block: Block) {
  doc.x = MARGIN;
  if ('newPage' in block) doc.addPage();
  else if ('heading' in block) {
    room(doc, 60);
    doc
      .moveDown(0.5)
      .font('title')
      .fontSize(15)
      .fillColor(INK)
      .text(block.heading, { width: WIDTH });
    doc.moveDown(0.3);
  } else if ('text' in block) {
    doc.font('text').fontSize(11.5).fillColor(INK).text(block.text, { width: WIDTH, lineGap: 3 });
    doc.moveDown(0.6);
  } else if ('list' in block) {
    block.list.forEach((entry, n) => {
      room(doc, 34);
      const y = doc.y;
      doc
        .font('bold')
        .fontSize(11.5)
        .fillColor(SOFT)
        .text(`${n + 1}`, MARGIN, y, { lineBreak: false });
      doc
        .font('text')
        .fillColor(INK)
        .text(entry, MARGIN + 22, y, { width: WIDTH - 22, lineGap: 3 });
      doc.moveDown(0.25);
    });
    doc.moveDown(0.4);
  } else if ('table' in block) table(doc, block.table, block.widths);
  else if ('lines' in block) {
    for (let n = 0; n < block.lines; n += 1) {
      room(doc, 26);
      doc.y += 26;
      doc
        .moveTo(MARGIN, doc.y)
        .lineTo(MARGIN + WIDTH, doc.y)
        .lineWidth(0.6)
        .stroke(LINE);
    }
    doc.y += 12;
  } else {
    const drawing = DRAWINGS[block.drawing];
    room(doc, drawing.height + 30);
    const top = doc.y + 4;
    doc.save().translate(MARGIN, top);
    drawing.draw(doc, WIDTH);
    doc.restore();
    doc.y = top + drawing.height + 8;
    doc
      .font('text')
      .fontSize(10)
      .fillColor(SOFT)
      .text(block.caption, MARGIN, doc.y, { width: WIDTH });
    doc.moveDown(0.8);
  }
}

function table(doc: Doc, rows: readonly (readonly string[])[], shares?: readonly number[]) {
  const columns = rows[0]?.length ?? 1;
  const total = shares?.reduce((a, b) => a + b, 0) ?? columns;
  const widths = Array.from({ length: columns }, (_, n) => (WIDTH * (shares?.[n] ?? 1)) / total);
  rows.forEach((row, r) => {
    doc.font(r === 0 ? 'bold' : 'text').fontSize(10.5);
    const height = Math.max(
      22,
      ...row.map((cell, c) => doc.heightOfString(cell, { width: widths[c]! - 12 }) + 10),
    );
    room(doc, height);
    const y = doc.y;
    if (r === 0) doc.rect(MARGIN, y, WIDTH, height).fill('#efe9db');
    let x = MARGIN;
    row.forEach((cell, c) => {
      doc.rect(x, y, widths[c]!, height).lineWidth(0.6).stroke(LINE);
      doc.fillColor(INK).text(cell, x + 6, y + 5, { width: widths[c]! - 12 });
      x += widths[c]!;
    });
    doc.y = y + height;
  });
  doc.moveDown(0.9);
}
