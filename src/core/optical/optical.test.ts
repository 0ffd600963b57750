/**
 * Raw discs made independently of this code: what is good, mended and lost; and damage of our own,
 * which is never called mended when it is not.
 */
import fc from 'fast-check';
import { nodeDigester } from '@/node/digester';
import { loadExpectation, loadVector, sha256Hex } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { cueText, parseCue } from './cue';
import { examineDisc, userSource } from './disc';
import { hasPreEmphasis, tracksOf } from './disc-tracks';
import { discWithoutSheet, sheetText } from './sheet-for-disc';
import { edc } from './edc';
import { parityHolds } from './ecc';
import { checkSector, makeMode1, RAW_BYTES, USER_BYTES } from './raw-sector';
import { scramble } from './scramble';

interface Expectation {
  sectors: number;
  mode: string;
  good: number;
  repairable: number[];
  unrepairable: number[];
  userSha256: string;
  userSha256WithoutFlags?: string;
  scrambled?: boolean;
  tracks: {
    number: number;
    type: string;
    startLba: number;
    sectors: number;
    fileSector?: number;
    pregapSectors?: number;
    pcmSha256?: string;
  }[];
  damaged?: { lba: number; userSha256: string | null; rawSha256: string | null }[];
}

const discOf = (name: string) => ({
  sheet: parseCue(new TextDecoder().decode(loadVector(`optical/${name}.cue`))),
  sources: [memorySource(loadVector(`optical/${name}.bin`))],
});

test.each([
  'disc-clean',
  'disc-edges',
  'disc-flags',
  'disc-light',
  'disc-mixed',
  'disc-mode2',
  'disc-scrambled',
])('%s', async (name) => {
  const expected = loadExpectation<Expectation>(`optical/${name}`);
  const flags = name === 'disc-flags' ? memorySource(loadVector('optical/disc-flags.flags')) : null;
  const report = await examineDisc({ ...discOf(name), flags }, nodeDigester);
  expect(report).toMatchObject({
    sectors: expected.sectors,
    mode: expected.mode,
    good: expected.good,
    repairable: expected.repairable,
    unrepairable: expected.unrepairable,
    userSha256: expected.userSha256,
    scrambled: expected.scrambled ?? false,
    misaddressed: [],
    problems: [],
  });
  expect(report.tracks).toMatchObject(expected.tracks);
  expect(report.repaired).toEqual(
    expected.repairable.map((lba) => ({
      lba,
      userSha256: expected.damaged!.find((each) => each.lba === lba)!.userSha256,
    })),
  );
});

test('without its flags a disc that needs them is lost where it is, and nothing is made up', async () => {
  const expected = loadExpectation<Expectation>('optical/disc-flags');
  expect(await examineDisc(discOf('disc-flags'), nodeDigester)).toMatchObject({
    repairable: [],
    unrepairable: expected.repairable,
    userSha256: expected.userSha256WithoutFlags,
  });
});

test('a mended sector is the one that was recorded, to its last byte', () => {
  for (const name of ['disc-edges', 'disc-light']) {
    const bytes = loadVector(`optical/${name}.bin`);
    for (const { lba, rawSha256 } of loadExpectation<Expectation>(`optical/${name}`).damaged!)
      if (rawSha256)
        expect(
          sha256Hex(
            checkSector(bytes.subarray(lba * RAW_BYTES, (lba + 1) * RAW_BYTES), lba, 1).bytes,
          ),
        ).toBe(rawSha256);
  }
});

test('the scrambler begins as the standard says, and is its own inverse', () => {
  const sector = new Uint8Array(RAW_BYTES);
  scramble(sector);
  expect([...sector.subarray(12, 16)]).toEqual([0x01, 0x80, 0x00, 0x60]);
  scramble(sector);
  expect(sector.every((byte) => byte === 0)).toBe(true);
});

const sector = (seed: number, lba: number) =>
  makeMode1(
    Uint8Array.from({ length: 2048 }, (_, i) => (i * seed + (i >> 3)) & 0xff),
    lba,
  );

test('a sector is made as the vectors have it', () => {
  const bytes = loadVector('optical/disc-clean.bin');
  for (let lba = 0; lba < 48; lba++) {
    const recorded = bytes.subarray(lba * RAW_BYTES, (lba + 1) * RAW_BYTES);
    expect(Buffer.compare(makeMode1(recorded.subarray(16, 2064), lba), recorded)).toBe(0);
  }
});

test('whatever is done to a sector, it comes back as it was, or is lost', () =>
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 250 }),
      fc.array(
        fc.record({
          at: fc.integer({ min: 0, max: RAW_BYTES - 1 }),
          length: fc.integer({ min: 1, max: 120 }),
          value: fc.integer({ min: 1, max: 255 }),
        }),
        { minLength: 0, maxLength: 6 },
      ),
      fc.boolean(),
      (seed, hurts, told) => {
        const whole = sector(seed, 1234);
        const hurt = whole.slice();
        const flags = new Uint8Array(RAW_BYTES);
        for (const { at, length, value } of hurts)
          for (let i = at; i < Math.min(RAW_BYTES, at + length); i++) {
            hurt[i]! ^= value;
            flags[i] = 1;
          }
        const { verdict, bytes } = checkSector(hurt, 1234, 1, told ? flags : null);
        if (verdict === 'unrepairable') expect(Buffer.compare(bytes, hurt)).toBe(0);
        else expect(Buffer.compare(bytes, whole)).toBe(0);
        if (hurts.length === 0) expect(verdict).toBe('good');
        // Single bytes are within what the code promises.
        if (hurts.length === 1 && hurts[0]!.length <= 60 && hurts[0]!.at >= 16)
          expect(verdict).not.toBe('unrepairable');
      },
    ),
    { numRuns: 400 },
  ));

test('zeros that pass every check of their own are believed only by a header that is right for its place', () => {
  const zeros = new Uint8Array(RAW_BYTES);
  expect(checkSector(zeros, 5, 2).verdict).toBe('unrepairable');
  const headed = sector(1, 5);
  headed.fill(0, 16);
  headed[15] = 2;
  expect([checkSector(headed, 5, 2).verdict, checkSector(headed, 6, 2).verdict]).toEqual([
    'good',
    'unrepairable',
  ]);
});

test('a whole sector in the wrong place is good, and its address is told', async () => {
  const bytes = new Uint8Array(4 * RAW_BYTES);
  for (let i = 0; i < 4; i++) bytes.set(sector(3, i === 2 ? 40 : i), i * RAW_BYTES);
  const source = memorySource(bytes);
  expect(
    await examineDisc(
      { sheet: (await discWithoutSheet(source, 'x'))!.sheet, sources: [source] },
      nodeDigester,
    ),
  ).toMatchObject({ good: 4, misaddressed: [2] });
});

test('cue sheets: several files, gaps that no file holds, and what makes no sense', () => {
  const sheet = parseCue(
    'FILE "a.bin" BINARY\r\n TRACK 01 MODE1/2352\r\n INDEX 01 00:00:00\r\nFILE b.wav WAVE\r\n TRACK 02 AUDIO\r\n PREGAP 00:02:00\r\n INDEX 01 00:00:00\r\n TRACK 03 AUDIO\r\n INDEX 00 00:01:00\r\n INDEX 01 00:01:10\r\n POSTGAP 00:00:05',
  );
  expect(sheet.problems).toEqual([]);
  expect(
    tracksOf(sheet, [100 * RAW_BYTES, 200 * RAW_BYTES]).tracks.map(
      ({ startLba, sectors, file, fileSector, pregapSectors }) => [
        startLba,
        sectors,
        file,
        fileSector,
        pregapSectors,
      ],
    ),
  ).toEqual([
    [0, 100, 0, 0, 0],
    [250, 75, 1, 0, 150],
    [335, 115, 1, 85, 10],
  ]);
  expect(
    parseCue('TRACK 01 AUDIO\nINDEX 01 99:99:99\nFILE x TAPE\nTRACK 500 AUDIO').problems,
  ).toHaveLength(4);
  expect(
    tracksOf(parseCue('FILE a BINARY\nTRACK 01 AUDIO\nINDEX 01 10:00:00'), [0]).problems,
  ).toMatchObject([{ kind: 'truncated-image' }]);
});

test('flags of tracks: known ones in any case, pre-emphasis of sound alone, kept by a sheet', () => {
  const text =
    'FILE a BINARY\nFLAGS PRE\nTRACK 01 MODE1/2352\nFLAGS PRE\nINDEX 01 00:00:00\nTRACK 02 AUDIO\nFLAGS pre ODD DCP\nINDEX 01 00:00:10\nTRACK 03 AUDIO\nINDEX 01 00:00:20\n';
  const sheet = parseCue(text);
  expect(sheet.problems).toEqual([]);
  const { tracks } = tracksOf(sheet, [30 * RAW_BYTES]);
  expect(tracks.map(({ flags }) => flags)).toEqual([['PRE'], ['DCP', 'PRE'], undefined]);
  expect(tracks.map(hasPreEmphasis)).toEqual([false, true, false]);
  const again = tracksOf(parseCue(sheetText('b.bin', tracks)), [30 * RAW_BYTES]);
  expect(again.tracks).toEqual(tracks);
});

test('user data of a raw track read at any place', async () => {
  const { sheet, sources } = discOf('disc-light');
  const {
    tracks: [track],
  } = tracksOf(
    sheet,
    sources.map(({ size }) => size),
  );
  const source = userSource(sources[0]!, track!, false);
  const all = await source.read(0, source.size);
  expect(all.subarray(43 * 2048, 44 * 2048).every((byte) => byte === 0)).toBe(true);
  for (const [from, length] of [
    [0, 10],
    [2040, 20],
    [32 * 2048 + 5, 5000],
    [source.size - 3, 10],
    [source.size + 5, 5],
  ] as const)
    expect(Buffer.compare(await source.read(from, length), all.subarray(from, from + length))).toBe(
      0,
    );
  expect(USER_BYTES.mode1).toEqual([16, 2064]);
});

test('the check itself', () => {
  // Of one byte the code is the table's own entry, by the polynomial written backwards.
  expect(edc(Uint8Array.of(0x80), 0, 1)).toBe(0xd8018001 >>> 0);
  expect([edc(new Uint8Array(40), 0, 40), parityHolds(sector(9, 0))]).toEqual([0, true]);
});

test('a cue sheet that is written reads back as it was', () => {
  const tracks = [
    { number: 1, type: 'MODE1/2352' as const, start: 0, pregapStart: null },
    { number: 2, type: 'AUDIO' as const, start: 12_345, pregapStart: 12_195 },
  ];
  const sheet = parseCue(cueText('SKP-0111 "x".bin', tracks));
  expect(sheet.problems).toEqual([]);
  expect(sheet.files).toEqual([{ name: 'SKP-0111 _x_.bin', type: 'BINARY' }]);
  expect(
    sheet.tracks.map(({ number, type, start, pregapStart }) => ({
      number,
      type,
      start,
      pregapStart,
    })),
  ).toEqual(tracks);
});

test('the sheet of tracks gives them their places again: a pregap in the file, silence that no file holds', () => {
  const text =
    'FILE "a.bin" BINARY\nTRACK 01 MODE1/2352\nINDEX 01 00:00:00\nPOSTGAP 00:01:00\nTRACK 02 AUDIO\nPREGAP 00:02:00\nINDEX 01 00:04:00\nTRACK 03 AUDIO\nINDEX 00 00:08:00\nINDEX 01 00:10:00\n';
  const sizes = [1000 * RAW_BYTES];
  const places = ({
    number,
    type,
    startLba,
    sectors,
    fileSector,
  }: ReturnType<typeof tracksOf>['tracks'][number]) => [
    number,
    type,
    startLba,
    sectors,
    fileSector,
  ];
  const { tracks } = tracksOf(parseCue(text), sizes);
  expect(tracks.map(places)).toEqual([
    [1, 'MODE1/2352', 0, 300, 0],
    [2, 'AUDIO', 525, 300, 300],
    [3, 'AUDIO', 975, 250, 750],
  ]);
  const written = parseCue(sheetText('b.bin', tracks));
  expect(written.problems).toEqual([]);
  expect(tracksOf(written, sizes).tracks.map(places)).toEqual(tracks.map(places));
  expect(written.tracks.map(({ pregap, pregapStart }) => [pregap, pregapStart])).toEqual([
    [0, null],
    [225, null],
    [0, 600],
  ]);
});
