/** Which version of a sector is believed: turns that agree, and what all turns make of it together. */
import type { SectorSighting } from '@/core/encoding';
import { emptySighting } from '../decode/stray-fields';
import type { Belief, PlacedSighting } from '../track-sector';
import { groupSightings, resolveSector } from './merge';

interface Seen extends Partial<Pick<SectorSighting, 'dataOk' | 'violations' | 'intact'>> {
  turn?: number;
  pass?: number;
  bytes?: number;
  together?: Belief;
  sure?: boolean;
}

const TOGETHER = -2;

function seen({ turn = 0, pass = 0, bytes = 1, together, sure, ...rest }: Seen): PlacedSighting {
  return {
    reading: pass,
    pass,
    turn: together ? TOGETHER : turn,
    angle: 0.2,
    span: 0.05,
    ...(together && { together, mending: 'voting' as const }),
    ...(sure !== undefined && { sure }),
    sighting: {
      ...emptySighting('mfm'),
      r: 4,
      size: 4,
      mark: 0xfb,
      data: new Uint8Array(4).fill(bytes),
      dataOk: !together || together === 'claimed',
      ...rest,
    },
  };
}

const settle = (check: 'strong' | 'weak', sightings: Seen[], hurt = true) => {
  const { grade, data } = resolveSector(3, 1, sightings.map(seen), 0, check, hurt);
  return grade === 'doubtful' ? 'doubtful' : [grade, data![0]];
};

const twoTurns = [{ turn: 0 }, { turn: 1 }];

describe('beside a strong check', () => {
  test.each<[string, Seen[], unknown]>([
    ['one turn', [{}], ['firm', 1]],
    ['one turn of a later pass', [{ pass: 1 }], ['mended', 1]],
    ['one turn that breaks the code', [{ violations: 1 }], 'doubtful'],
    [
      'two turns that break the code alike',
      twoTurns.map((each) => ({ ...each, violations: 1 })),
      ['firm', 1],
    ],
    ['two turns that differ', [{}, { turn: 1, bytes: 2 }], 'doubtful'],
    ['two turns against one', [...twoTurns, { turn: 2, bytes: 2 }], ['firm', 1]],
    [
      'the same turn under two recoveries, against another',
      [{}, {}, { turn: 1, bytes: 2 }],
      'doubtful',
    ],
    ['all together', [{ dataOk: false }, { together: 'claimed' }], ['mended', 1]],
    ['all together against one turn', [{ bytes: 2 }, { together: 'claimed' }], 'doubtful'],
    [
      'all together against two turns',
      [...twoTurns.map((each) => ({ ...each, bytes: 2 })), { together: 'claimed' }],
      'doubtful',
    ],
    [
      'one turn that all together leave in doubt',
      [{}, { together: 'unsure', bytes: 2 }],
      ['firm', 1],
    ],
  ])('%s', (_, sightings, expected) => expect(settle('strong', sightings)).toEqual(expected));
});

describe('beside a weak check', () => {
  const broken = { intact: false };
  test.each<[string, Seen[], unknown]>([
    ['one turn on a hurt track, nobody sure of its times', [{}], 'doubtful'],
    ['one turn that is sure', [{ sure: true }], ['firm', 1]],
    [
      'one turn that is sure, what stands beside it broken',
      [{ sure: true, ...broken }],
      'doubtful',
    ],
    ['two turns that agree', twoTurns, ['firm', 1]],
    [
      'two turns that break the code',
      twoTurns.map((each) => ({ ...each, violations: 1 })),
      'doubtful',
    ],
    ['all together', [{ together: 'claimed' }], ['mended', 1]],
    ['all together against one turn', [{ bytes: 2 }, { together: 'claimed' }], ['mended', 1]],
    [
      'all together against two turns',
      [...twoTurns.map((each) => ({ ...each, bytes: 2 })), { together: 'claimed' }],
      'doubtful',
    ],
    [
      'two turns that all together leave in doubt',
      [...twoTurns, { together: 'unsure' }],
      'doubtful',
    ],
    [
      'two turns whose bytes all together make likely',
      [...twoTurns, { together: 'likely' }],
      ['firm', 1],
    ],
    [
      'two turns where all together make others likely',
      [...twoTurns, { together: 'likely', bytes: 2 }],
      'doubtful',
    ],
    ['what all together make likely, and no turn has', [{ together: 'likely' }], 'doubtful'],
  ])('%s', (_, sightings, expected) => expect(settle('weak', sightings)).toEqual(expected));

  test('one turn of a track that reads plainly throughout is enough', () =>
    expect(settle('weak', [{}], false)).toEqual(['firm', 1]));
});

test('sightings at one angle are one sector, those of the same number elsewhere another', () => {
  const at = (angle: number, turn: number) => ({ ...seen({ turn }), angle });
  const groups = groupSightings([at(0.2, 0), at(0.2005, 1), at(0.7, 0), at(0.7, 1)]);
  expect(groups.map((group) => group.map(({ angle }) => angle))).toEqual([
    [0.2, 0.2005],
    [0.7, 0.7],
  ]);
});

describe('what is said of it', () => {
  const told = (sightings: Seen[], wrong = 3e-8) => {
    const placed = sightings
      .map(seen)
      .map((each) => (each.together ? { ...each, account: { turns: 3, wrong } } : each));
    const { why, seen: turns, seenSound } = resolveSector(3, 1, placed, 0, 'strong', true);
    return { code: why.code, with: why.with, turns, seenSound };
  };

  test.each<[string, Seen[], number, object]>([
    [
      'one turn of two',
      [{}, { turn: 1, dataOk: false }],
      1,
      { code: 'merge.itsCheckPassesIn', with: { agreeing: 1, turns: 2 }, turns: 2, seenSound: 1 },
    ],
    [
      'what all turns make, beside two that fail',
      [...twoTurns.map((each) => ({ ...each, dataOk: false })), { together: 'claimed' }],
      3e-8,
      { code: 'merge.allTurnsMakeIt', with: { turns: 3, power: 7 }, turns: 2, seenSound: 0 },
    ],
    [
      'what no turn shows by itself',
      [{ together: 'claimed' }],
      0,
      { code: 'merge.allTurnsMakeIt', with: { turns: 3, power: 12 }, turns: 0 },
    ],
    ['what no turn shows, in doubt', [{ together: 'unsure' }], 1, { code: 'merge.noTurnShowsIt' }],
    [
      'what fails in each turn, in doubt together as well',
      [{ dataOk: false }, { together: 'unsure' }],
      1,
      { code: 'merge.itsCheckFailsIn', with: { turns: 1 } },
    ],
  ])('%s', (_, sightings, wrong, wanted) => {
    expect(told(sightings, wrong)).toMatchObject(wanted);
  });
});
