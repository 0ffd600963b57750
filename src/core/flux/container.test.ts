/**
 * The container against its specification: bytes made by hand, cut at every byte, changed, and
 * hostile.
 */
import fc from 'fast-check';
import { encode } from 'cborg';
import { loadVector } from '../../../tests/support/vectors';
import { nodeDigester } from '@/node/digester';
import { ContainerWriter, type ContainerHeader } from './container';
import { ContainerReader, readContainer } from './container-reader';
import { IntervalBuffer, type TrackReading } from './reading';

const header: ContainerHeader = {
  tickHz: 24_000_000,
  form: '3.5',
  rpm: 300,
  cylinders: 80,
  heads: 2,
};

/**
 * Items by hand, not by our writer: text keys, definite lengths, in the order of the specification.
 */
const ascii = (text: string) => [...new TextEncoder().encode(text)];
const text = (value: string) => [0x60 | value.length, ...ascii(value)];
const HAND_READING = [
  0xa5,
  ...text('cylinder'),
  3,
  ...text('head'),
  1,
  ...text('pass'),
  1,
  ...text('index'),
  0x82,
  0,
  0x19,
  0x12,
  0xc0,
  ...text('flux'),
  0x44,
  0x60,
  0x90,
  0x01,
  0x30,
];
const HAND_HEADER = [
  ...encode(
    {
      format: 'frail-spindle-flux',
      version: 1,
      tickHz: 24_000_000,
      form: '3.5',
      rpm: 300,
      cylinders: 80,
      heads: 2,
    },
    { mapSorter: () => 0 },
  ),
];

function withTrailer(items: number[], tracks: number): Uint8Array {
  const digest = [...nodeDigester.sha256(Uint8Array.from(items))];
  return Uint8Array.from([
    ...items,
    0xa2,
    ...text('tracks'),
    tracks,
    ...text('sha256'),
    0x58,
    32,
    ...digest,
  ]);
}

/** A2, the two keys, a count below 24, and a byte string of 32. */
const TRAILER_BYTES = 1 + 7 + 1 + 7 + 2 + 32;

const readingOf = (seed: number, bytes: number): TrackReading => ({
  cylinder: seed % 80,
  head: seed % 2,
  pass: 1,
  index: [0, 4_800_000],
  flux: Uint8Array.from({ length: bytes }, (_, i) => ((i * 7 + seed) % 100) + 20),
});

function write(readings: readonly TrackReading[]): Uint8Array {
  const writer = new ContainerWriter(nodeDigester);
  return new Uint8Array(
    Buffer.concat([
      writer.header(header),
      ...readings.map((reading) => writer.reading(reading)),
      writer.trailer(),
    ]),
  );
}

const kinds = (bytes: Uint8Array) =>
  readContainer(bytes, nodeDigester).problems.map(({ kind }) => kind);

test('reads a container made by hand', () => {
  const bytes = withTrailer([...HAND_HEADER, ...HAND_READING, ...HAND_READING], 2);
  const container = readContainer(bytes, nodeDigester);
  expect(container).toMatchObject({
    complete: true,
    problems: [],
    readings: 2,
    header: { tickHz: 24_000_000, form: '3.5' },
  });
  expect(container.tracks[0]).toEqual({
    cylinder: 3,
    head: 1,
    pass: 1,
    index: [0, 4800],
    flux: Uint8Array.from([0x60, 0x90, 0x01, 0x30]),
  });
  const { ticks, count } = new IntervalBuffer().unpack(container.tracks[0]!.flux, 24_000_000);
  expect([...ticks.subarray(0, count)]).toEqual([0x60, 144, 0x30]);
});

test('our writer makes what the independent captures hold', () => {
  const capture = loadVector('flux/clean-mfm-35-9x512.fsflux');
  const { header: theirs, tracks } = readContainer(capture, nodeDigester);
  const writer = new ContainerWriter(nodeDigester);
  const again = Buffer.concat([
    writer.header(theirs as ContainerHeader),
    ...tracks.map((track) => writer.reading(track)),
    writer.trailer(),
  ]);
  const second = readContainer(new Uint8Array(again), nodeDigester);
  expect(second).toMatchObject({ complete: true, problems: [], header: theirs });
  expect(second.tracks.map(({ flux }) => Buffer.from(flux).toString('hex'))).toEqual(
    tracks.map(({ flux }) => Buffer.from(flux).toString('hex')),
  );
});

test('keeps keys it does not know', () => {
  const writer = new ContainerWriter(nodeDigester);
  const bytes = Buffer.concat([
    writer.header({ ...header, extra: { bench: 'east' } }),
    writer.reading({ ...readingOf(1, 9), extra: { gain: 4 } }),
    writer.trailer(),
  ]);
  const container = readContainer(new Uint8Array(bytes), nodeDigester);
  expect(container.header?.extra).toEqual({ bench: 'east' });
  expect(container.tracks[0]!.extra).toEqual({ gain: 4 });
  expect(container.complete).toBe(true);
});

test('cut at any byte, it gives every whole reading and says that it was cut', () => {
  const readings = [readingOf(1, 40), readingOf(2, 300), readingOf(3, 20)];
  const whole = write(readings);
  const ends = readings.map((_, i) => write(readings.slice(0, i + 1)).length - TRAILER_BYTES);
  for (let cut = 0; cut < whole.length; cut++) {
    const container = readContainer(whole.subarray(0, cut), nodeDigester);
    expect(container.complete).toBe(false);
    expect(container.problems.length).toBeGreaterThan(0);
    const wholeReadings = ends.filter((end) => end <= cut).length;
    expect(container.tracks.length).toBeGreaterThanOrEqual(wholeReadings);
    container.tracks
      .slice(0, wholeReadings)
      .forEach((track, i) => expect(track.flux).toEqual(readings[i]!.flux));
  }
});

test('an item that is valid CBOR but no reading is passed over with its offset', () => {
  const odd = [...encode({ cylinder: 'three', head: 0 })];
  const bytes = withTrailer([...HAND_HEADER, ...odd, ...HAND_READING], 1);
  const container = readContainer(bytes, nodeDigester);
  expect(container).toMatchObject({ complete: true, readings: 1 });
  expect(container.problems).toEqual([
    expect.objectContaining({ kind: 'reading-invalid', offset: HAND_HEADER.length }),
  ]);
});

test.each([
  ['bytes that are no CBOR', [0xff, 0xfe, 0x1c, 0x5f, 0xff, 0x00, 0x1f]],
  ['a tag of nonsense', [0xd8, 0x77, 0x9f, 0x01, 0xff]],
  ['an array nested ten thousand deep', Array.from({ length: 10_000 }, () => 0x81)],
  ['a byte string that claims four gigabytes', [0x5a, 0xff, 0xff, 0xff, 0xff]],
])('%s: what follows is found', (_, junk) => {
  const container = readContainer(
    withTrailer([...HAND_HEADER, ...HAND_READING, ...junk, ...HAND_READING], 2),
    nodeDigester,
  );
  expect(container).toMatchObject({ complete: true, readings: 2 });
  expect(container.problems.map(({ offset }) => offset)).toContain(
    HAND_HEADER.length + HAND_READING.length,
  );
});

test('a reading whose length was changed does not swallow the next', () => {
  const readings = [readingOf(4, 200), readingOf(5, 200), readingOf(6, 200)];
  const bytes = write(readings);
  // The second reading's flux head: 58 C8.
  const first = bytes.indexOf(0xc8, HAND_HEADER.length);
  const second = bytes.indexOf(0xc8, bytes.indexOf(0x58, first + 200));
  for (const length of [0xff, 0xc9, 0x40, 0xc7]) {
    const hurt = bytes.slice();
    hurt[second] = length;
    const container = readContainer(hurt, nodeDigester);
    expect(container.tracks.map(({ cylinder }) => cylinder)).toEqual(
      expect.arrayContaining([4, 5, 6]),
    );
    expect(container.problems.map(({ kind }) => kind)).toContain('digest-mismatch');
  }
});

test('a changed byte is said, never hidden', () => {
  const bytes = write([readingOf(7, 400)]);
  bytes[bytes.length - 200] = bytes[bytes.length - 200]! ^ 1;
  expect(kinds(bytes)).toEqual(['digest-mismatch']);
});

test('without its header the readings are there', () => {
  const container = readContainer(write([readingOf(8, 30)]).subarray(5), nodeDigester);
  expect(container.readings).toBe(1);
  expect(container.problems.map(({ kind }) => kind)).toContain('header-damaged');
});

test.each([
  [new Uint8Array(0)],
  [new Uint8Array(5000)],
  [new TextEncoder().encode('a letter to the harbour master')],
])('what is no capture is called so', (bytes) => {
  expect(kinds(bytes)).toContain('not-a-capture');
});

test('damaged intervals are left out at their place, the rest is kept', () => {
  // 96, then 0 (damage), 144, then 2 s (damage), 48, then an unfinished varint.
  const flux = Uint8Array.from([0x60, 0x00, 0x90, 0x01, 0x80, 0xd8, 0xf1, 0x16, 0x30, 0x80]);
  const { ticks, count, breaks } = new IntervalBuffer().unpack(flux, 24_000_000);
  expect([...ticks.subarray(0, count)]).toEqual([96, 144, 48]);
  expect(breaks).toEqual([1, 2, 3]);
  expect(new IntervalBuffer().unpack(Uint8Array.from([0, 0x60]), 24_000_000).count).toBe(2);
});

test('in pieces of any size it reads the same as at once', () => {
  const bytes = loadVector('flux/clean-mfm-35-9x512.fsflux');
  const once = readContainer(bytes, nodeDigester);
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 64, max: 90_000 }), { minLength: 1, maxLength: 20 }),
      (sizes) => {
        const digests: string[] = [];
        const reader = new ContainerReader(
          ({ flux }) => digests.push(Buffer.from(nodeDigester.sha256(flux)).toString('hex')),
          nodeDigester,
        );
        for (let at = 0, i = 0; at < bytes.length; i++) {
          const size = sizes[i % sizes.length]!;
          reader.push(bytes.slice(at, at + size));
          at += size;
        }
        expect(reader.end()).toMatchObject({ complete: true, problems: [] });
        expect(digests).toEqual(
          once.tracks.map(({ flux }) => Buffer.from(nodeDigester.sha256(flux)).toString('hex')),
        );
      },
    ),
    { numRuns: 12 },
  );
});

test('no bytes bring it down', () => {
  const base = write([readingOf(9, 120), readingOf(10, 80)]);
  const mutation = fc.tuple(
    fc.nat(base.length - 1),
    fc.nat(255),
    fc.constantFrom('set', 'drop', 'add'),
  );
  fc.assert(
    fc.property(fc.array(mutation, { minLength: 1, maxLength: 12 }), (mutations) => {
      const bytes = [...base];
      for (const [at, value, what] of mutations) {
        if (what === 'set') bytes[at % bytes.length] = value;
        else if (what === 'drop') bytes.splice(at % bytes.length, 1);
        else bytes.splice(at % bytes.length, 0, value);
      }
      const container = readContainer(Uint8Array.from(bytes), nodeDigester);
      expect(container.tracks.length).toBe(container.readings);
    }),
    { numRuns: 400 },
  );
});
