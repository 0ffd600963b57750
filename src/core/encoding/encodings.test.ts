/**
 * The four encodings: printed tables and marks, round trips under speed error, and any bytes at all
 * taken for flux.
 */
import fc from 'fast-check';
import { seededRandom } from '../bits/random';
import { perfectReading } from '../flux/synthesis';
import { encodeTrack } from '../layout/encode-track';
import { ENCODING_IDS, formatAt, turnCells, type EncodingId } from '../layout/layout';
import { shippedLayout } from '../layout/shipped';
import { TrackDecoder } from '../reading/decode/track-decoder';
import { RECOVERIES, encodingOf } from '.';
import { cellsOfByte } from './gcr-4to5/groups';
import { DISK_BYTES, bytesOfValuesInto, valuesOfBytes } from './gcr-6and2/disk-bytes';
import { classifyFlux } from './recovery/rate';

const TICK_HZ = 24_000_000;
const LAYOUT_OF: Record<EncodingId, string> = {
  fm: 'fm-8-26x128',
  mfm: 'mfm-35-9x512',
  'gcr-4to5': 'gcr45-525-35',
  'gcr-6and2': 'gcr62-525-16x256',
};

function made(encoding: EncodingId, seed: string, cylinder = 3) {
  const layout = shippedLayout(LAYOUT_OF[encoding])!;
  const random = seededRandom(seed);
  const sectors = formatAt(layout, cylinder, 0)!.sectors.map(({ r, bytes }) => ({
    r,
    bytes,
    data: Uint8Array.from({ length: bytes }, () => random.below(256)),
  }));
  return { layout, sectors, turn: encodeTrack(layout, cylinder, 0, sectors), cylinder };
}

const word = (value: number, cells = 16) => value.toString(2).padStart(cells, '0');
const cellsOf = (encoding: EncodingId) => {
  const { layout, sectors } = made(encoding, 'marks');
  const format = layout.tracks[0]!;
  return [
    ...encodingOf(encoding).encode(
      sectors.slice(0, 2).map(({ r, data }) => ({ c: 3, h: 0, r, n: 0, data })),
      format,
      turnCells(format, layout.rpm),
    ),
  ].join('');
};

test('FM marks are laid down as half cells, F77A, F57E and F56F', () => {
  const text = cellsOf('fm');
  expect([0xf77a, 0xf57e, 0xf56f].map((mark) => text.includes(word(0xaaaa) + word(mark)))).toEqual([
    true,
    true,
    true,
  ]);
  // Never two cells in a row without a transition, but for what is left over at the end.
  expect(text.slice(0, -16).includes('00')).toBe(false);
});

test('the 4-to-5 code is the printed one', () => {
  // Formats page 1.4, nibbles 0h to Fh.
  const printed =
    '01010 01011 10010 10011 01110 01111 10110 10111 01001 11001 11010 11011 01101 11101 11110 10101'.split(
      ' ',
    );
  expect(Array.from({ length: 16 }, (_, nibble) => word(cellsOfByte(nibble * 17), 10))).toEqual(
    printed.map((group) => group + group),
  );
  // A header: 40 cells of sync, block byte 08h.
  expect(cellsOf('gcr-4to5').includes('1'.repeat(40) + printed[0]! + printed[8]!)).toBe(true);
});

test('the 6-and-2 code has 64 disk bytes, none with three cells in a row without a transition', () => {
  expect(new Set(DISK_BYTES).size).toBe(64);
  for (const byte of DISK_BYTES) expect(byte.toString(2)).toMatch(/^1(?!.*000)/);
  expect(
    cellsOf('gcr-6and2').includes(word(0xd5aa) + word(0x96, 8) + word(0xff, 8) + word(0xfe, 8)),
  ).toBe(true);
});

test('256 bytes and their 342 values are one another', () => {
  fc.assert(
    fc.property(fc.uint8Array({ minLength: 256, maxLength: 256 }), (bytes) => {
      const back = new Uint8Array(256);
      bytesOfValuesInto(valuesOfBytes(bytes), back);
      expect(back).toEqual(bytes);
    }),
    { numRuns: 50 },
  );
});

test('two secondary bits of the first byte lie swapped in the first value', () => {
  const bytes = new Uint8Array(256);
  bytes[0] = 0b01;
  bytes[86] = 0b10;
  expect(valuesOfBytes(bytes)[0]).toBe(0b0110);
});

test.each(ENCODING_IDS)(
  '%s: its code and cell are found from the intervals, and every recovery reads a perfect turn',
  (encoding) => {
    const { layout, sectors, turn, cylinder } = made(encoding, encoding);
    const reading = perfectReading(
      turn,
      { cylinder, head: 0, pass: 0 },
      (TICK_HZ * 60) / layout.rpm,
      2,
    );
    const classes = classifyFlux(reading.flux, TICK_HZ, null);
    const own = classes.find((each) => each.encoding === encoding)!;
    expect(own.share).toBeGreaterThan(0.95);
    expect(classes[0]!.share).toBe(own.share);
    expect(own.cellTicks).toBeCloseTo(
      (TICK_HZ * 60) / layout.rpm / turnCells(formatAt(layout, cylinder, 0)!, layout.rpm),
      0,
    );
    for (const recovery of RECOVERIES) {
      const { sightings } = encodingOf(encoding).decode(reading, {
        tickHz: TICK_HZ,
        recovery,
        cellTicks: own.cellTicks,
      });
      const sound = new Set(
        sightings.filter(({ dataOk, violations }) => dataOk && violations === 0).map(({ r }) => r),
      );
      expect([recovery, sound.size]).toEqual([recovery, sectors.length]);
      for (const { r, data } of sightings)
        expect(Buffer.compare(data!, sectors.find((sector) => sector.r === r)!.data)).toBe(0);
    }
  },
);

test.each(ENCODING_IDS)(
  '%s: one turn is read whole, whatever the speed within six percent, a sector across the index too',
  (encoding) => {
    fc.assert(
      fc.property(
        fc.double({ min: -0.06, max: 0.06, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (speed, start) => {
          const { layout, sectors, turn, cylinder } = made(encoding, `${start}`);
          const turnTicks = (TICK_HZ * 60) / layout.rpm / (1 + speed);
          const moved = Float64Array.from(turn, (place) => (place - start + 1) % 1).sort();
          const reading = perfectReading(moved, { cylinder, head: 0, pass: 0 }, turnTicks, 1);
          const { sectors: read } = new TrackDecoder(
            { tickHz: TICK_HZ, rpm: layout.rpm },
            'all',
          ).decode([reading], layout);
          expect(read.map(({ r, grade }) => [r, grade]).sort()).toEqual(
            sectors.map(({ r }) => [r, 'firm']).sort(),
          );
          for (const { r, data } of sectors)
            expect(Buffer.compare(read.find((sector) => sector.r === r)!.data!, data)).toBe(0);
        },
      ),
      // The examples have a transition right under the index pulse.
      {
        numRuns: 5,
        examples: [
          [0, 0.0015356365172739352],
          [0, 0.003210000000000056],
        ],
      },
    );
  },
);

test.each(ENCODING_IDS)(
  '%s: any bytes at all are decoded without a failure, and nothing sound comes of them',
  (encoding) => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 6000 }),
        fc.constantFrom(...RECOVERIES),
        fc.integer({ min: 4, max: 200 }),
        (flux, recovery, cellTicks) => {
          const { sightings } = encodingOf(encoding).decode(
            { cylinder: 0, head: 0, pass: 0, index: [0, 1000], flux },
            { tickHz: TICK_HZ, recovery, cellTicks },
          );
          expect(sightings.filter(({ dataOk, violations }) => dataOk && violations === 0)).toEqual(
            [],
          );
        },
      ),
      { numRuns: 60, interruptAfterTimeLimit: 20_000 },
    );
  },
);
