/**
 * What is added to a grade: *odd, harmless* is found here; *as made* is only proposed here and
 * settled by a person, so that an oddity that was put on a disk on purpose is kept and never mended
 * away. `docs/words.md` defines both.
 */
import { median } from '@/core/bits/median';
import { sameBytes } from '@/core/bits/same-bytes';
import type { SectorSighting } from '@/core/encoding';
import type { Layout } from '@/core/layout/layout';
import { formatAt, sectorKey } from '@/core/layout/layout';
import { isSound } from '../grades';
import type { PlacedSighting, Remark, TrackSector } from '../track-sector';
import { said, type Said } from '@/core/said';

/** A sector this much faster or slower than the rest of its track stands out. */
const ODD_SPEED = 0.015;
/** Turns that must agree before an error counts as made. */
const TURNS_ALIKE = 2;

const turnOf = ({ reading, turn }: PlacedSighting) => reading * 65536 + turn;

/**
 * One sighting a turn: the first, which the plainest recovery gave. What all turns together come to
 * is no turn: where it is no claim, it says nothing against what each of them has.
 */
export function onePerTurn(group: readonly PlacedSighting[]): PlacedSighting[] {
  const seen = new Map<number, PlacedSighting>();
  for (const placed of group)
    if (!placed.together && !seen.has(turnOf(placed))) seen.set(turnOf(placed), placed);
  return [...seen.values()];
}

const wholeField = ({ data, size, check, violations }: SectorSighting) =>
  data !== null && data.length === size && check >= 0 && violations === 0;

/** Whether these readings of a field, one a turn, say that it was written cleanly. */
export type IsClean = (turns: readonly PlacedSighting[]) => boolean;

/**
 * The check is wrong on every reading in the same way, and by its times the field was written so:
 * a loss that is the same on every turn is a loss. Such a sector must not be mended.
 */
export function wrongCheckAsMade(group: readonly PlacedSighting[], isClean: IsClean): boolean {
  const turns = onePerTurn(group);
  const [first] = turns;
  if (!first || turns.length < TURNS_ALIKE) return false;
  const areAlike = turns.every(
    ({ sighting }) =>
      !sighting.dataOk &&
      wholeField(sighting) &&
      sighting.check === first.sighting.check &&
      sameBytes(sighting.data!, first.sighting.data!),
  );
  return areAlike && isClean(turns);
}

/**
 * Stretch of the data in which turns differ while everything before and behind it is the same, or
 * null.
 */
function weakStretch(group: readonly PlacedSighting[]): { from: number; to: number } | null {
  const whole = onePerTurn(group).filter(({ sighting }) => sighting.data?.length === sighting.size);
  if (whole.length < 3 || whole.some(({ sighting }) => sighting.dataOk)) return null;
  const first = whole[0]!.sighting.data!;
  let from = first.length;
  let to = -1;
  let changing = 0;
  for (let i = 0; i < first.length; i++) {
    if (whole.every(({ sighting }) => sighting.data![i] === first[i])) continue;
    from = Math.min(from, i);
    to = i;
    changing++;
  }
  // Dense within, nothing without: noise all over the field is no region.
  return to >= 0 && to - from < first.length / 2 && changing > (to - from) / 3
    ? { from, to }
    : null;
}

/**
 * Nothing stands out: all firm in every turn that saw them, and laid down at one speed. Most
 * tracks, so found out cheaply.
 */
function isEven(
  sectors: readonly TrackSector[],
  groups: readonly (readonly PlacedSighting[])[],
): boolean {
  let shortest = Infinity;
  let longest = 0;
  for (const [i, { grade, span, size, seenSound }] of sectors.entries()) {
    if (grade !== 'firm' || span === null || seenSound < groups[i]!.length) return false;
    const each = span / (size + 60);
    shortest = Math.min(shortest, each);
    longest = Math.max(longest, each);
  }
  return longest < shortest * (1 + ODD_SPEED);
}

/**
 * Adds remarks to the settled sectors of a track; `groups` are the sightings of each, in the same
 * order.
 */
export function remarkTrack(
  sectors: readonly TrackSector[],
  groups: readonly (readonly PlacedSighting[])[],
  isClean: IsClean,
): void {
  if (isEven(sectors, groups)) return;
  const cellsOf = ({ span, size }: TrackSector) =>
    span !== null && span > 0 ? span / (size + 60) : 0;
  const usual = new Map(
    [...new Set(sectors.map(({ encoding }) => encoding))].map((encoding) => [
      encoding,
      median(
        sectors
          .filter((sector) => sector.encoding === encoding && isSound(sector.grade))
          .map(cellsOf),
      ),
    ]),
  );
  for (const [i, sector] of sectors.entries()) {
    const group = groups[i]!;
    const typical = sectors.length > 3 ? (usual.get(sector.encoding) ?? 0) : 0;
    sector.remarks.push(
      ...(isSound(sector.grade)
        ? oddities(group, typical > 0 ? cellsOf(sector) / typical - 1 : 0)
        : asMade(group, isClean)),
    );
  }
}

/** What is odd of a sound sector: `off` is how far its cells are from those of the others. */
function oddities(group: readonly PlacedSighting[], off: number): Remark[] {
  const remarks: Remark[] = [];
  const add = (what: Said) => remarks.push({ kind: 'odd-harmless', what });
  if (Math.abs(off) > ODD_SPEED)
    add(said('merge.writtenFasterThanThe', { off: Math.abs(100 * off).toFixed(1), off2: off }));
  const turns = new Map(group.map((placed) => [turnOf(placed), false]));
  for (const placed of group) if (placed.sighting.dataOk) turns.set(turnOf(placed), true);
  const failed = [...turns.values()].filter((ok) => !ok).length;
  if (failed > 0)
    add(said('merge.itsCheckPassesInOf', { turns: turns.size - failed, turns2: turns.size }));
  return remarks;
}

/** What a sector without a sound reading may have been made with. */
function asMade(group: readonly PlacedSighting[], isClean: IsClean): Remark[] {
  if (wrongCheckAsMade(group, isClean))
    return [{ kind: 'as-made', what: said('merge.itsCheckIsWrong') }];
  const weak = weakStretch(group);
  if (!weak) return [];
  const { from, to } = weak;
  return [{ kind: 'as-made', what: said('merge.bytesToDifferOn', { from, to }) }];
}

/**
 * Numbers that stand twice or are missing on a track that else reads soundly; proposed, since wear
 * does not do it.
 */
export function remarkNumbers(
  sectors: readonly TrackSector[],
  layout: Layout | null,
  cylinder: number,
): void {
  const [first] = sectors;
  if (!first || sectors.some(({ grade }) => grade === 'doubtful')) return;
  const format = layout && formatAt(layout, cylinder, first.head);
  const seen = new Map<number, TrackSector>();
  for (const sector of sectors) {
    if (sector.grade === 'lost' || sector.grade === 'unread') continue;
    const key = sectorKey(sector.r, sector.size);
    const twin = seen.get(key);
    if (twin)
      sector.remarks.push({
        kind: 'as-made',
        what: said('merge.numberStandsOnThis', { r: sector.r }),
      });
    else seen.set(key, sector);
  }
  if (format) {
    const expected = new Set(format.sectors.map(({ r }) => r));
    for (const sector of seen.values())
      if (!expected.has(sector.r))
        sector.remarks.push({
          kind: 'as-made',
          what: said('merge.theLayoutHasNo', { r: sector.r }),
        });
  }
}
