/**
 * Settles the sectors of one track from every sighting of them: all turns of all readings of all
 * passes.
 * Grades follow `grades.ts`. Nothing is called sound without a check that passed, and a weak
 * check alone is not enough.
 */
import { sameBytes } from '@/core/bits/same-bytes';
import type { PlacedSighting, TrackSector } from '../track-sector';
import { isDeletedMark, type CheckStrength } from '@/core/encoding';
import { ENCODING_IDS, type EncodingId } from '@/core/layout/layout';
import { angleBetween } from '../decode/turn';
import { said, type Said } from '@/core/said';

/** Two sightings of one ID this close in angle are one sector. */
const SAME_PLACE = 0.02;

/** Groups sightings of the same ID at the same place, in order of angle. */
export function groupSightings(sightings: readonly PlacedSighting[]): PlacedSighting[][] {
  const groups: PlacedSighting[][] = [];
  const byId = new Map<number, PlacedSighting[][]>();
  for (const placed of sightings) {
    const { encoding, c, h, r, n } = placed.sighting;
    const id =
      (((ENCODING_IDS.indexOf(encoding) * 256 + c) * 257 + (h ?? 256)) * 256 + r) * 16 + (n ?? 15);
    let candidates = byId.get(id);
    if (!candidates) byId.set(id, (candidates = []));
    const group = candidates.find(
      ([first]) => angleBetween(first!.angle, placed.angle) < SAME_PLACE,
    );
    if (group) group.push(placed);
    else {
      const opened = [placed];
      candidates.push(opened);
      groups.push(opened);
    }
  }
  return groups.sort((a, b) => a[0]!.angle - b[0]!.angle);
}

/**
 * Turns that read this version; the same turn under two recoveries counts once, and what all turns
 * together come to is no turn.
 */
function support(version: readonly PlacedSighting[]): number {
  if (version.length < 2) return version.length > 0 && !version[0]!.together ? 1 : 0;
  const turns = new Set<number>();
  for (const { reading, turn, together } of version)
    if (!together) turns.add(reading * 65536 + turn);
  return turns.size;
}

const isClaimed = ({ together }: PlacedSighting): boolean => together === 'claimed';

/**
 * Whether all turns together leave a field in doubt that a weak check lets pass: turns that agree
 * may agree on what is wrong, and their times tell.
 */
function isDoubted(
  group: readonly PlacedSighting[],
  version: readonly PlacedSighting[],
  check: CheckStrength,
): boolean {
  const account = group.find(({ together }) => together);
  if (check === 'strong' || !account || isClaimed(account)) return false;
  const isSame = sameBytes(account.sighting.data!, version[0]!.sighting.data!);
  return account.together === 'unsure' || !isSame;
}

/** Versions of a sector's data whose check passed, with who supports each, best supported first. */
function soundVersions(group: readonly PlacedSighting[], check: CheckStrength): PlacedSighting[][] {
  const versions: PlacedSighting[][] = [];
  for (const placed of group) {
    const { dataOk, violations, data } = placed.sighting;
    // Beside a weak check a broken code is proof enough that the field was not read right.
    if (!dataOk || (check === 'weak' && violations > 0)) continue;
    const same = versions.find(([first]) => sameBytes(first!.sighting.data!, data!));
    if (same) same.push(placed);
    else versions.push([placed]);
  }
  return versions.sort((a, b) => support(b) - support(a));
}

/**
 * The version that may be believed, or null. A check of 16 bits passes by chance once in 65,536
 * tries: a version that
 * breaks the code's own rule needs a second turn to agree. The weak checks of the group codes
 * need a second turn, or
 * everything beside the field as it should be and, on a hurt track, a timing that leaves no place
 * of it in doubt. Of two
 * versions the better supported counts, of two equal ones neither.
 */
function trusted(
  group: readonly PlacedSighting[],
  versions: readonly PlacedSighting[][],
  check: CheckStrength,
  hurt: boolean,
): PlacedSighting[] | null {
  const [best, second] = versions;
  if (!best || isDoubted(group, best, check)) return null;
  const account = versions.find((version) => version.some(isClaimed));
  // Beside a strong check one turn's own bytes count as much as what all are led to by that check.
  if (account) return account === best || (check === 'weak' && support(best) < 2) ? account : null;
  const agreeing = support(best);
  if (second && support(second) === agreeing) return null;
  if (agreeing > 1) return best;
  if (second) return null;
  const alone = ({ sighting, mending, sure }: PlacedSighting) =>
    mending === 'voting' ||
    (check === 'strong' ? sighting.violations === 0 : sighting.intact && (sure === true || !hurt));
  return best.some(alone) ? best : null;
}

/** What is less likely than this is not told in figures. */
const MOST_POWER = 12;

/** The power of ten below which a chance lies: 7 for 3·10⁻⁸. */
const powerBelow = (chance: number): number =>
  Math.min(MOST_POWER, Math.floor(-Math.log10(Math.max(chance, 1e-300))));

const REASONS = new Map<number, Said>();

/** The same few sentences for thousands of sectors: each is made once. */
function whyTaken({ account }: PlacedSighting, agreeing: number, turns: number): Said {
  if (account)
    return said('merge.allTurnsMakeIt', {
      turns: account.turns,
      power: powerBelow(account.wrong),
    });
  const key = agreeing * 1024 + turns;
  let why = REASONS.get(key);
  if (why === undefined)
    REASONS.set(key, (why = said('merge.itsCheckPassesIn', { agreeing, turns })));
  return why;
}

function rejectionReason(
  group: readonly PlacedSighting[],
  versions: number,
  check: CheckStrength,
  turns: number,
): Said {
  if (turns === 0) return said('merge.noTurnShowsIt');
  if (versions > 1) return said('merge.versionsOfItPass', { versions });
  if (versions === 1)
    return check === 'weak' ? said('merge.itsWeakCheckPasses') : said('merge.itsCheckPassesInOne');
  return group.every(({ sighting }) => sighting.mark === null)
    ? said('merge.itsIdWasRead')
    : said('merge.itsCheckFailsIn', { turns });
}

const MAX_TURNS_TOLD = 1023;
const fuller = (a: PlacedSighting, b: PlacedSighting) =>
  (b.sighting.data?.length ?? -1) > (a.sighting.data?.length ?? -1) ? b : a;

/**
 * The settled sector of one group of sightings; `hurt` says that the track did not read plainly
 * throughout.
 */
export function resolveSector(
  cylinder: number,
  head: number,
  group: readonly PlacedSighting[],
  firstPass: number,
  check: CheckStrength,
  hurt: boolean,
): TrackSector {
  const first = group[0]!;
  const { encoding, c, h, r, n, idExtra, size } = first.sighting;
  const turns = Math.min(MAX_TURNS_TOLD, support(group));
  const versions = soundVersions(group, check);
  const version = trusted(group, versions, check, hurt);
  const plain = version?.find(({ pass, mending }) => pass === firstPass && !mending);
  const from =
    plain ?? version?.find(({ mending }) => !mending) ?? version?.[0] ?? group.reduce(fuller);
  const { sighting } = from;
  // Written out: spreads of partial objects took a fifth of a whole clean disk's decode.
  return {
    cylinder,
    head,
    encoding,
    c,
    h,
    r,
    n,
    idExtra,
    size,
    deleted: check === 'strong' && isDeletedMark(sighting.mark),
    mark: sighting.mark,
    grade: plain ? 'firm' : version ? 'mended' : 'doubtful',
    mending: plain || !version ? null : (from.mending ?? 'another-pass'),
    remarks: [],
    data: sighting.data,
    angle: first.angle,
    span: from.span,
    seen: turns,
    seenSound: support(group.filter((placed) => placed.sighting.dataOk && !placed.mending)),
    source: {
      reading: from.reading,
      pass: from.pass,
      turn: from.turn,
      recovery: sighting.recovery,
    },
    why: version
      ? whyTaken(from, support(version), turns)
      : rejectionReason(group, versions.length, check, turns),
  };
}

/** A sector that the layout expects here and no reading shows. */
export function missingSector(
  cylinder: number,
  head: number,
  encoding: EncodingId,
  id: Pick<TrackSector, 'c' | 'h' | 'r' | 'n'>,
  size: number,
  grade: 'lost' | 'unread',
): TrackSector {
  return {
    cylinder,
    head,
    encoding,
    ...id,
    idExtra: null,
    size,
    deleted: false,
    mark: null,
    grade,
    mending: null,
    remarks: [],
    data: null,
    angle: null,
    span: null,
    seen: 0,
    seenSound: 0,
    source: null,
    why: grade === 'lost' ? said('merge.theLayoutHasIt') : said('merge.itsTrackWasNot'),
  };
}
