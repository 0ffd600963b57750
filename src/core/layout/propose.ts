/**
 * Where no layout fits: one worked out from what is there, for a person to look at, name and keep.
 */
import type { FormFactor } from '../flux/container';
import type { TrackEvidence } from './match';
import { steppingOf } from './match';
import { hasFullIds, type Layout, type TrackGaps, type TrackRule } from './layout';

/**
 * Known data rates in kbit/s, and cells a second of the group codes in thousands; a measured one is
 * taken for the nearest, where that is near. Zones of a disk lie closer together than drives of
 * different rates, so that neither may be taken for the other.
 */
const RATES: readonly number[] = [125, 250, 300, 500];
const RATES_OF_ZONES: readonly number[] = [250, 266.67, 285.71, 307.69];
const NEAR = 0.06;
/** A format counts from this share of the sectors its fullest track has. */
const FULL = 0.6;

interface Seen {
  evidence: TrackEvidence;
  /** Encoding, rate and sectors as one text: equal texts are one format. */
  key: string;
  rateKbps: number;
  sectors: { r: number; bytes: number }[];
}

const mostCommon = <T>(values: readonly T[]): T | undefined => {
  const counts = new Map<T, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
};

/**
 * Gaps that fit the turn with these sectors: nominal where there is room, shrunk where there is
 * not.
 */
function gapsFor(
  encoding: TrackRule['encoding'],
  sectors: Seen['sectors'],
  turnCells: number,
): TrackGaps {
  if (encoding === 'gcr-4to5')
    return {
      postIndex: 8,
      indexMark: false,
      afterIndexMark: 0,
      syncBytes: 5,
      idToData: 9,
      afterData: 8,
    };
  if (encoding === 'gcr-6and2')
    return {
      postIndex: 16,
      indexMark: false,
      afterIndexMark: 0,
      syncBytes: 0,
      idToData: 6,
      afterData: 12,
    };
  const fm = encoding === 'fm';
  const overhead = fm ? 6 + 7 + 11 + 6 + 1 + 2 : 12 + 3 + 7 + 22 + 12 + 3 + 1 + 2;
  const room = turnCells / 16 - sectors.reduce((sum, { bytes }) => sum + bytes + overhead, 0);
  const withMark = room > (fm ? 73 : 146) + 20 * sectors.length;
  const start = withMark ? (fm ? 73 : 146) : Math.min(32, Math.max(4, Math.floor(room / 4)));
  const afterData = Math.max(
    1,
    Math.min(fm ? 27 : 84, Math.floor((0.97 * room - start) / sectors.length)),
  );
  return withMark
    ? {
        postIndex: fm ? 40 : 80,
        indexMark: true,
        afterIndexMark: fm ? 26 : 50,
        syncBytes: fm ? 6 : 12,
        idToData: fm ? 11 : 22,
        afterData,
      }
    : {
        postIndex: start,
        indexMark: false,
        afterIndexMark: 0,
        syncBytes: fm ? 6 : 12,
        idToData: fm ? 11 : 22,
        afterData,
      };
}

function knownRate(measured: number, rates: readonly number[]): number {
  const off = (rate: number) => Math.abs(measured / rate - 1);
  const nearest = [...rates].sort((a, b) => off(a) - off(b))[0]!;
  return off(nearest) < NEAR / 2 ? nearest : Math.round(measured);
}

function seenOf(evidence: TrackEvidence, rpm: number): Seen | null {
  const { encoding, turnCells, found } = evidence;
  if (!encoding || found.length === 0 || turnCells === 0) return null;
  const isPlain = hasFullIds(encoding);
  const measured = (turnCells * rpm) / 60 / 1000 / (isPlain ? 2 : 1);
  const rateKbps = knownRate(measured, isPlain ? RATES : RATES_OF_ZONES);
  const byNumber = new Map(found.map(({ r, size }) => [r, size]));
  const sectors = [...byNumber].sort((a, b) => a[0] - b[0]).map(([r, bytes]) => ({ r, bytes }));
  return {
    evidence,
    rateKbps,
    sectors,
    key: `${encoding} ${rateKbps} ${sectors.map(({ r, bytes }) => `${r}:${bytes}`).join(' ')}`,
  };
}

/** A layout of what was found, or null where next to nothing was. */
export function proposeLayout(
  tracks: readonly TrackEvidence[],
  form: FormFactor | null,
  rpm: number,
): Layout | null {
  const stepping = steppingOf(tracks);
  const seen = tracks
    .filter(({ cylinder }) => cylinder % stepping === 0)
    .flatMap((track) => seenOf(track, rpm) ?? []);
  if (seen.length === 0) return null;
  const cylinderOf = ({ evidence }: Seen) => evidence.cylinder / stepping;
  const cylinders = Math.max(...seen.map(cylinderOf)) + 1;
  const heads = seen.some(({ evidence }) => evidence.head > 0) ? 2 : 1;
  const rules: TrackRule[] = [];
  for (let head = 0; head < heads; head++) {
    rulesOfHead(seen, head, cylinderOf, rules, heads, cylinders);
  }
  const ids = (head: number) =>
    mostCommon(
      seen
        .filter(({ evidence }) => evidence.head === head)
        .flatMap(({ evidence }) => evidence.found.map(({ h }) => h)),
    );
  const offset =
    mostCommon(seen.flatMap((each) => each.evidence.found.map(({ c }) => c - cylinderOf(each)))) ??
    0;
  const headList = Array.from({ length: heads }, (_, i) => i);
  return {
    id: 'proposed',
    title: 'Worked out from a capture',
    forms: [form ?? '3.5'],
    cylinders,
    heads,
    rpm,
    stepping: stepping === 2 ? 'double' : 'single',
    firstCylinder: Math.max(0, Math.min(255 - cylinders, offset)),
    recordedHeads: headList.map((head) => ids(head) ?? head),
    imageHeads: headList,
    imageBy: 'cylinder',
    tracks: joinHeads(rules, heads),
  };
}

function rulesOfHead(
  seen: Seen[],
  head: number,
  cylinderOf: ({ evidence }: Seen) => number,
  rules: TrackRule[],
  heads: number,
  cylinders: number,
) {
  let current: { from: number; to: number; seen: Seen } | null = null;
  const onHead = seen
    .filter(({ evidence }) => evidence.head === head)
    .sort((a, b) => cylinderOf(a) - cylinderOf(b));
  const close = () => {
    if (!current) return;
    const {
      from,
      to,
      seen: { evidence, rateKbps, sectors },
    } = current;
    rules.push({
      encoding: evidence.encoding!,
      rateKbps,
      cylinders: [from, to],
      ...(heads > 1 && { heads: [head] }),
      sectors,
      gaps: gapsFor(evidence.encoding!, sectors, evidence.turnCells),
    });
  };
  for (let at = 0; at < onHead.length;) {
    // A track that lacks some of its neighbours' sectors is a hurt one of the same format: the
    // fullest speaks for them.
    const here = onHead[at]!;
    let next = at;
    let fullest = here;
    while (next < onHead.length && isAlike(fullest, onHead[next]!)) {
      if (onHead[next]!.sectors.length > fullest.sectors.length) fullest = onHead[next]!;
      next++;
    }
    if (current) current.to = cylinderOf(here) - 1;
    close();
    current = { from: current ? cylinderOf(here) : 0, to: cylinders - 1, seen: fullest };
    at = next;
  }
  close();
}

function isAlike(full: Seen, other: Seen): boolean {
  if (
    full.evidence.encoding !== other.evidence.encoding ||
    Math.abs(full.rateKbps / other.rateKbps - 1) > NEAR
  )
    return false;
  const [larger, smaller] =
    full.sectors.length >= other.sectors.length ? [full, other] : [other, full];
  const keys = new Set(larger.sectors.map(({ r, bytes }) => `${r}:${bytes}`));
  return (
    smaller.sectors.every(({ r, bytes }) => keys.has(`${r}:${bytes}`)) &&
    (smaller.sectors.length >= FULL * larger.sectors.length || smaller.sectors.length <= 2)
  );
}

/** Rules that both heads share are written once. */
function joinHeads(rules: readonly TrackRule[], heads: number): TrackRule[] {
  const [first, second] = [0, 1].map((head) =>
    rules.filter((rule) => rule.heads?.includes(head)).map(({ heads: _heads, ...rule }) => rule),
  );
  return heads === 2 && JSON.stringify(first) === JSON.stringify(second) ? first! : [...rules];
}
