/**
 * Several readings of a disc put together: what none of them gives alone comes back as it was
 * recorded, and nothing is ever called mended that is not.
 */
import fc from 'fast-check';
import { nodeDigester } from '@/node/digester';
import { loadExpectation, loadVector } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { seededRandom } from '../../bits/random';
import { parseCue } from '../cue';
import { examineDisc, userSource } from '../disc';
import { tracksOf } from '../disc-tracks';
import { edc, setEdc } from '../edc';
import { EarlierReadings } from '../earlier-readings';
import { FLAG_BYTES, placeReading } from '../other-readings';
import { RAW_BYTES, checkSector, makeMode1 } from '../raw-sector';
import { checkReadings, voteOn, type SectorReading } from '../readings-together';
import { scramble } from '../scramble';

const LBA = 1234;

function recorded(seed: string, lba = LBA): Uint8Array {
  const random = seededRandom(seed);
  return makeMode1(
    Uint8Array.from({ length: 2048 }, () => random.below(256)),
    lba,
  );
}

/** A reading in which `share` of the bytes is wrong, in places of its own. */
function hurt(whole: Uint8Array, seed: string, share: number): SectorReading {
  const random = seededRandom(seed);
  const bytes = whole.map((byte) =>
    random.next() < share ? byte ^ (1 + random.below(255)) : byte,
  );
  return { bytes, flags: null };
}

const isLost = ({ bytes, flags }: SectorReading) =>
  checkSector(bytes, LBA, 1, flags).verdict === 'unrepairable';

test('byte by byte: what most have, what is contradicted, what nothing decides', () => {
  const whole = recorded('vote');
  const [one, two, three] = [0, 0, 0].map(() => whole.slice()) as [
    Uint8Array,
    Uint8Array,
    Uint8Array,
  ];
  one[100]! ^= 1;
  one[200]! ^= 1;
  two[200]! ^= 2;
  const flags = new Uint8Array(RAW_BYTES);
  flags[200] = 1;
  const vote = voteOn([
    { bytes: one, flags: null },
    { bytes: two, flags },
    { bytes: three, flags: null },
  ]);
  expect([vote.bytes[100], vote.contradicted[100], vote.undecided[100]]).toEqual([
    whole[100],
    1,
    0,
  ]);
  // One of those that are trusted has one thing, the other another: the first, and not decided.
  expect([vote.bytes[200], vote.contradicted[200], vote.undecided[200]]).toEqual([one[200], 1, 1]);
  expect([vote.bytes[300], vote.contradicted[300], vote.undecided[300]]).toEqual([
    whole[300],
    0,
    0,
  ]);
});

test('a byte that every reading distrusts is decided by none', () => {
  const flags = new Uint8Array(RAW_BYTES).fill(1);
  const vote = voteOn([0, 1].map(() => ({ bytes: recorded('all'), flags })));
  expect(vote.contradicted.every((each) => each === 1)).toBe(true);
  expect(vote.bytes).toEqual(recorded('all'));
});

test.each([
  ['two, where they differ', 2, 0.03],
  ['three, by what most have', 3, 0.05],
  ['five, by what most have', 5, 0.12],
])('of %s, sectors come back that each alone loses', (_, count, share) => {
  let back = 0;
  for (let i = 0; i < 20; i++) {
    const whole = recorded(`come back ${i}`);
    const tried = Array.from({ length: 20 }, (_unused, at) => hurt(whole, `${i} ${at}`, share));
    const readings = tried.filter(isLost).slice(0, count);
    expect(readings).toHaveLength(count);
    const { verdict, bytes } = checkReadings(readings, LBA, 1);
    if (verdict !== 'repairable') continue;
    expect(Buffer.compare(bytes, whole)).toBe(0);
    back++;
  }
  expect(back).toBeGreaterThan(16);
});

test('whatever the readings are, the sector comes back as it was recorded, or is lost', () =>
  fc.assert(
    fc.property(
      fc.string({ maxLength: 6 }),
      fc.array(fc.double({ min: 0, max: 0.4, noNaN: true }), { minLength: 1, maxLength: 4 }),
      (seed, shares) => {
        const whole = recorded(seed);
        const readings = shares.map((share, at) => hurt(whole, `${seed} ${at}`, share));
        const kept = readings[0]!.bytes.slice();
        const { verdict, bytes } = checkReadings(readings, LBA, 1);
        expect(Buffer.compare(bytes, verdict === 'unrepairable' ? kept : whole)).toBe(0);
        expect(Buffer.compare(readings[0]!.bytes, kept)).toBe(0);
      },
    ),
    { numRuns: 120 },
  ));

test('a whole sector of another place, or of another disc, is not taken for this one', () => {
  const lost = hurt(recorded('here'), 'lost', 0.3);
  const elsewhere = { bytes: recorded('elsewhere', LBA + 1), flags: null };
  expect(checkReadings([lost, elsewhere], LBA, 1).verdict).toBe('unrepairable');
  const here = { bytes: recorded('here'), flags: null };
  expect(checkReadings([lost, elsewhere, here], LBA, 1)).toMatchObject({
    verdict: 'repairable',
    bytes: here.bytes,
    address: LBA,
  });
  // What is right by itself stays, whatever another says.
  expect(checkReadings([here, { bytes: recorded('other'), flags: null }], LBA, 1)).toMatchObject({
    verdict: 'good',
    bytes: here.bytes,
  });
});

test('a sector without an EDC is put together by no vote, and one with it is', () => {
  const form2 = (recordedEdc: number) => {
    const bytes = recorded('form 2').slice();
    bytes[15] = 2;
    bytes.set([0, 0, 0x20, 0, 0, 0, 0x20, 0], 16);
    setEdc(bytes, 2348, recordedEdc === 0 ? 0 : edc(bytes, 16, 2348));
    return bytes;
  };
  for (const recordedEdc of [0, 1]) {
    const whole = form2(recordedEdc);
    // Each lost by its sync, and wrong in a place of its own: two of three have every byte right.
    const readings = [0, 1, 2].map((at) => {
      const bytes = whole.slice();
      bytes[1 + at]! ^= 0xff;
      bytes[600 + at]! ^= 0xff;
      return { bytes, flags: null };
    });
    const { verdict } = checkReadings(readings, LBA, 2);
    expect([recordedEdc, verdict]).toEqual([
      recordedEdc,
      recordedEdc === 0 ? 'unrepairable' : 'repairable',
    ]);
  }
});

describe('what a drive gave before', () => {
  test('is put together with what it gives now, and forgotten once the sector is whole', () => {
    const whole = recorded('before');
    const earlier = new EarlierReadings();
    const read = (at: number) => earlier.check(hurt(whole, `before ${at}`, 0.05), LBA, 1);
    expect([read(0).verdict, read(1).verdict]).toEqual(['unrepairable', 'unrepairable']);
    const third = read(2);
    expect([third.verdict, Buffer.compare(third.bytes, whole)]).toEqual(['repairable', 0]);
    expect(read(3).verdict).toBe('unrepairable');
  });

  test('of another sector has no say', () => {
    const whole = recorded('before');
    const earlier = new EarlierReadings();
    for (const at of [0, 1]) earlier.check(hurt(whole, `before ${at}`, 0.05), LBA + 1, 1);
    expect(earlier.check(hurt(whole, 'before 2', 0.05), LBA, 1).verdict).toBe('unrepairable');
  });

  test('is kept by itself: the buffer it came in may be used again', () => {
    const whole = recorded('buffer');
    const earlier = new EarlierReadings();
    const buffer = new Uint8Array(RAW_BYTES);
    const verdicts = [0, 1, 2].map((at) => {
      buffer.set(hurt(whole, `buffer ${at}`, 0.05).bytes);
      const { verdict } = earlier.check({ bytes: buffer, flags: null }, LBA, 1);
      buffer.fill(0);
      return verdict;
    });
    expect(verdicts.at(-1)).toBe('repairable');
  });
});

describe('a whole disc', () => {
  const clean = loadVector('optical/disc-clean.bin');
  const sheet = parseCue(new TextDecoder().decode(loadVector('optical/disc-clean.cue')));
  const expected = loadExpectation<{ userSha256: string; sectors: number }>('optical/disc-clean');
  const track = tracksOf(sheet, [clean.length]).tracks[0]!;

  /** The image with every sector but the first hurt beyond mending. */
  function reading(seed: string): Uint8Array {
    const bytes = clean.slice();
    for (let at = RAW_BYTES; at < bytes.length; at += RAW_BYTES) {
      const part = bytes.subarray(at, at + RAW_BYTES);
      part.set(hurt(part, `${seed} ${at}`, 0.05).bytes);
    }
    return bytes;
  }

  test('three readings, none of them good for much, give the disc', async () => {
    const sources = ['a', 'b', 'c'].map((seed) => memorySource(reading(seed)));
    const [own, ...further] = sources;
    const alone = await examineDisc({ sheet, sources: [own!] }, nodeDigester);
    expect(alone.unrepairable).toHaveLength(expected.sectors - 1);
    const others = await Promise.all(
      further.map(async (each) => (await placeReading(each, track))!),
    );
    const together = await examineDisc({ sheet, sources: [own!], others }, nodeDigester);
    expect(together).toMatchObject({ unrepairable: [], userSha256: expected.userSha256 });
    const user = await userSource(own!, track, false, null, others).read(2048 * 3, 2048);
    expect(Buffer.compare(user, clean.subarray(3 * RAW_BYTES + 16, 3 * RAW_BYTES + 2064))).toBe(0);
  });

  test('a copy that begins later, and is scrambled still, is laid where it belongs', async () => {
    const [own, whole] = [reading('own'), clean.slice(4 * RAW_BYTES)];
    for (let at = 0; at < whole.length; at += RAW_BYTES)
      scramble(whole.subarray(at, at + RAW_BYTES));
    const other = (await placeReading(memorySource(whole), track))!;
    expect(other).toMatchObject({ shift: 4, scrambled: true });
    const { unrepairable } = await examineDisc(
      { sheet, sources: [memorySource(own)], others: [other] },
      nodeDigester,
    );
    expect(unrepairable).toEqual([1, 2, 3]);
  });

  test('flags of a further reading tell which of its bytes to leave out', async () => {
    const [one, two] = [reading('one'), reading('two')];
    const flags = new Uint8Array((two.length / RAW_BYTES) * FLAG_BYTES);
    for (const [at, byte] of two.entries())
      if (byte !== clean[at]) flags[at >> 3]! |= 0x80 >> (at & 7);
    const counts = await Promise.all(
      [null, memorySource(flags)].map(async (marks) => {
        const other = (await placeReading(memorySource(two), track, marks))!;
        const sources = [memorySource(one)];
        return (await examineDisc({ sheet, sources, others: [other] }, nodeDigester)).unrepairable
          .length;
      }),
    );
    expect(counts[1]).toBe(0);
    expect(counts[0]).toBeGreaterThan(0);
  });

  test('what holds no sector with an address has no place', async () => {
    expect(await placeReading(memorySource(new Uint8Array(9 * RAW_BYTES)), track)).toBeNull();
  });
});
