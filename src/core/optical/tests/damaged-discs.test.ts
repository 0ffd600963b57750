/**
 * Raw images that were hurt as files are: bytes cut from them or put in between, sheets that are not
 * theirs, subheaders that lie. The discs are made independently of this code.
 */
import { nodeDigester } from '@/node/digester';
import { loadVector } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { seededRandom } from '../../bits/random';
import { alignedDisc } from '../aligned-source';
import { parseCue } from '../cue';
import { examineDisc } from '../disc';
import { checkSector, RAW_BYTES } from '../raw-sector';
import { discWithoutSheet } from '../sheet-for-disc';

const image = (name: string) => loadVector(`optical/${name}.bin`).slice();
const sheetOf = (name: string) =>
  parseCue(new TextDecoder().decode(loadVector(`optical/${name}.cue`)));

async function examined(bytes: Uint8Array, sheet = sheetOf('disc-clean')) {
  const disc = await alignedDisc(sheet, [memorySource(bytes)]);
  return examineDisc(disc, nodeDigester);
}

/** Bytes with some put in between, or, where `count` is negative, cut out. */
function shifted(bytes: Uint8Array, at: number, count: number): Uint8Array {
  const random = seededRandom(`shift/${at}/${count}`);
  const stray = Array.from({ length: Math.max(0, count) }, () => random.below(255));
  return Uint8Array.from([
    ...bytes.subarray(0, at),
    ...stray,
    ...bytes.subarray(at + Math.max(0, -count)),
  ]);
}

const lostBut = (from: number, to: number) => Array.from({ length: to - from }, (_, i) => from + i);

test.each([
  // Where, how many, and the sectors that have to be lost: a sector's bytes went, or moved within it.
  ['between two sectors', 20 * RAW_BYTES, 100, []],
  ['within a sector', 20 * RAW_BYTES + 900, 7, [20]],
  ['more than a sector', 20 * RAW_BYTES, 3000, []],
  ['at its beginning', 0, 500, []],
  ['cut between two', 20 * RAW_BYTES + 12, -5, [20]],
  ['cut from a sector', 20 * RAW_BYTES + 900, -1000, [20]],
  ['cut from three sectors', 20 * RAW_BYTES + 900, -5000, lostBut(20, 23)],
  ['cut from its beginning', 0, -1000, [0]],
])('bytes %s: the rest is in step again', async (_, at, count, lost) => {
  const bytes = shifted(image('disc-clean'), at, count);
  const report = await examined(bytes);
  expect([report.sectors, report.unrepairable, report.misaddressed]).toEqual([48, lost, []]);
  expect(report.good).toBe(48 - lost.length);
  expect(report.problems).toMatchObject([{ kind: 'sectors-out-of-step' }]);
});

test('of an image without a sheet too, and of one that is scrambled', async () => {
  for (const name of ['disc-clean', 'disc-scrambled']) {
    const whole = image(name);
    const sectors = whole.length / RAW_BYTES;
    for (const at of [0, 7, 31]) {
      const bytes = shifted(whole, at * RAW_BYTES, 333);
      const disc = (await discWithoutSheet(memorySource(bytes), name))!;
      const report = await examineDisc({ ...disc, sources: [disc.source] }, nodeDigester);
      expect([name, at, report.good, report.scrambled]).toEqual([
        name,
        at,
        sectors,
        name === 'disc-scrambled',
      ]);
    }
  }
});

test('sound behind data lies where the sheet says, also where bytes came in before it', async () => {
  const whole = await examined(image('disc-mixed'), sheetOf('disc-mixed'));
  const bytes = shifted(image('disc-mixed'), 30 * RAW_BYTES, 50);
  const report = await examined(bytes, sheetOf('disc-mixed'));
  expect(report.tracks.map(({ pcmSha256 }) => pcmSha256)).toEqual(
    whole.tracks.map(({ pcmSha256 }) => pcmSha256),
  );
  expect(report.good).toBe(41);
});

test('an image that ends within a sector keeps what is whole, and says so', async () => {
  const bytes = image('disc-clean');
  const report = await examined(bytes.subarray(0, bytes.length - 1000));
  expect([report.sectors, report.good]).toEqual([47, 47]);
  expect(report.problems).toMatchObject([
    {
      kind: 'truncated-image',
      offset: 47 * RAW_BYTES,
      said: { with: { bytes: RAW_BYTES - 1000 } },
    },
  ]);
});

test('an image of sound, and one that holds no disc, stay as they are', async () => {
  const sound = image('disc-mixed').subarray(71 * RAW_BYTES);
  const sheet = parseCue('FILE a BINARY\nTRACK 01 AUDIO\nINDEX 01 00:00:00');
  const report = await examined(sound, sheet);
  expect([report.tracks.map(({ type }) => type), report.problems]).toEqual([['AUDIO'], []]);
  expect(await discWithoutSheet(memorySource(sound), 'a')).toBeNull();
  expect(await discWithoutSheet(memorySource(new Uint8Array(0)), 'a')).toBeNull();
});

test.each([
  ['disc-clean', 'AUDIO', 'MODE1/2352', 48],
  ['disc-clean', 'MODE2/2352', 'MODE1/2352', 48],
  ['disc-mode2', 'MODE1/2352', 'MODE2/2352', 54],
  ['disc-mode2', 'AUDIO', 'MODE2/2352', 54],
] as const)('%s, whose sheet says %s, is read as %s', async (name, type, is, good) => {
  const sheet = parseCue(`FILE a BINARY\nTRACK 01 ${type}\nINDEX 01 00:00:00`);
  const report = await examined(image(name), sheet);
  expect(report).toMatchObject({
    good,
    unrepairable: [],
    tracks: [{ type: is }],
    problems: [{ kind: 'sheet-differs', said: { with: { number: 1, type, is } } }],
  });
});

describe('forms of mode 2', () => {
  const bytes = image('disc-mode2');
  const sectorAt = (lba: number) => bytes.slice(lba * RAW_BYTES, (lba + 1) * RAW_BYTES);
  const looked = Array.from({ length: 55 }, (_, lba) => ({
    lba,
    ...checkSector(sectorAt(lba), lba, 2),
  }));
  const ofForm = (form: string) =>
    looked.filter((each) => each.form === form && each.verdict === 'good').map(({ lba }) => lba);
  const FORM_1 = ofForm('mode2-form1').filter((lba) =>
    sectorAt(lba)
      .subarray(24, 2072)
      .some((byte) => byte !== 0),
  );
  /** With an EDC. */
  const FORM_2 = ofForm('mode2-form2').filter((lba) =>
    sectorAt(lba)
      .subarray(2348)
      .some((byte) => byte !== 0),
  );

  /** The sector mended, after its subheader was hurt. */
  const mended = (lba: number, hurt: (sector: Uint8Array) => void) => {
    const sector = sectorAt(lba);
    hurt(sector);
    return checkSector(sector, lba, 2);
  };
  const asItWas = (lba: number, form: string) => ({
    form,
    verdict: 'repairable',
    bytes: sectorAt(lba),
    address: lba,
  });

  test('the vector has both', () => {
    expect([FORM_1.length > 5, FORM_2.length > 2]).toEqual([true, true]);
  });

  test.each([
    ['in one copy', [18]],
    ['in the other', [22]],
    ['in both', [18, 22]],
  ])('a wrong bit %s decides nothing', (_, places) => {
    const hurt = (sector: Uint8Array) => {
      for (const at of places) sector[at]! ^= 0x20;
    };
    for (const lba of FORM_1.slice(0, 6))
      expect(mended(lba, hurt)).toEqual(asItWas(lba, 'mode2-form1'));
    for (const lba of FORM_2) expect(mended(lba, hurt)).toEqual(asItWas(lba, 'mode2-form2'));
  });

  test('one whole copy of a subheader mends the other', () => {
    for (const from of [16, 20]) {
      const hurt = (sector: Uint8Array) => void sector.fill(0xa5, from, from + 4);
      for (const lba of FORM_1.slice(0, 6))
        expect(mended(lba, hurt)).toEqual(asItWas(lba, 'mode2-form1'));
      for (const lba of FORM_2) expect(mended(lba, hurt)).toEqual(asItWas(lba, 'mode2-form2'));
    }
  });

  test('what no form makes right is lost, and stays as it is', () => {
    const random = seededRandom('mode 2');
    const hurt = (sector: Uint8Array) => {
      for (let i = 24; i < RAW_BYTES; i += 3) sector[i] = random.below(256);
    };
    for (const lba of [...FORM_1.slice(0, 6), ...FORM_2]) {
      const { verdict, bytes: left } = mended(lba, hurt);
      expect([verdict, left.length]).toEqual(['unrepairable', RAW_BYTES]);
    }
  });

  test('zeros up to the check prove nothing', () => {
    const hurt = (sector: Uint8Array) => {
      sector.fill(0, 16, 2076);
      sector.fill(0x77, 2076);
    };
    expect(mended(FORM_1[0]!, hurt).verdict).toBe('unrepairable');
  });
});
