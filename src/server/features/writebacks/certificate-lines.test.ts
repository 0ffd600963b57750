/** What the printed certificate says of a write-back, and what it can print. */
import { inflateSync } from 'node:zlib';
import { type Certificate, trackFigures } from '@/core/assembly/certificate';
import { say } from '@/messages';
import { certificateLines } from './certificate-lines';
import { certificatePdf } from './certificate-pdf';
import { madeCertificate } from '../../../../tests/support/made-certificate';

const words = say.certificates;

const tracks = (failed: number) =>
  trackFigures(
    Array.from({ length: 40 }, (_, cylinder) => ({
      cylinder,
      head: 0,
      proved: cylinder >= failed,
      tries: cylinder < failed ? 3 : 1,
      spread: cylinder < failed ? 0.31 : 0.05,
    })),
  );

const made = (own: Partial<Certificate> = {}) => madeCertificate({ ...tracks(0), ...own });

const linesOf = (own: Partial<Certificate> = {}) => Object.fromEntries(certificateLines(made(own)));

const source = (own: Partial<Certificate['source']>) => ({
  source: { ...made().source, ...own },
});

test('where it came from: with its lender, as flux, and with what is in doubt of it', () => {
  const plain = linesOf();
  expect(plain[words.madeFrom]).toBe('SKP-0104, Dues');
  expect(plain[words.image]).toBe(`737\u2009280 bytes, SHA-256 ${'a'.repeat(64)}`);
  const lent = linesOf(source({ lender: 'a keeper', as: 'flux', inDoubt: 1200 }));
  expect(lent[words.madeFrom]).toContain('a keeper');
  expect(lent[words.image]).toBe(
    plain[words.image] + words.asFlux + words.inDoubt({ inDoubt: 1200 }),
  );
  expect(lent[words.image]).toContain('1\u2009200');
});

test('a certificate without layout or machine has no line for them', () => {
  const lines = linesOf({ layout: null });
  expect(Object.keys(lines)).not.toContain(words.layout);
  expect(Object.keys(lines)).not.toContain(words.meantFor);
  expect(linesOf({ machine: 'a console' })[words.meantFor]).toBe('a console');
  expect(linesOf({ precompensated: true })[words.layout]).toBe(
    `mfm-35-9x512${words.precompensated}`,
  );
});

test('tracks that failed are named, twelve of them at most', () => {
  const few = linesOf(tracks(2))[words.tracks]!;
  expect(few).toContain(words.place({ cylinder: 1, head: 0 }));
  expect(few).not.toContain(words.andOthers);
  const many = linesOf(tracks(13))[words.tracks]!;
  expect(many).toContain(words.place({ cylinder: 11, head: 0 }));
  expect(many).not.toContain(words.place({ cylinder: 12, head: 0 }));
  expect(many).toContain(words.andOthers);
  expect(linesOf(tracks(0))[words.tracks]).toBe(
    words.tracksProved({ proved: 40, written: 40, again: 0 }),
  );
});

test('the margin names the track where it is least; nothing is said of one not measured', () => {
  expect(linesOf(tracks(1))[words.margin]).toBe(
    words.marginIs({ mean: '5.7', worst: '31.0', place: words.place({ cylinder: 0, head: 0 }) }),
  );
  expect(Object.keys(linesOf({ margin: null }))).not.toContain(words.margin);
});

test('blocks: those that failed by stretches, eight of them at most', () => {
  const failed = Array.from({ length: 9 }, (_, at) => ({ from: 1000 * at, count: 2 }));
  const blocks = { blockBytes: 512, written: 10_000, proved: 9982, failed };
  const line = linesOf({ ...trackFigures([]), blocks })[words.blocks]!;
  expect(line).toContain(words.blocksProved(blocks));
  expect(line).toContain(words.stretch({ from: 7000, count: 2 }));
  expect(line).not.toContain(words.stretch({ from: 8000, count: 2 }));
});

test('how it did in the machine: who said so and when, or that nobody has', () => {
  expect(linesOf()[words.trial]).toBe(words.nobodyHasSaid);
  const trial = { outcome: 'works', note: 'boots', by: 'Ingrid', at: '2026-11-28T10:30:00.000Z' };
  expect(linesOf({ trial: trial as Certificate['trial'] })[words.trial]).toBe(
    'works: boots (Ingrid, 2026-11-28, 10:30 UTC)',
  );
});

test('from when to when, once it has ended', () => {
  expect(linesOf()[words.doneBy]).toBe('Tam Okoro, 2026-11-27, 08:00 UTC');
  expect(linesOf({ endedAt: '2026-11-27T08:20:00.000Z' })[words.doneBy]).toBe(
    'Tam Okoro, 2026-11-27, 08:00 UTC to 2026-11-27, 08:20 UTC',
  );
});

/** What stands in the streams of a PDF, unpacked. */
function drawnIn(pdf: Buffer): string {
  const parts: string[] = [];
  for (let at = pdf.indexOf('stream\n'); at >= 0; at = pdf.indexOf('stream\n', at + 7)) {
    if (pdf.subarray(at - 3, at).toString() === 'end') continue;
    try {
      parts.push(inflateSync(pdf.subarray(at + 7)).toString('latin1'));
    } catch {
      // Not a packed stream: nothing is drawn in it.
    }
  }
  return parts.join('\n');
}

/** Bytes of the fonts' own alphabet as the drawing of a page has them. */
const inHex = (text: string) => Buffer.from(text, 'latin1').toString('hex').toUpperCase();

test('on paper groups of figures are set apart, and nothing of it becomes a question mark', async () => {
  const pdf = Buffer.from(await certificatePdf(made()));
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  const drawn = drawnIn(pdf);
  expect(drawn).toContain(inHex('737\u00a0280'));
  expect(drawn).not.toContain(inHex('737?280'));
});
