/** Text for the fonts that every reader of PDF has (ISO 32000-1, 9.6.2.2): what they can write, in lines. */
import type { PDFFont } from 'pdf-lib';

const known = new WeakMap<PDFFont, ReadonlySet<number>>();

function charactersOf(font: PDFFont): ReadonlySet<number> {
  const already = known.get(font);
  if (already) return already;
  const found = new Set(font.getCharacterSet());
  known.set(font, found);
  return found;
}

/** These fonts write one alphabet only: what is not in it becomes a question mark. */
export function writable(font: PDFFont, text: string): string {
  const characters = charactersOf(font);
  const plain = text.normalize('NFC').replace(/[“”]/g, '"').replace(/[‘’]/g, "'");
  return [...plain.replaceAll('\u2009', '\u00a0')]
    .map((char) => (characters.has(char.codePointAt(0)!) || /\s/.test(char) ? char : '?'))
    .join('');
}

/** Where a line may break: not at the spaces within a figure. */
const BREAKS = /[ \t\n\r]+/;

/** The most of a word that fits, one character at least. */
function cutOf(word: string, fits: (tried: string) => boolean): string {
  let [fitting, tooMuch] = [1, word.length];
  while (tooMuch - fitting > 1) {
    const middle = (fitting + tooMuch) >> 1;
    if (fits(word.slice(0, middle))) fitting = middle;
    else tooMuch = middle;
  }
  return word.slice(0, fitting);
}

/** Lines that fit a width, in points; a word that is too long is cut. */
export function wrapped(font: PDFFont, text: string, size: number, width: number): string[] {
  const lines: string[] = [];
  let line = '';
  const fits = (tried: string) => font.widthOfTextAtSize(tried, size) <= width;
  for (const word of writable(font, text).split(BREAKS)) {
    if (line !== '' && fits(`${line} ${word}`)) {
      line = `${line} ${word}`;
      continue;
    }
    if (line !== '') lines.push(line);
    line = word;
    while (!fits(line) && line.length > 1) {
      const cut = cutOf(line, fits);
      lines.push(cut);
      line = line.slice(cut.length);
    }
  }
  return line === '' ? lines : [...lines, line];
}
