/** The certificate of a write-back on one sheet of A4, as PDF. */
import { PDFDocument, StandardFonts, rgb, type PDFFont } from 'pdf-lib';
import type { Certificate } from '@/core/assembly/certificate';
import { say } from '@/messages';
import { certificateLines } from './certificate-lines';

const A4 = [595.28, 841.89] as const;
const MARGIN = 56;
const LABEL_WIDTH = 86;
const INK = rgb(0.14, 0.12, 0.11);
const PALE = rgb(0.36, 0.33, 0.29);
const RULE = rgb(0.85, 0.81, 0.75);
const OXIDE = rgb(0.55, 0.23, 0.11);
const VERDIGRIS = rgb(0.17, 0.42, 0.38);

/**
 * The fonts that every reader has write one alphabet only: what is not in it becomes a question
 * mark.
 */
function writable(font: PDFFont, text: string): string {
  const known = new Set(font.getCharacterSet());
  const plain = text.normalize('NFC').replace(/[“”]/g, '"').replace(/[‘’]/g, "'");
  return [...plain.replaceAll('\u2009', '\u00a0')]
    .map((char) => (known.has(char.codePointAt(0)!) ? char : '?'))
    .join('');
}

/** Where a line may break: not at the spaces within a figure. */
const BREAKS = /[ \t\n]+/;

/** Lines that fit a width; a word that is too long is cut. */
function wrapped(font: PDFFont, text: string, size: number, width: number): string[] {
  const lines: string[] = [];
  let line = '';
  const fits = (tried: string) => font.widthOfTextAtSize(tried, size) <= width;
  for (const word of writable(font, text).split(BREAKS)) {
    let rest = word;
    if (line !== '' && fits(`${line} ${rest}`)) {
      line = `${line} ${rest}`;
      continue;
    }
    if (line !== '') lines.push(line);
    for (; !fits(rest);) {
      let cut = rest.length;
      while (cut > 1 && !fits(rest.slice(0, cut))) cut--;
      lines.push(rest.slice(0, cut));
      rest = rest.slice(cut);
    }
    line = rest;
  }
  return line === '' ? lines : [...lines, line];
}

export async function certificatePdf(certificate: Certificate): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  const [plain, bold] = await Promise.all([
    pdf.embedFont(StandardFonts.Helvetica),
    pdf.embedFont(StandardFonts.HelveticaBold),
  ]);
  const page = pdf.addPage([...A4]);
  const width = A4[0] - 2 * MARGIN;
  let y = A4[1] - MARGIN;
  const write = (
    text: string,
    font: PDFFont,
    size: number,
    { x = MARGIN, room = width, color = INK } = {},
  ) => {
    for (const line of wrapped(font, text, size, room)) {
      y -= size * 1.35;
      page.drawText(line, { x, y, size, font, color });
    }
  };
  const { source, target, outcome, sentence } = certificate;
  const id = certificate.writeback;
  const ends = { source: source.code, target: target.code };
  pdf.setTitle(writable(plain, say.certificates.title({ id, ...ends })));
  pdf.setCreator('Frail Spindle');
  write(say.certificates.writeBack({ id }), plain, 10, { color: PALE });
  write(say.certificates.head({ ...ends, outcome: say.certificates.outcomes[outcome] }), bold, 20);
  y -= 6;
  write(sentence, plain, 11, { color: outcome === 'proved' ? VERDIGRIS : OXIDE });
  y -= 14;
  for (const [label, text] of certificateLines(certificate)) {
    page.drawLine({
      start: { x: MARGIN, y },
      end: { x: MARGIN + width, y },
      thickness: 0.6,
      color: RULE,
    });
    y -= 4;
    const top = y;
    write(label, bold, 9.5, { room: LABEL_WIDTH, color: PALE });
    const after = y;
    y = top;
    write(text, plain, 10, { x: MARGIN + LABEL_WIDTH + 8, room: width - LABEL_WIDTH - 8 });
    y = Math.min(y, after) - 8;
  }
  y -= 30;
  page.drawLine({
    start: { x: MARGIN, y },
    end: { x: MARGIN + 220, y },
    thickness: 0.6,
    color: INK,
  });
  write(say.certificates.signed, plain, 9, { color: PALE });
  return pdf.save();
}
