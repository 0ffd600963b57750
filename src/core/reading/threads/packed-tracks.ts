/**
 * Decoded tracks as they come back from a thread: numbers in one array, bytes in one, and each
 * text once. Thousands of
 * sectors copied object by object take longer than they took to decode.
 */
import type { Said } from '@/core/said';
import { RECOVERIES, type Recovery } from '@/core/encoding';
import { ENCODING_IDS } from '@/core/layout/layout';
import { GRADES } from '../grades';
import { MENDINGS, type TrackSector } from '../track-sector';
import type { TrackDecode } from '../decode/track-decoder';

export interface PackedTracks {
  tracks: (Omit<TrackDecode, 'sectors'> & { count: number })[];
  numbers: Float64Array;
  bytes: Uint8Array;
  texts: string[];
}

const ALL_RECOVERIES: readonly Recovery[] = [...RECOVERIES, 'likelihood', 'by-hand', 'told'];
/** Numbers a sector takes. */
const WIDTH = 23;
const NONE = -1;

/** Texts by number. */
class Texts {
  readonly list: string[] = [];
  private readonly at = new Map<string, number>();
  private readonly saidAt = new Map<Said, number>();

  put(text: string): number {
    let at = this.at.get(text);
    if (at === undefined) {
      at = this.list.push(text) - 1;
      this.at.set(text, at);
    }
    return at;
  }

  /** A reason that is the same object as one before is not looked at again. */
  putSaid(said: Said): number {
    let at = this.saidAt.get(said);
    if (at === undefined) {
      at = this.put(JSON.stringify(said));
      this.saidAt.set(said, at);
    }
    return at;
  }
}

const orNone = (value: number | null | undefined): number => value ?? NONE;

/** The numbers of a sector, as many as `WIDTH`, in the order in which they are read back. */
function numbersOf(s: TrackSector, texts: Texts): number[] {
  const { source } = s;
  return [
    ENCODING_IDS.indexOf(s.encoding),
    s.cylinder,
    s.head,
    s.c,
    orNone(s.h),
    s.r,
    orNone(s.n),
    s.idExtra ? texts.put(JSON.stringify(s.idExtra)) : NONE,
    s.size,
    s.deleted ? 1 : 0,
    orNone(s.mark),
    GRADES.indexOf(s.grade),
    s.mending ? MENDINGS.indexOf(s.mending) : NONE,
    s.remarks.length > 0 ? texts.put(JSON.stringify(s.remarks)) : NONE,
    orNone(s.data?.length),
    orNone(s.angle),
    orNone(s.span),
    s.seen,
    s.seenSound,
    source ? source.reading * 256 + ALL_RECOVERIES.indexOf(source.recovery) : NONE,
    source?.pass ?? 0,
    source?.turn ?? 0,
    texts.putSaid(s.why),
  ];
}

export function packTracks(decoded: readonly TrackDecode[]): PackedTracks {
  const count = decoded.reduce((sum, { sectors }) => sum + sectors.length, 0);
  const numbers = new Float64Array(count * WIDTH);
  const bytes = new Uint8Array(
    decoded.reduce(
      (sum, { sectors }) => sum + sectors.reduce((all, { data }) => all + (data?.length ?? 0), 0),
      0,
    ),
  );
  const texts = new Texts();
  let at = 0;
  let byteAt = 0;
  for (const { sectors } of decoded) {
    for (const s of sectors) {
      numbers.set(numbersOf(s, texts), at);
      at += WIDTH;
      if (s.data) {
        bytes.set(s.data, byteAt);
        byteAt += s.data.length;
      }
    }
  }
  return {
    tracks: decoded.map(({ sectors, ...track }) => ({ ...track, count: sectors.length })),
    numbers,
    bytes,
    texts: texts.list,
  };
}

export function unpackTracks({ tracks, numbers, bytes, texts }: PackedTracks): TrackDecode[] {
  let at = 0;
  let byteAt = 0;
  // The same few reasons for thousands of sectors: each is read once.
  const whys = new Map<number, Said>();
  const whyAt = (i: number) => {
    const why = whys.get(i) ?? (JSON.parse(texts[i]!) as Said);
    whys.set(i, why);
    return why;
  };
  const orNull = (value: number) => (value === NONE ? null : value);
  const sector = (): TrackSector => {
    const n = (i: number) => numbers[at + i]!;
    const length = n(14);
    const data = length === NONE ? null : bytes.subarray(byteAt, byteAt + length);
    byteAt += Math.max(0, length);
    const made: TrackSector = {
      encoding: ENCODING_IDS[n(0)]!,
      cylinder: n(1),
      head: n(2),
      c: n(3),
      h: orNull(n(4)),
      r: n(5),
      n: orNull(n(6)),
      idExtra: n(7) === NONE ? null : JSON.parse(texts[n(7)]!),
      size: n(8),
      deleted: n(9) === 1,
      mark: orNull(n(10)),
      grade: GRADES[n(11)]!,
      mending: n(12) === NONE ? null : MENDINGS[n(12)]!,
      remarks: n(13) === NONE ? [] : JSON.parse(texts[n(13)]!),
      data,
      angle: orNull(n(15)),
      span: orNull(n(16)),
      seen: n(17),
      seenSound: n(18),
      why: whyAt(n(22)),
      source:
        n(19) === NONE
          ? null
          : {
              reading: Math.floor(n(19) / 256),
              recovery: ALL_RECOVERIES[n(19) % 256]!,
              pass: n(20),
              turn: n(21),
            },
    };
    at += WIDTH;
    return made;
  };
  return tracks.map(({ count, ...track }) => ({
    ...track,
    sectors: Array.from({ length: count }, sector),
  }));
}
