/** A paper of the house as PDF: sheets of A4, as many as it takes. */
import { setImmediate } from 'node:timers/promises';
import { PDFDocument, StandardFonts, rgb, type PDFFont, type PDFPage } from 'pdf-lib';
import { say } from '@/messages';
import { wrapped, writable } from './pdf-text';
import type { Sheet, SheetBlock, SheetColumn } from './sheet';

const A4 = [595.28, 841.89] as const;
const MARGIN = 56;
const WIDTH = A4[0] - 2 * MARGIN;
const LABEL_WIDTH = 86;
const GAP = 8;
/** Height of a line, by the size of its letters. */
const LEADING = 1.35;
const CELL_SIZE = 9;
/** Rows set before others have their turn. */
const ROWS_AT_ONCE = 40;

const INK = rgb(0.14, 0.12, 0.11);
const PALE = rgb(0.36, 0.33, 0.29);
const RULE = rgb(0.85, 0.81, 0.75);
const TONES = {
  ...{ plain: INK, pale: PALE },
  ...{ good: rgb(0.17, 0.42, 0.38), bad: rgb(0.55, 0.23, 0.11) },
} as const;

interface Style {
  font?: PDFFont;
  size?: number;
  color?: ReturnType<typeof rgb>;
  x?: number;
  room?: number;
}

/** Writes from the top of a sheet down, and goes on with another where one is full. */
class SheetWriter {
  private page: PDFPage;
  /** From the foot of the sheet, in points. */
  private y = A4[1] - MARGIN;

  constructor(
    private readonly pdf: PDFDocument,
    private readonly plain: PDFFont,
    private readonly bold: PDFFont,
  ) {
    this.page = pdf.addPage([...A4]);
  }

  private turnPage(): void {
    this.page = this.pdf.addPage([...A4]);
    this.y = A4[1] - MARGIN;
  }

  /** Another sheet, where this one has less than that left. */
  private keepRoom(height: number): void {
    if (this.y - height < MARGIN) this.turnPage();
  }

  private rule(length = WIDTH, color = RULE): void {
    const from = { x: MARGIN, y: this.y };
    const end = { x: MARGIN + length, y: this.y };
    this.page.drawLine({ start: from, end, thickness: 0.6, color });
  }

  write(text: string, style: Style = {}): void {
    const { font = this.plain, size = 10, color = INK, x = MARGIN, room = WIDTH } = style;
    for (const line of wrapped(font, text, size, room)) {
      this.keepRoom(size * LEADING);
      this.y -= size * LEADING;
      this.page.drawText(line, { x, y: this.y, size, font, color });
    }
  }

  head({ over, head }: Sheet): void {
    this.write(over, { color: PALE });
    this.write(head, { font: this.bold, size: 20 });
    this.y -= 10;
  }

  async block(block: SheetBlock): Promise<void> {
    switch (block.kind) {
      case 'text':
        this.write(block.text, { size: 11, color: TONES[block.tone] });
        this.y -= 8;
        return;
      case 'heading':
        this.keepRoom(60);
        this.y -= 8;
        this.write(block.text, { font: this.bold, size: 13 });
        this.y -= 4;
        return;
      case 'facts':
        for (const [label, text] of block.facts) this.fact(label, text);
        return;
      case 'table':
        return this.table(block);
      case 'signatures':
        for (const under of block.under) this.signature(under);
    }
  }

  private fact(label: string, text: string): void {
    const [size, labelSize] = [10, 9.5];
    const room = WIDTH - LABEL_WIDTH - GAP;
    const lines = wrapped(this.plain, text, size, room).length;
    // One that is longer than a sheet breaks off where it must.
    this.keepRoom(Math.min(lines * size * LEADING, A4[1] / 3) + 12);
    this.rule();
    this.y -= 4;
    const [top, page] = [this.y, this.page];
    this.write(label, { font: this.bold, size: labelSize, room: LABEL_WIDTH, color: PALE });
    const after = this.y;
    this.y = top;
    this.write(text, { x: MARGIN + LABEL_WIDTH + GAP, room });
    if (this.page === page) this.y = Math.min(this.y, after);
    this.y -= 8;
  }

  private async table({ columns, rows }: Extract<SheetBlock, { kind: 'table' }>): Promise<void> {
    const widths = widthsOf(columns);
    const linesOf = (cells: readonly string[], font: PDFFont) =>
      cells.map((cell, i) => wrapped(font, cell, CELL_SIZE, widths[i]! - GAP));
    const names = linesOf(
      columns.map(({ name }) => name),
      this.bold,
    );
    const title = () => this.row(names, widths, { font: this.bold, color: PALE });
    this.keepRoom(60);
    title();
    for (const [i, row] of rows.entries()) {
      if (i % ROWS_AT_ONCE === ROWS_AT_ONCE - 1) await setImmediate();
      const cells = linesOf(row, this.plain);
      const height = Math.max(1, ...cells.map(({ length }) => length)) * CELL_SIZE * LEADING + GAP;
      if (this.y - height < MARGIN) {
        this.turnPage();
        title();
      }
      this.row(cells, widths, {});
    }
    this.y -= GAP;
  }

  /** Its cells beside one another, each in lines; never over the end of a sheet. */
  private row(
    cells: readonly (readonly string[])[],
    widths: readonly number[],
    { font = this.plain, color = INK }: Style,
  ): void {
    const top = this.y - 3;
    let [x, lowest] = [MARGIN, top];
    for (const [i, lines] of cells.entries()) {
      let y = top;
      for (const line of lines) {
        y -= CELL_SIZE * LEADING;
        if (y < MARGIN / 2) break;
        this.page.drawText(line, { x, y, size: CELL_SIZE, font, color });
      }
      lowest = Math.min(lowest, y);
      x += widths[i]!;
    }
    this.y = lowest - 4;
    this.rule();
  }

  private signature(under: string): void {
    this.keepRoom(60);
    this.y -= 38;
    this.rule(280, INK);
    this.write(under, { size: 9, color: PALE });
  }

  /** At the foot of each sheet, once there are all of them. */
  foot(text: string): void {
    const pages = this.pdf.getPages();
    const style = { x: MARGIN, y: MARGIN / 2, size: 8, font: this.plain, color: PALE };
    for (const [i, page] of pages.entries()) {
      const line = say.sheets.foot({ text, page: i + 1, of: pages.length });
      page.drawText(writable(this.plain, line), style);
    }
  }
}

function widthsOf(columns: readonly SheetColumn[]): number[] {
  const all = columns.reduce((sum, { share }) => sum + share, 0);
  return columns.map(({ share }) => (WIDTH * share) / all);
}

export async function sheetPdf(sheet: Sheet): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const [plain, bold] = await Promise.all([
    pdf.embedFont(StandardFonts.Helvetica),
    pdf.embedFont(StandardFonts.HelveticaBold),
  ]);
  pdf.setTitle(writable(plain, `${sheet.over}: ${sheet.head}`));
  pdf.setCreator('Frail Spindle');
  const writer = new SheetWriter(pdf, plain, bold);
  writer.head(sheet);
  for (const [i, block] of sheet.blocks.entries()) {
    if (i % ROWS_AT_ONCE === ROWS_AT_ONCE - 1) await setImmediate();
    await writer.block(block);
  }
  writer.foot(sheet.over);
  return pdf.save();
}
