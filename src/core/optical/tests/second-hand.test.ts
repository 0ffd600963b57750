/**
 * Sectors made by a second hand after ECMA-130 (clause 14 and annexes A and B): checks a bit at a
 * time, parity by solving its two equations for each word. What is mended must be what was made.
 */
import fc from 'fast-check';
import { seededRandom } from '../../bits/random';
import { checkSector, makeMode1, RAW_BYTES } from '../raw-sector';

const times2 = (value: number) => ((value << 1) ^ (value & 0x80 ? 0x11d : 0)) & 0xff;

function times(a: number, b: number): number {
  let product = 0;
  for (let factor = a, rest = b; rest > 0; rest >>= 1, factor = times2(factor))
    if (rest & 1) product ^= factor;
  return product;
}
const inverse = (value: number) =>
  Array.from({ length: 256 }, (_, each) => each).find((each) => times(value, each) === 1)!;
const BY_ONE_AND_ALPHA = inverse(3);

/** The two values behind others that make both sums of a word zero: plain, and by powers of α. */
function parityOf(values: readonly number[]): [number, number] {
  let [plain, weighted] = [0, 0];
  for (const value of values) {
    plain ^= value;
    weighted = times2(weighted) ^ value;
  }
  // Two more places stand behind the last value.
  weighted = times2(times2(weighted));
  const first = times(plain ^ weighted, BY_ONE_AND_ALPHA);
  return [first, plain ^ first];
}

/** Bytes 12 to 2,351 are words of two bytes: low ones and high ones are checked apart. */
const byteOf = (word: number, half: number) => 12 + 2 * word + half;
const upTo = (count: number) => Array.from({ length: count }, (_, i) => i);

function setParity(sector: Uint8Array): void {
  const put = (half: number, words: readonly number[], places: readonly number[]) => {
    const parity = parityOf(words.map((word) => sector[byteOf(word, half)]!));
    for (const [i, word] of places.entries()) sector[byteOf(word, half)] = parity[i]!;
  };
  for (const half of [0, 1]) {
    for (const column of upTo(43))
      put(
        half,
        upTo(24).map((row) => column + 43 * row),
        [column + 43 * 24, column + 43 * 25],
      );
    for (const diagonal of upTo(26))
      put(
        half,
        upTo(43).map((step) => (44 * step + 43 * diagonal) % 1118),
        [1118 + diagonal, 1144 + diagonal],
      );
  }
}

/** The remainder of the standard's polynomial, lowest bit first. */
function edcOf(bytes: Uint8Array): number[] {
  let register = 0;
  for (const byte of bytes) {
    register ^= byte;
    for (let bit = 0; bit < 8; bit++) register = (register >>> 1) ^ (register & 1 ? 0xd8018001 : 0);
  }
  return [0, 8, 16, 24].map((shift) => (register >>> shift) & 0xff);
}

const bcd = (value: number) => (Math.floor(value / 10) << 4) | (value % 10);
function headed(lba: number, mode: number): Uint8Array {
  const sector = new Uint8Array(RAW_BYTES);
  sector.fill(0xff, 1, 11);
  const frames = lba + 150;
  const address = [Math.floor(frames / 4500), Math.floor(frames / 75) % 60, frames % 75];
  sector.set([...address.map(bcd), mode], 12);
  return sector;
}
const noise = (seed: string, count: number) => {
  const random = seededRandom(seed);
  return Uint8Array.from({ length: count }, () => random.below(256));
};

function mode1(seed: string, lba: number): Uint8Array {
  const sector = headed(lba, 1);
  sector.set(noise(seed, 2048), 16);
  sector.set(edcOf(sector.subarray(0, 2064)), 2064);
  setParity(sector);
  return sector;
}

function mode2(seed: string, lba: number, form: 1 | 2): Uint8Array {
  const sector = headed(lba, 2);
  const submode = form === 2 ? 0x28 : 0x08;
  for (const at of [16, 20]) sector.set([1, 0, submode, 0], at);
  const end = form === 1 ? 2072 : 2348;
  sector.set(noise(seed, end - 24), 24);
  sector.set(edcOf(sector.subarray(16, end)), end);
  if (form === 2) return sector;
  // The parity takes the header as zero.
  const header = sector.slice(12, 16);
  sector.fill(0, 12, 16);
  setParity(sector);
  sector.set(header, 12);
  return sector;
}

const MAKERS = {
  mode1: (seed: string, lba: number) => mode1(seed, lba),
  'mode2-form1': (seed: string, lba: number) => mode2(seed, lba, 1),
  'mode2-form2': (seed: string, lba: number) => mode2(seed, lba, 2),
} as const;
type Form = keyof typeof MAKERS;
const FORMS = Object.keys(MAKERS) as Form[];
const modeOf = (form: Form) => (form === 'mode1' ? 1 : 2);
const checked = (form: Form, sector: Uint8Array, lba: number) =>
  checkSector(sector, lba, modeOf(form));

test.each([0, 1, 149, 4499, 333_333])(
  'at %i a sector of mode 1 is made as the second hand makes it',
  (lba) => {
    const wanted = mode1(`lba ${lba}`, lba);
    expect(Buffer.compare(makeMode1(wanted.slice(16, 2064), lba), wanted)).toBe(0);
  },
);

test.each(FORMS)('%s: as it was made it is good, and tells its place', (form) => {
  const sector = MAKERS[form]('whole', 7042);
  expect(checked(form, sector, 7042)).toMatchObject({ form, verdict: 'good', address: 7042 });
  // In another place it is as good, and still tells its own.
  expect(checked(form, sector, 9)).toMatchObject({ verdict: 'good', address: 7042 });
});

test.each(['mode1', 'mode2-form1'] as const)(
  '%s: whatever a scratch of 86 bytes did is put right, to the last byte',
  (form) =>
    fc.assert(
      fc.property(fc.integer({ min: 16, max: RAW_BYTES - 86 }), fc.string(), (from, seed) => {
        const made = MAKERS[form](seed, 100);
        const hurt = made.slice();
        hurt.set(noise(`${seed} hurt`, 86), from);
        const { verdict, bytes } = checked(form, hurt, 100);
        expect(verdict).toBe('repairable');
        expect(Buffer.compare(bytes, made)).toBe(0);
      }),
      { numRuns: 25 },
    ),
);

/** Without its subheader nothing tells that a sector of mode 2 is of form 2. */
const FIRST_HURT: Record<Form, number> = { mode1: 12, 'mode2-form1': 12, 'mode2-form2': 24 };

test.each(FORMS)('%s: scattered damage is put right or told, and nothing is made up', (form) =>
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: FIRST_HURT[form], max: RAW_BYTES - 1 }), {
        minLength: 1,
        maxLength: 260,
      }),
      (places) => {
        const made = MAKERS[form]('scattered', 100);
        const hurt = made.slice();
        for (const at of places) hurt[at]! ^= 1 + (at % 255);
        const { verdict, bytes, form: found } = checked(form, hurt, 100);
        if (verdict === 'unrepairable') return;
        expect(found).toBe(form);
        expect(Buffer.compare(bytes.subarray(16), made.subarray(16))).toBe(0);
      },
    ),
    { numRuns: 60 },
  ),
);

test.each(['mode2-form1', 'mode2-form2'] as const)(
  '%s: a header that nothing protects is put right by the place',
  (form) => {
    const made = MAKERS[form]('header', 2024);
    const hurt = made.slice();
    hurt.set([0xaa, 0xbb, 0xcc, 0x07], 12);
    const { verdict, bytes, address } = checked(form, hurt, 2024);
    expect([verdict, address]).toEqual(['repairable', 2024]);
    expect(Buffer.compare(bytes, made)).toBe(0);
  },
);

test('of form 2 each byte of the subheader is had from whichever copy has it', () => {
  const made = MAKERS['mode2-form2']('mixed', 77);
  for (const copies of upTo(16)) {
    const hurt = made.slice();
    for (const i of upTo(4)) hurt[16 + i + ((copies >> i) & 1 ? 4 : 0)]! ^= 0x81;
    const { form, verdict, bytes } = checked('mode2-form2', hurt, 77);
    expect([copies, form, verdict]).toEqual([copies, 'mode2-form2', 'repairable']);
    expect(Buffer.compare(bytes, made)).toBe(0);
  }
});

test('of form 2 one copy of the subheader may be gone, and data that are hurt can’t be mended', () => {
  const made = MAKERS['mode2-form2']('copies', 5);
  for (const at of [16, 20]) {
    const hurt = made.slice();
    hurt.fill(0x55, at, at + 4);
    const { verdict, bytes } = checked('mode2-form2', hurt, 5);
    expect(verdict).toBe('repairable');
    expect(Buffer.compare(bytes, made)).toBe(0);
  }
  const hurt = made.slice();
  hurt[1000]! ^= 1;
  expect(checked('mode2-form2', hurt, 5).verdict).toBe('unrepairable');
});
