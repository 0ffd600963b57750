/** Sectors of the group codes in the account of a track (`docs/formats/layouts.md`). */
import {
  DISK_BYTES,
  VALUES,
  bytesOfValuesInto,
  DATA_BYTES,
} from '@/core/encoding/gcr-6and2/disk-bytes';
import { GROUP_OF_NIBBLE, cellsOfByte } from '@/core/encoding/gcr-4to5/groups';
import { PROLOGUE, fourAndFour } from '@/core/encoding/gcr-6and2/field-reader';
import { BLOCK_BYTES, DATA_BLOCK, ID_BLOCK } from '@/core/encoding/gcr-4to5/field-reader';
import { cellsOf, cellsOfPath, middleOf, placesOf, type FieldRead } from './fields-of-track';
import { readGroups, type GroupField, type GroupsAsked } from './group-field';
import type { GroupCode } from './group-figures';
import type { Belief } from '../../track-sector';
import { metricAt, type TrackAccount } from '../track-account';

/**
 * Least logarithm of a field's share among all that meet its check; and of the likeliest field's
 * share among all, below which a check of six or eight bits decides too much.
 */
const LEAST_CERTAINTY = -0.005;
const LEAST_PLAINNESS = -1;
/** A likeliest field this unlikely among all was not followed: a splice, a wow. */
const NOT_FOLLOWED = -8;
/** Below this a turn that has the same bytes adds nothing. */
const LEAST_LIKELY = -0.1;
/** The same of a track of one turn, which never is sure of anything by itself. */
const LEAST_LIKELY_ALONE = -1;

function beliefIn({ certainty, plainness }: GroupField, { turns }: TrackAccount): Belief {
  if (certainty >= LEAST_CERTAINTY && plainness >= LEAST_PLAINNESS) return 'claimed';
  return certainty >= (turns.length > 1 ? LEAST_LIKELY : LEAST_LIKELY_ALONE) ? 'likely' : 'unsure';
}

/** What is said of a field: how far it may be believed, and the chance that it is another. */
const saidOf = (field: GroupField, account: TrackAccount) => ({
  belief: beliefIn(field, account),
  wrong: -Math.expm1(field.certainty),
});

const NONE_KNOWN = () => -1;

interface Place {
  /** First cell of the prologue or sync, and of the field's first group. */
  from: number;
  start: number;
}

interface Id {
  place: Place;
  c: number;
  r: number;
  idExtra: Record<string, number>;
}

/** Data fields paired with their IDs; where one was not found, it is looked for where others are. */
function paired(
  ids: readonly Id[],
  data: readonly Place[],
  most: number,
  placed: (from: number) => Place,
): { id: Id; data: Place }[] {
  const behind = ids.map(({ place }) =>
    data.find(({ from }) => from > place.start && from - place.start < most),
  );
  const usual = middleOf(
    behind.flatMap((found, i) => (found ? [found.from - ids[i]!.place.from] : [])),
  );
  return ids.flatMap((id, i) => {
    const found = behind[i];
    const isNear = found && usual !== null && Math.abs(found.from - id.place.from - usual) < 24;
    if (isNear) return [{ id, data: found }];
    return usual === null ? [] : [{ id, data: placed(id.place.from + usual) }];
  });
}

/**
 * Null where no turn has the whole field, or nothing meets its check, or the account has lost the
 * field: then it says nothing, and not that the field is in doubt.
 */
function readIn(account: TrackAccount, code: GroupCode, asked: GroupsAsked): GroupField | null {
  const end = asked.start + asked.groups * code.width;
  if (!account.turns.some(({ from, to }) => asked.start >= from && end <= to)) return null;
  const metric = metricAt(account, asked.start);
  return metric && readGroups(metric, account.model, code, asked);
}

const SIX_AND_TWO: GroupCode = { patterns: DISK_BYTES, width: 8, bits: 6, lanes: 1 };
/** Bytes of address fields: four bits with a transition before each. */
const FOUR_AND_FOUR: GroupCode = {
  patterns: Array.from({ length: 16 }, (_, value) =>
    cellsOf(value, 4).reduce((sum, bit) => sum * 4 + 2 + bit, 0),
  ),
  width: 8,
  bits: 4,
  lanes: 2,
};
const PROLOGUE_CELLS = 24;
const prologue = (third: number) =>
  [PROLOGUE.first, PROLOGUE.second, third].flatMap((byte) => cellsOf(byte, 8));
const ADDRESS_WRONG = 2;
const DATA_WRONG = 3;
/** From an address field's first cell behind its prologue to the data prologue, at the most. */
const MOST_TO_DATA = 64 + 24 + 600;

export function sixAndTwoFields(account: TrackAccount): FieldRead[] {
  const { path, cells, end } = account;
  const bits = cellsOfPath(path, end);
  const placed = (from: number): Place => ({ from, start: from + PROLOGUE_CELLS });
  const places = (third: number, wrong: number) =>
    placesOf(bits, prologue(third), wrong).map(placed);
  const ids = places(PROLOGUE.address, ADDRESS_WRONG).flatMap((place): Id[] => {
    if (place.from >= cells) return [];
    const asked = {
      start: place.start,
      anchorTrail: 1,
      anchorRun: 1,
      groups: 8,
      known: NONE_KNOWN,
      leastPlainness: LEAST_PLAINNESS,
    };
    const field = readIn(account, FOUR_AND_FOUR, asked);
    if (!field || beliefIn(field, account) !== 'claimed') return [];
    const byte = (at: number) =>
      fourAndFour(
        FOUR_AND_FOUR.patterns[field.values[2 * at]!]!,
        FOUR_AND_FOUR.patterns[field.values[2 * at + 1]!]!,
      );
    return [{ place, c: byte(1), r: byte(2), idExtra: { volume: byte(0) } }];
  });
  return paired(ids, places(PROLOGUE.data, DATA_WRONG), MOST_TO_DATA, placed).flatMap(
    ({ id, data }) => {
      const asked = {
        start: data.start,
        anchorTrail: 0,
        anchorRun: 2,
        groups: VALUES + 1,
        known: NONE_KNOWN,
        leastPlainness: NOT_FOLLOWED,
      };
      const field = readIn(account, SIX_AND_TWO, asked);
      if (!field) return [];
      return [
        sector(id, data, data.start + 8 * (VALUES + 1), PROLOGUE.data, {
          ...bytesOfSix(field),
          ...saidOf(field, account),
        }),
      ];
    },
  );
}

function bytesOfSix({ values: chosen }: GroupField): { data: Uint8Array; check: number } {
  const values = new Uint8Array(VALUES);
  for (let i = 0, last = 0; i < VALUES; i++) last = values[i] = chosen[i]! ^ last;
  const data = new Uint8Array(DATA_BYTES);
  bytesOfValuesInto(values, data);
  return { data, check: chosen[VALUES]! };
}

const FOUR_TO_FIVE: GroupCode = { patterns: GROUP_OF_NIBBLE, width: 5, bits: 4, lanes: 2 };
const SYNC_ONES = 10;
const BLOCK_WRONG = 2;
/** Block byte, check, number, cylinder and the two bytes of the disk's id. */
const HEADER_GROUPS = 12;
/** Block byte, data and check; the zeros behind them belong to no check. */
const BLOCK_GROUPS = 2 * (BLOCK_BYTES - 2);
const MOST_TO_BLOCK = 80 + 90 + 240;

export function fourToFiveFields(account: TrackAccount): FieldRead[] {
  const { path, cells, end } = account;
  const bits = cellsOfPath(path, end);
  const placed = (from: number): Place => ({ from, start: from + SYNC_ONES });
  const places = (block: number) =>
    placesOf(
      bits,
      [...Array<number>(SYNC_ONES).fill(1), ...cellsOf(cellsOfByte(block), 10)],
      BLOCK_WRONG,
    ).map(placed);
  /** The block's own byte is known, and counts for no check. */
  const known = (block: number) => (group: number) =>
    group === 0 ? block >>> 4 : group === 1 ? block & 15 : -1;
  const ids = places(ID_BLOCK).flatMap((place): Id[] => {
    if (place.from >= cells) return [];
    const field = readIn(account, FOUR_TO_FIVE, {
      start: place.start,
      anchorTrail: 0,
      anchorRun: 1,
      groups: HEADER_GROUPS,
      known: known(ID_BLOCK),
      leastPlainness: LEAST_PLAINNESS,
    });
    if (!field || beliefIn(field, account) !== 'claimed') return [];
    const byte = (at: number) => (field.values[2 * at]! << 4) | field.values[2 * at + 1]!;
    return [{ place, r: byte(2), c: byte(3), idExtra: { id1: byte(5), id2: byte(4) } }];
  });
  return paired(ids, places(DATA_BLOCK), MOST_TO_BLOCK, placed).flatMap(({ id, data }) => {
    const asked = {
      start: data.start,
      anchorTrail: 0,
      anchorRun: 1,
      groups: BLOCK_GROUPS,
      known: known(DATA_BLOCK),
      leastPlainness: LEAST_PLAINNESS,
    };
    const field = readIn(account, FOUR_TO_FIVE, asked);
    if (!field) return [];
    const bytes = Uint8Array.from(
      { length: BLOCK_GROUPS / 2 },
      (_, i) => (field.values[2 * i]! << 4) | field.values[2 * i + 1]!,
    );
    return [
      sector(id, data, data.start + 5 * BLOCK_GROUPS, DATA_BLOCK, {
        data: bytes.slice(1, 1 + DATA_BYTES),
        check: bytes[1 + DATA_BYTES]!,
        ...saidOf(field, account),
      }),
    ];
  });
}

function sector(
  { place, c, r, idExtra }: Id,
  data: Place,
  to: number,
  mark: number,
  read: Pick<FieldRead, 'data' | 'check' | 'belief' | 'wrong'>,
): FieldRead {
  return {
    c,
    h: null,
    r,
    n: null,
    idExtra,
    size: DATA_BYTES,
    from: place.from,
    dataFrom: data.start,
    to,
    mark,
    ...read,
  };
}
