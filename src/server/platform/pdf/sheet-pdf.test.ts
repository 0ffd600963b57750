/** A paper as PDF: nothing of it is lost between two sheets, and no line runs over an edge. */
import { PDFDocument, StandardFonts } from 'pdf-lib';
import { linesOfPdf } from '../../../../tests/support/server/pdf-text';
import { wrapped, writable } from './pdf-text';
import { sheetPdf } from './sheet-pdf';
import type { SheetBlock } from './sheet';

const font = async () => (await PDFDocument.create()).embedFont(StandardFonts.Helvetica);
const sheet = (...blocks: SheetBlock[]) => sheetPdf({ over: 'Paper 7', head: 'Of disks', blocks });

test('what the letters of every reader can not write is marked, and the rest stays', async () => {
  expect(writable(await font(), 'Fog № 3: “Żaglówka” café ä\u2009b')).toBe(
    'Fog ? 3: "?agl\u00f3wka" caf\u00e9 \u00e4\u00a0b',
  );
});

test.each(['a '.repeat(300), 'x'.repeat(900), 'no break', '', `${'y'.repeat(300)} z`])(
  'lines fit their width and leave nothing out: %#',
  async (text) => {
    const own = await font();
    const lines = wrapped(own, text, 10, 120);
    for (const line of lines) expect(own.widthOfTextAtSize(line, 10)).toBeLessThanOrEqual(120);
    expect(lines.join('').replaceAll(' ', '')).toBe(text.replaceAll(' ', ''));
  },
);

test('a width that no letter fits ends all the same', async () => {
  expect(wrapped(await font(), 'abc', 10, 1)).toEqual(['a', 'b', 'c']);
});

test('a table goes on with its heads, each row once, each sheet with its number', async () => {
  const rows = Array.from({ length: 130 }, (_, i) => [
    `SKP-${1000 + i}`,
    'a disk of many words '.repeat(4),
  ]);
  const columns = [
    { name: 'Code', share: 1 },
    { name: 'What', share: 2 },
  ];
  const pages = await linesOfPdf(await sheet({ kind: 'table', columns, rows }));
  expect(pages.length).toBeGreaterThan(4);
  expect(pages.every((lines) => lines.filter((line) => line === 'Code').length === 1)).toBe(true);
  const codes = pages.flat().filter((line) => line.startsWith('SKP-'));
  expect(codes).toEqual(rows.map(([code]) => code));
  expect(pages.map((lines) => lines.at(-1))).toEqual(
    pages.map((_, i) => `Paper 7 \u00b7 page ${i + 1} of ${pages.length}`),
  );
});

test('a fact that is longer than a sheet goes on over the next ones', async () => {
  const words = Array.from({ length: 3000 }, (_, i) => `w${i}`);
  const pages = await linesOfPdf(
    await sheet({
      kind: 'facts',
      facts: [
        ['Files', words.join(' ')],
        ['Then', 'this'],
      ],
    }),
  );
  expect(pages.length).toBeGreaterThan(1);
  const told = pages.flat().join(' ').split(' ');
  expect(words.filter((word) => !told.includes(word))).toEqual([]);
  expect(pages.at(-1)).toContain('this');
});
