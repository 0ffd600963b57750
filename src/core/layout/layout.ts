/** A layout: how sectors are laid out on a kind of disk. Data, not code; the ones that ship are in `shipped.ts`. */
import type { FormFactor } from '../flux/container';

export interface TrackGaps {
  /** Bytes of 4Eh between the index and the first mark (gap 4a). */
  postIndex: number;
  /** Whether an index mark is written. */
  indexMark: boolean;
  /** Bytes behind the index mark (gap 1). */
  afterIndexMark: number;
  /** Bytes of 00h before each mark. */
  syncBytes: number;
  /** Bytes between an ID field and its data field (gap 2). */
  idToData: number;
  /** Bytes behind a data field (gap 3). */
  afterData: number;
}

export interface TrackFormat {
  encoding: 'mfm';
  /** Data rate in kbit/s. */
  rateKbps: number;
  /** Sectors in the order in which they pass the head. */
  sectors: readonly { r: number; n: number }[];
  gaps: TrackGaps;
}

export interface Layout {
  id: string;
  form: FormFactor;
  cylinders: number;
  heads: number;
  rpm: number;
  /** Format of every track. */
  track: TrackFormat;
}

/** Bytes of a sector of size code `n` (ECMA-78: 128 × 2^n). */
export function bytesOfSizeCode(n: number): number {
  return 128 << n;
}

/** Data bytes of one track. */
export function bytesPerTrack(layout: Layout): number {
  return layout.track.sectors.reduce((sum, { n }) => sum + bytesOfSizeCode(n), 0);
}

/** Data bytes of the whole layout. */
export function bytesOf(layout: Layout): number {
  return layout.cylinders * layout.heads * bytesPerTrack(layout);
}

/** Half cells of one turn at the layout's own rate and speed. */
export function turnCells(layout: Layout): number {
  return Math.round((layout.track.rateKbps * 1000 * 2 * 60) / layout.rpm);
}

/** Sectors of one track by number, with their offset in the track's part of a flat image. */
export function sectorPlaces(layout: Layout): { r: number; n: number; offset: number }[] {
  let offset = 0;
  return [...layout.track.sectors].sort((a, b) => a.r - b.r).map(({ r, n }) => {
    const place = { r, n, offset };
    offset += bytesOfSizeCode(n);
    return place;
  });
}

/** One sentence for a person: "3½-inch, 80 cylinders, 2 heads, MFM 250 kbit/s, 9 × 512". */
export function describeLayout(layout: Layout): string {
  const form = { '8': '8-inch', '5.25': '5¼-inch', '3.5': '3½-inch' }[layout.form];
  const { rateKbps, sectors } = layout.track;
  return `${form}, ${layout.cylinders} cylinders, ${layout.heads} heads, MFM ${rateKbps} kbit/s, ${sectors.length} × ${bytesOfSizeCode(sectors[0]!.n)}`;
}
