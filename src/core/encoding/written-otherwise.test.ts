/**
 * Tracks written cell by cell by a second, slower hand after the standards (ECMA-54 and ECMA-66,
 * ECMA-78, the group codes of `docs/formats/layouts.md`): what the readers make of fields as they
 * should be, and of fields that are not.
 */
import { seededRandom } from '../bits/random';
import { perfectReading, transitionsOfCells } from '../flux/synthesis';
import type { EncodingId } from '../layout/layout';
import { encodingOf, type ReadingDecode } from '.';

const TICK_HZ = 24_000_000;
const CELL_TICKS: Record<EncodingId, number> = {
  fm: 48,
  mfm: 24,
  'gcr-4to5': 84,
  'gcr-6and2': 96,
};

/** Cells as text, of a byte's eight bits or of more. */
const bits = (value: number, count = 8) => value.toString(2).padStart(count, '0');

/** The remainder of the CRC that ECMA-78 gives, a bit at a time. */
function remainder(bytes: readonly number[]): number {
  let register = 0xffff;
  for (const bit of bytes.map((byte) => bits(byte)).join('')) {
    const isOut = (register >> 15) ^ Number(bit);
    register = (register << 1) & 0xffff;
    if (isOut) register ^= 0x1021;
  }
  return register;
}
const checked = (bytes: readonly number[]) => {
  const check = remainder(bytes);
  return [...bytes, check >> 8, check & 0xff];
};

const randomBytes = (seed: string, count: number) => {
  const random = seededRandom(seed);
  return Array.from({ length: count }, () => random.below(256));
};

/** What a reader makes of one turn of these cells. */
function decoded(encoding: EncodingId, cells: string, recovery = 'stepped' as const) {
  const turn = transitionsOfCells(Uint8Array.from(cells, Number));
  const cellTicks = CELL_TICKS[encoding];
  const place = { cylinder: 0, head: 0, pass: 0 };
  const reading = perfectReading(turn, place, cells.length * cellTicks, 1);
  return encodingOf(encoding).decode(reading, { tickHz: TICK_HZ, recovery, cellTicks });
}

const told = ({ sightings }: ReadingDecode) =>
  sightings.map(({ c, h, r, n, size, mark, dataOk, violations }) => ({
    id: [c, h, r, n],
    size,
    mark,
    dataOk,
    violations,
  }));

describe('MFM', () => {
  /** Half cells of bytes after a bit: a clock only between two zeros. */
  const mfm = (bytes: readonly number[], before = '0') => {
    let last = before;
    let cells = '';
    for (const bit of bytes.map((byte) => bits(byte)).join('')) {
      cells += (last === '0' && bit === '0' ? '1' : '0') + bit;
      last = bit;
    }
    return cells;
  };
  const A1 = '0100010010001001';
  /** Zeros, three A1h without their fifth clock, and the bytes of a field. */
  const field = (bytes: readonly number[], syncs = 3) =>
    mfm(Array(12).fill(0), '0') + A1.repeat(syncs) + mfm(bytes, '1');
  const gap = (count: number) => mfm(Array(count).fill(0x4e));
  const SYNC = [0xa1, 0xa1, 0xa1];
  const withCheck = (mark: number, body: readonly number[]) =>
    checked([...SYNC, mark, ...body]).slice(3);
  const id = (c: number, h: number, r: number, n: number) => withCheck(0xfe, [c, h, r, n]);
  const lead = gap(40);

  test('the check of the first ID field of a disk is that of the standard', () => {
    expect(id(0, 0, 1, 2).slice(-2)).toEqual([0xca, 0x6f]);
  });

  test.each([0, 1, 2, 3, 4, 5, 6])('a sector of size %i', (n) => {
    const data = randomBytes(`mfm ${n}`, 128 << n);
    const track = lead + field(id(3, 1, 9, n)) + gap(22) + field(withCheck(0xfb, data)) + gap(30);
    const found = decoded('mfm', track);
    expect(told(found)).toEqual([
      { id: [3, 1, 9, n], size: 128 << n, mark: 0xfb, dataOk: true, violations: 0 },
    ]);
    expect([...found.sightings[0]!.data!]).toEqual(data);
  });

  test.each([
    ['deleted', 0xf8, true],
    ['of another mark', 0xfa, true],
    ['deleted, of another mark', 0xf9, true],
  ])('data that are %s', (_, mark, dataOk) => {
    const data = randomBytes(`mark ${mark}`, 256);
    const track = lead + field(id(0, 0, 1, 1)) + gap(22) + field(withCheck(mark, data)) + gap(30);
    expect(told(decoded('mfm', track))).toEqual([
      { id: [0, 0, 1, 1], size: 256, mark, dataOk, violations: 0 },
    ]);
  });

  test('data whose check is wrong are given with the check as it was read', () => {
    const data = randomBytes('wrong', 128);
    const whole = withCheck(0xfb, data);
    const hurt = [...whole.slice(0, -2), 0x12, 0x34];
    const track = lead + field(id(0, 0, 1, 0)) + gap(22) + field(hurt) + gap(30);
    const { sightings } = decoded('mfm', track);
    expect(sightings.map(({ dataOk, check }) => [dataOk, check])).toEqual([[false, 0x1234]]);
    expect([...sightings[0]!.data!]).toEqual(data);
  });

  test('an ID whose check is wrong is counted, and lends its data to nobody', () => {
    const hurt = id(0, 0, 1, 0);
    hurt[2]! ^= 1;
    const data = field(withCheck(0xfb, randomBytes('stray', 128)));
    const good = field(id(0, 0, 2, 0)) + gap(22) + data + gap(30);
    const { sightings, badIds, strays } = decoded(
      'mfm',
      lead + field(hurt) + gap(22) + data + gap(30) + good,
    );
    // Each of the three syncs leads to the same field.
    expect([sightings.map(({ r }) => r), badIds.length, strays.length]).toEqual([[2], 3, 3]);
    const marksAt = badIds.map(({ syncTick, syncCells }) => syncTick + syncCells * CELL_TICKS.mfm);
    expect(new Set(marksAt).size).toBe(1);
  });

  test('an ID without a data field, and one whose data come too late', () => {
    const data = field(withCheck(0xfb, randomBytes('late', 128)));
    const track =
      lead +
      (field(id(0, 0, 1, 0)) + gap(30)) +
      (field(id(0, 0, 2, 0)) + gap(90) + data + gap(30)) +
      (field(id(0, 0, 3, 0)) + gap(22) + data + gap(30));
    const found = decoded('mfm', track);
    expect(told(found).map(({ id: [, , r], mark, dataOk }) => [r, mark, dataOk])).toEqual([
      [1, null, false],
      [2, null, false],
      [3, 0xfb, true],
    ]);
  });

  test.each([1, 2, 4, 5])('a mark behind %i syncs is found as one behind three', (syncs) => {
    const data = randomBytes('syncs', 128);
    const track =
      lead +
      field(id(0, 0, 1, 0), syncs) +
      gap(22) +
      (field(withCheck(0xfb, data), syncs) + gap(30));
    expect(told(decoded('mfm', track)).map(({ dataOk }) => dataOk)).toEqual([true]);
  });

  test('A1h with all its clocks is no mark', () => {
    const plain = mfm([...Array(12).fill(0), ...SYNC, ...id(0, 0, 1, 0)]);
    const found = decoded('mfm', lead + plain + gap(60));
    expect([found.sightings, found.badIds, found.strays]).toEqual([[], [], []]);
  });

  test('a clock too many within the data breaks the rule there, and is told', () => {
    const data = [...randomBytes('clock', 60), 0xff, 0xff, ...randomBytes('more', 66)];
    const body = withCheck(0xfb, data);
    const before = mfm(body.slice(0, 62), '1');
    // In FFh the clocks are all 0: one of them is 1 here, and no bit of data is another.
    const broken = '11' + mfm([0xff], '1').slice(2);
    const cells =
      mfm(Array(12).fill(0)) + A1.repeat(3) + before + broken + mfm(body.slice(63), '1');
    const found = decoded('mfm', lead + field(id(0, 0, 1, 0)) + gap(22) + cells + gap(30));
    expect(told(found).map(({ mark, violations }) => [mark, violations > 0])).toEqual([
      [0xfb, true],
    ]);
  });

  test('a field that the reading ends in is given as far as it goes', () => {
    const data = randomBytes('cut', 512);
    const whole = field(id(0, 0, 1, 2)) + gap(22) + field(withCheck(0xfb, data));
    const { sightings } = decoded('mfm', lead + whole.slice(0, -3200));
    expect(sightings.map(({ dataOk, check }) => [dataOk, check])).toEqual([[false, -1]]);
    const there = [...sightings[0]!.data!];
    expect(there.length).toBeGreaterThan(280);
    expect(there.slice(0, 280)).toEqual(data.slice(0, 280));
  });
});

describe('FM', () => {
  const fm = (byte: number, clocks = 0xff) =>
    [...bits(byte)].map((bit, i) => bits(clocks)[i]! + bit).join('');
  const all = (bytes: readonly number[]) => bytes.map((byte) => fm(byte)).join('');
  const field = (bytes: readonly number[]) =>
    all(Array(6).fill(0)) + fm(bytes[0]!, 0xc7) + all(bytes.slice(1));
  const gap = (count: number) => all(Array(count).fill(0xff));

  test('marks have the clocks of the standard', () => {
    const hex = (cells: string) => parseInt(cells, 2).toString(16);
    expect([0xfe, 0xfb, 0xf8].map((mark) => hex(fm(mark, 0xc7)))).toEqual(['f57e', 'f56f', 'f56a']);
    expect(hex(fm(0xfc, 0xd7))).toBe('f77a');
  });

  test.each([
    [0, 0xfb, true],
    [0, 0xf8, true],
    [1, 0xfb, true],
    [2, 0xfb, true],
  ])('a sector of size %i with mark %i', (n, mark, dataOk) => {
    const data = randomBytes(`fm ${n} ${mark}`, 128 << n);
    const id = checked([0xfe, 7, 0, 26, n]);
    const track = gap(40) + field(id) + gap(11) + field(checked([mark, ...data])) + gap(27);
    const found = decoded('fm', track);
    expect(told(found)).toEqual([
      { id: [7, 0, 26, n], size: 128 << n, mark, dataOk, violations: 0 },
    ]);
    expect([...found.sightings[0]!.data!]).toEqual(data);
  });

  test('an index mark is no sector, and a mark with all its clocks is none', () => {
    const index = all(Array(6).fill(0)) + fm(0xfc, 0xd7);
    const plain = all([...Array(6).fill(0), ...checked([0xfe, 0, 0, 1, 0])]);
    const found = decoded('fm', gap(40) + index + gap(26) + plain + gap(40));
    expect([found.sightings, found.badIds]).toEqual([[], []]);
  });
});

describe('the 4-to-5 group code', () => {
  const GROUPS =
    '01010 01011 10010 10011 01110 01111 10110 10111 01001 11001 11010 11011 01101 11101 11110 10101'.split(
      ' ',
    );
  const coded = (bytes: readonly number[]) =>
    bytes.map((byte) => GROUPS[byte >> 4]! + GROUPS[byte & 15]!).join('');
  const SYNC = '1'.repeat(40);
  const gap = (count: number) => bits(0x55).repeat(count);
  const xor = (bytes: readonly number[]) => bytes.reduce((sum, byte) => sum ^ byte, 0);
  const header = (c: number, r: number, id: readonly [number, number], check?: number) =>
    SYNC + coded([0x08, check ?? xor([r, c, ...id]), r, c, ...id, 0x0f, 0x0f]);
  const block = (data: readonly number[], check = xor(data)) =>
    SYNC + coded([0x07, ...data, check, 0, 0]);

  test('a sector with the two bytes of its disk', () => {
    const data = randomBytes('4to5', 256);
    const found = decoded(
      'gcr-4to5',
      gap(8) + header(18, 3, [0x41, 0x42]) + gap(9) + block(data) + gap(20),
    );
    expect(told(found)).toEqual([
      { id: [18, null, 3, null], size: 256, mark: 7, dataOk: true, violations: 0 },
    ]);
    // Behind the track the second byte of the disk's name stands first.
    expect(found.sightings[0]!.idExtra).toEqual({ id2: 0x41, id1: 0x42 });
    expect([found.sightings[0]!.intact, [...found.sightings[0]!.data!]]).toEqual([true, data]);
  });

  test('a wrong check of a header, and one of a block', () => {
    const data = randomBytes('checks', 256);
    const hurt = gap(8) + header(1, 0, [0x30, 0x30], 0x7e) + gap(9) + block(data) + gap(8);
    const found = decoded(
      'gcr-4to5',
      hurt + header(1, 1, [0x30, 0x30]) + gap(9) + block(data, 0xee ^ xor(data)) + gap(20),
    );
    expect(found.badIds).toHaveLength(1);
    expect(told(found).map(({ id: [, , r], dataOk }) => [r, dataOk])).toEqual([[1, false]]);
  });

  test('five cells that stand for no nibble are told', () => {
    const data = randomBytes('group', 256);
    const cells = block(data);
    // The second byte of the data: 00h and its like are no code at all in these ten cells.
    const at = 40 + 20;
    const hurt = cells.slice(0, at) + '1111111111' + cells.slice(at + 10);
    const found = decoded(
      'gcr-4to5',
      gap(8) + header(1, 1, [0x30, 0x30]) + gap(9) + hurt + gap(20),
    );
    expect(found.sightings.some(({ dataOk, violations }) => dataOk && violations === 0)).toBe(
      false,
    );
  });
});

describe('the 6-and-2 group code', () => {
  /** Bytes with their top bit set, two ones in a row somewhere but the top pair, no two pairs of 0. */
  const BYTES = Array.from({ length: 256 }, (_, byte) => byte).filter((byte) => {
    const text = bits(byte);
    const hasPair = /11/.test(text.slice(1));
    return (
      text[0] === '1' &&
      hasPair &&
      !/000/.test(text) &&
      (text.match(/(?=00)/g) ?? []).length < 2 &&
      byte !== 0xaa &&
      byte !== 0xd5
    );
  });
  const SELF_SYNC = '1111111100';
  const odd = (value: number) => [(value >> 1) | 0xaa, value | 0xaa];
  const raw = (bytes: readonly number[]) => bytes.map((byte) => bits(byte)).join('');
  const address = (volume: number, c: number, r: number, check = volume ^ c ^ r) =>
    raw([0xd5, 0xaa, 0x96, ...[volume, c, r, check].flatMap(odd), 0xde, 0xaa, 0xeb]);
  const swapped = (two: number) => ((two & 1) << 1) | (two >> 1);
  const valuesOf = (data: readonly number[]) => {
    const low = Array.from({ length: 86 }, (_, i) =>
      [i, i + 86, i + 172].reduce(
        (sum, at, part) => sum | (swapped((data[at] ?? 0) & 3) << (2 * part)),
        0,
      ),
    );
    return [...low, ...data.map((byte) => byte >> 2)];
  };
  const field = (values: readonly number[], check = values.at(-1)!) => {
    const differences = values.map((value, i) => value ^ (i > 0 ? values[i - 1]! : 0));
    return raw([
      ...[0xd5, 0xaa, 0xad],
      ...[...differences, check].map((value) => BYTES[value]!),
      ...[0xde, 0xaa, 0xeb],
    ]);
  };
  const track = (...fields: string[]) =>
    SELF_SYNC.repeat(20) + fields.map((each) => each + SELF_SYNC.repeat(8)).join('');

  test('its bytes are those that the rule leaves', () => {
    expect([BYTES.length, BYTES[0], BYTES.at(-1)]).toEqual([64, 0x96, 0xff]);
  });

  test('a sector with the number of its volume', () => {
    const data = randomBytes('6and2', 256);
    const found = decoded('gcr-6and2', track(address(254, 17, 5), field(valuesOf(data))));
    expect(told(found)).toEqual([
      { id: [17, null, 5, null], size: 256, mark: 0xad, dataOk: true, violations: 0 },
    ]);
    const [{ idExtra, intact, data: read }] = found.sightings as [(typeof found.sightings)[0]];
    expect([idExtra, intact, [...read!]]).toEqual([{ volume: 254 }, true, data]);
  });

  test('a wrong check of an address, and one of the data', () => {
    const values = valuesOf(randomBytes('sum', 256));
    const found = decoded(
      'gcr-6and2',
      track(address(1, 2, 3, 9), field(values), address(1, 2, 4), field(values, values[0]! ^ 63)),
    );
    expect(found.badIds).toHaveLength(1);
    expect(told(found).map(({ id: [, , r], dataOk }) => [r, dataOk])).toEqual([[4, false]]);
  });

  test('a byte that is no disk byte breaks the rule, and what ends the field may be missing', () => {
    const values = valuesOf(randomBytes('rule', 256));
    const cells = field(values);
    const at = 24 + 8 * 100;
    const broken = cells.slice(0, at) + bits(0xaa) + cells.slice(at + 8);
    const headless = `${cells.slice(0, -24)}${raw([0xff, 0xff, 0xff])}`;
    const found = decoded('gcr-6and2', track(address(1, 2, 3), broken, address(1, 2, 4), headless));
    const told = found.sightings.map(({ r, violations, dataOk, intact }) => ({
      r,
      isBroken: violations > 0,
      dataOk,
      intact,
    }));
    expect(told).toEqual([
      { r: 3, isBroken: true, dataOk: false, intact: true },
      { r: 4, isBroken: false, dataOk: true, intact: false },
    ]);
  });
});
