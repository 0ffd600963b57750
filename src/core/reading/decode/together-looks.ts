/** What all turns of a track say together, as sightings of its sectors. */
import type { FluxClass } from '@/core/encoding';
import { RUNS, encodingOf } from '@/core/encoding';
import { turnCells, type EncodingId } from '@/core/layout/layout';
import {
  holdsTrack,
  likeliestCodes,
  seemsFormatted,
  withCell,
  withCellByTurn,
  type TimedReading,
} from '../together/find-cell';
import type { KnownSector } from '../together/open-stretches';
import type { FieldRead } from '../together/fields/fields-of-track';
import { fourToFiveFields, sixAndTwoFields } from '../together/fields/group-code-fields';
import { idMarkFields } from '../together/fields/id-mark-fields';
import { tickAt } from '../together/turn-views';
import { accountOf, type TrackAccount } from '../together/track-account';
import { isSound } from '../grades';
import type { PlacedSighting } from '../track-sector';
import { emptySighting } from './stray-fields';
import { angleAt } from './turn';
import type { TrackWork } from './track-work';

/** Cells past the index pulse that a sector may reach, beside its data. */
const BESIDE_DATA = 1200;

const FIELDS_OF = {
  fm: (account: TrackAccount) => idMarkFields(account, false),
  mfm: (account: TrackAccount) => idMarkFields(account, true),
  'gcr-4to5': fourToFiveFields,
  'gcr-6and2': sixAndTwoFields,
} as const;

/** Cells so near to one another are those of one rate. */
const SAME_WITHIN = 0.04;

/**
 * Reads the whole track from all turns at once, and notes what may be believed of it. Where strong
 * peak shift has hidden which code it is, what is expected or what the track before held is tried,
 * and then what explains the times best. Gives the code that showed sectors; null where none did.
 */
export function lookTogether(
  work: TrackWork,
  primary: FluxClass | null,
  before: FluxClass | null,
): FluxClass | null {
  const readings = timedOf(work);
  const [first] = readings;
  if (!first) return null;
  const isHidden = work.sightings.length === 0;
  const usual = knownCodes(work, primary, before);
  const known = isHidden ? hiddenCodes(work, first, usual) : usual;
  const tried = new Set<string>();
  const accounts: Accounts = new Map();
  const look = (cell: FluxClass): boolean => {
    const key = `${cell.encoding} ${Math.round(cell.cellTicks)}`;
    if (tried.has(key)) return false;
    tried.add(key);
    const found = readTogether(work, readings, cell, accounts);
    // Another code than the track's own shows an ID here and there, and no data.
    const isOwn = found.some(({ together }) => together === 'claimed');
    if (isOwn || cell === known[0])
      work.sightings.push(...found.filter(({ sighting }) => !isAsMade(work, sighting.r)));
    return isOwn;
  };
  const fits = known.find(look);
  if (fits) return fits;
  // Every code was tried; or sectors were seen plainly: it is hurt, but no other code.
  if (isHidden || work.sightings.some(({ sighting }) => sighting.dataOk)) return null;
  return likelierThan(known, first).find(look) ?? null;
}

/**
 * The codes that a track may be written in on which nothing was seen, the likeliest first behind
 * what is expected: strong peak shift makes them look like another. None on noise, where every code
 * would be tried in vain, for seconds.
 */
function hiddenCodes(
  work: TrackWork,
  first: TimedReading,
  usual: readonly FluxClass[],
): FluxClass[] {
  if (!seemsFormatted(first, null)) return [];
  const likely = onePerCode(likeliestCodes(first));
  if (!work.expected) return [...likely, ...usual];
  return [...usual.filter((each) => seemsFormatted(first, each)), ...likely];
}

/** Each code at its likeliest rate. */
const onePerCode = (likely: readonly Omit<FluxClass, 'share'>[]): FluxClass[] =>
  likely
    .filter(({ encoding }, i) => likely.findIndex((each) => each.encoding === encoding) === i)
    .map((each) => ({ ...each, share: 1 }));

/** Codes that explain a reading better than those that are known, each at its likeliest rate. */
function likelierThan(known: readonly FluxClass[], first: TimedReading): FluxClass[] {
  const likely = likeliestCodes(first);
  const isKnown = ({ encoding, cellTicks }: Omit<FluxClass, 'share'>) =>
    known.some(
      (each) =>
        each.encoding === encoding && Math.abs(each.cellTicks / cellTicks - 1) < SAME_WITHIN,
    );
  const better = likely.findIndex(isKnown);
  return onePerCode(likely.slice(0, better < 0 ? likely.length : better));
}

/** Codes to begin with: what is expected, what the track before had, what it looks like. */
function knownCodes(
  work: TrackWork,
  primary: FluxClass | null,
  before: FluxClass | null,
): FluxClass[] {
  const format = work.expected?.format;
  const { rpm } = work.drive;
  const expected: FluxClass[] =
    format && format.encoding !== primary?.encoding
      ? [
          {
            encoding: format.encoding,
            cellTicks: work.turnOf(0) / turnCells(format, rpm),
            share: 0,
          },
        ]
      : [];
  const last = before ? [before] : [];
  const own = primary ? [primary] : [];
  return [...expected, ...(work.sightings.length === 0 ? last : []), ...own, ...last];
}

function timedOf(work: TrackWork): TimedReading[] {
  return work.readings
    .slice(0, work.fromDrive)
    .map((reading, at) => ({
      reading,
      ...work.times.of(at),
      cellTicks: work.classes[at]?.cellTicks ?? 0,
    }))
    .filter(holdsTrack);
}

/** Accounts of a track so far, by the runs of the code and the cell, and the codes each was read in. */
type Accounts = Map<string, { account: TrackAccount | null; readIn: Set<EncodingId> }>;

function readTogether(
  work: TrackWork,
  readings: readonly TimedReading[],
  { encoding, cellTicks, share }: FluxClass,
  accounts: Accounts,
): PlacedSighting[] {
  const timed = withCell(encoding, withCellByTurn(readings, cellTicks), share);
  const { shortest, longest } = RUNS[encoding];
  const key = `${shortest} ${longest} ${timed[0]!.cellTicks.toFixed(1)}`;
  let there = accounts.get(key);
  if (!there) {
    const largest = Math.max(256, ...work.sightings.map(({ sighting }) => sighting.size));
    const behind = encodingOf(encoding).fieldCells(largest) + BESIDE_DATA;
    const account = accountOf(encoding, timed, { behind, known: knownOf(work) });
    accounts.set(key, (there = { account, readIn: new Set() }));
  }
  const { account, readIn } = there;
  // Another cell to begin with may have come to the same.
  if (!account || readIn.has(encoding)) return [];
  readIn.add(encoding);
  return FIELDS_OF[encoding](account).map((field) => sightingOf(work, account, encoding, field));
}

/**
 * Sectors that one turn gave whole beside a strong check: they need not be read again. Where the
 * check is weak, all turns have a say in what a turn alone gave.
 */
function knownOf(work: TrackWork): KnownSector[] {
  const { groups, sectors } = work.outcome();
  return groups.flatMap((group, i) => {
    const { grade, encoding } = sectors[i]!;
    if (!isSound(grade) || work.encodings(encoding).check !== 'strong') return [];
    const seen = group.find(
      ({ sighting, reading, turn }) => sighting.dataOk && turn >= 0 && reading < work.fromDrive,
    );
    if (!seen) return [];
    const { reading, turn, sighting } = seen;
    const { startTick, endTick } = sighting;
    return [{ reading: work.readings[reading]!, turn, startTick, endTick }];
  });
}

function sightingOf(
  work: TrackWork,
  account: TrackAccount,
  encoding: FluxClass['encoding'],
  field: FieldRead,
): PlacedSighting {
  const [first] = account.readings;
  const tick = (place: number) => Math.max(1, Math.round(tickAt(first!, account.origin + place)));
  const startTick = tick(field.from);
  const endTick = tick(field.to);
  const turn = work.turnOf(0);
  return {
    reading: 0,
    pass: first!.reading.pass,
    turn: TOGETHER,
    angle: angleAt(first!.reading, startTick, turn).angle,
    span: (endTick - startTick) / turn,
    mending: account.turns.length > 1 ? 'voting' : 'likelihood',
    together: field.belief,
    account: { turns: account.turns.length, wrong: field.wrong },
    sighting: {
      ...emptySighting(encoding),
      c: field.c,
      h: field.h,
      r: field.r,
      n: field.n,
      idExtra: field.idExtra,
      size: field.size,
      mark: field.mark,
      data: field.data,
      check: field.check,
      dataOk: field.belief === 'claimed',
      startTick,
      endTick,
      syncTick: tick(field.dataFrom),
    },
  };
}

/** What a person holds to be as it was made is left alone. */
const isAsMade = ({ asMade, readings }: TrackWork, r: number): boolean =>
  asMade?.has(`${readings[0]!.cylinder}/${readings[0]!.head}/${r}`) ?? false;

/** Stands for no turn of its own: all of them have a say in it. */
const TOGETHER = -2;
