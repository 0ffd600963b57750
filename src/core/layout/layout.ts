/**
 * A layout: how sectors lie on a kind of disk. Data, not code; the ones that ship are in
 * `shipped.ts`, archivists add
 * their own (`schema.ts`). This file is the arithmetic over them.
 */
import { eachOnce, said, type Said } from '@/core/said';
import type { FormFactor } from '../flux/container';
import { formName } from '../medium-form';

export const ENCODING_IDS = Object.freeze(['fm', 'mfm', 'gcr-4to5', 'gcr-6and2'] as const);
export type EncodingId = (typeof ENCODING_IDS)[number];

/** Lengths of what lies between the fields, in bytes; what a byte of each is, the encoding says. */
export interface TrackGaps {
  /** Between the index and the first mark (gap 4a). */
  postIndex: number;
  /** Whether an index mark is written (FM and MFM). */
  indexMark: boolean;
  /** Behind the index mark (gap 1). */
  afterIndexMark: number;
  /** Sync before each ID and data field. */
  syncBytes: number;
  /** Between an ID field and its data field (gap 2). */
  idToData: number;
  /** Behind a data field (gap 3). */
  afterData: number;
}

export interface LaidSector {
  /** Number as recorded in the ID field. */
  r: number;
  /** Bytes of its data field. */
  bytes: number;
}

export interface TrackFormat {
  encoding: EncodingId;
  /** Data bits a second in thousands; for the group codes, code cells a second. */
  rateKbps: number;
  /** In the order in which they pass the head, before any skew. */
  sectors: readonly LaidSector[];
  gaps: TrackGaps;
}

/** The format of some tracks of a layout. */
export interface TrackRule extends TrackFormat {
  /** First and last cylinder that follow it. */
  cylinders: readonly [number, number];
  /** Heads that follow it; all where left out. */
  heads?: readonly number[];
  /** Sectors by which each further cylinder starts later, and each further head. */
  skew?: number;
  headSkew?: number;
}

export interface Layout {
  id: string;
  title?: string;
  /** Sizes of disk it is used on. */
  forms: readonly FormFactor[];
  cylinders: number;
  heads: number;
  rpm: number;
  /** Whether a drive of twice as many cylinders steps twice from one cylinder to the next. */
  stepping: 'single' | 'double';
  /** Cylinder number recorded on the outermost cylinder. */
  firstCylinder: number;
  /** Head number recorded under each physical head. */
  recordedHeads: readonly number[];
  /** Physical heads in the order in which a flat image holds them. */
  imageHeads: readonly number[];
  /** Whether a flat image goes on to the next head first, or to the next cylinder. */
  imageBy: 'cylinder' | 'head';
  /** Sector numbers in the order in which a flat image holds them; ascending where left out. */
  imageSectors?: readonly number[];
  tracks: readonly TrackRule[];
}

/** The format of one track, or null where the layout has none. */
export function formatAt(layout: Layout, cylinder: number, head: number): TrackRule | null {
  if (cylinder >= layout.cylinders || head >= layout.heads) return null;
  return (
    layout.tracks.find(
      ({ cylinders: [from, to], heads }) =>
        cylinder >= from && cylinder <= to && (!heads || heads.includes(head)),
    ) ?? null
  );
}

/** Size code of the ID field (ECMA-78: 128 × 2^n bytes), or null where no code says it. */
export function sizeCode(bytes: number): number | null {
  const n = Math.log2(bytes / 128);
  return Number.isInteger(n) && n >= 0 && n <= 7 ? n : null;
}

/**
 * FM and MFM: ID fields say cylinder, head, number and size. The group codes record cylinder and
 * number alone.
 */
export function hasFullIds(encoding: EncodingId): boolean {
  return encoding === 'fm' || encoding === 'mfm';
}

/** What the ID field of a sector of this layout says. */
export function recordedId(
  layout: Layout,
  encoding: EncodingId,
  cylinder: number,
  head: number,
  { r, bytes }: LaidSector,
): { c: number; h: number | null; r: number; n: number | null } {
  const full = hasFullIds(encoding);
  return {
    c: cylinder + layout.firstCylinder,
    h: full ? (layout.recordedHeads[head] ?? head) : null,
    r,
    n: full ? sizeCode(bytes) : null,
  };
}

/** Number and size as one key. */
export function sectorKey(r: number, bytes: number): number {
  return r * 65536 + bytes;
}

export function trackBytes({ sectors }: TrackFormat): number {
  return sectors.reduce((sum, { bytes }) => sum + bytes, 0);
}

/** Seconds of one code cell at the format's own rate: half a data bit for FM and MFM. */
export function cellSeconds({
  encoding,
  rateKbps,
}: Pick<TrackFormat, 'encoding' | 'rateKbps'>): number {
  return 1 / (rateKbps * 1000 * (hasFullIds(encoding) ? 2 : 1));
}

/** Code cells of one turn at the format's own rate. */
export function turnCells(format: Pick<TrackFormat, 'encoding' | 'rateKbps'>, rpm: number): number {
  return Math.round(60 / rpm / cellSeconds(format));
}

/** A track's part of a flat image. */
export interface ImageTrack {
  cylinder: number;
  head: number;
  format: TrackRule;
  /** Of its first byte in the image. */
  offset: number;
  places: { r: number; bytes: number; offset: number }[];
}

const imageTracks = new WeakMap<Layout, ImageTrack[]>();

/** Every track of the layout in the order of a flat image, with the place of each sector. */
export function tracksOfImage(layout: Layout): readonly ImageTrack[] {
  const known = imageTracks.get(layout);
  if (known) return known;
  const cylinders = Array.from({ length: layout.cylinders }, (_, i) => i);
  const order =
    layout.imageBy === 'cylinder'
      ? cylinders.flatMap((cylinder) => layout.imageHeads.map((head) => [cylinder, head] as const))
      : layout.imageHeads.flatMap((head) => cylinders.map((cylinder) => [cylinder, head] as const));
  let offset = 0;
  const tracks: ImageTrack[] = [];
  for (const [cylinder, head] of order) {
    const format = formatAt(layout, cylinder, head);
    if (!format) continue;
    const rank = (r: number) => layout.imageSectors?.indexOf(r) ?? r;
    const start = offset;
    const places = [...format.sectors]
      .sort((a, b) => rank(a.r) - rank(b.r))
      .map(({ r, bytes }) => {
        const place = { r, bytes, offset };
        offset += bytes;
        return place;
      });
    tracks.push({ cylinder, head, format, offset: start, places });
  }
  imageTracks.set(layout, tracks);
  return tracks;
}

/** Data bytes of the whole layout. */
export function bytesOf(layout: Layout): number {
  const tracks = tracksOfImage(layout);
  const last = tracks[tracks.length - 1];
  return last ? last.offset + trackBytes(last.format) : 0;
}

/** The sectors of one track in the order in which they pass the head from the index on. */
export function sectorsInOrder(
  { sectors, skew = 0, headSkew = 0, cylinders: [from] }: TrackRule,
  cylinder: number,
  head: number,
): LaidSector[] {
  const count = sectors.length;
  const shift = ((((cylinder - from) * skew + head * headSkew) % count) + count) % count;
  return sectors.map((_, i) => sectors[(i + count - shift) % count]!);
}

/** Sectors of a layout altogether. */
export function sectorCount(layout: Layout): number {
  return tracksOfImage(layout).reduce((sum, { format }) => sum + format.sectors.length, 0);
}

export const encodingName = (id: EncodingId): Said => said(`encodings.${id}`);

/** "9 × 512", or "5 × 1024 + 1 × 512". */
export function describeSectors(sectors: readonly Pick<LaidSector, 'bytes'>[]): string {
  const runs: { bytes: number; count: number }[] = [];
  for (const { bytes } of sectors) {
    const same = runs.find((run) => run.bytes === bytes);
    if (same) same.count++;
    else runs.push({ bytes, count: 1 });
  }
  return runs.map(({ bytes, count }) => `${count} × ${bytes}`).join(' + ');
}

/** "MFM, 250 kbit/s, 9 × 512". */
export function describeFormat({
  encoding,
  rateKbps,
  sectors,
}: Pick<TrackFormat, 'encoding' | 'rateKbps' | 'sectors'>): Said {
  return said('layout.format', {
    encoding: encodingName(encoding),
    rateKbps: Math.round(rateKbps),
    sectors: describeSectors(sectors),
  });
}

/** One sentence for a person: "3½-inch, 80 cylinders, 2 heads, MFM, 250 kbit/s, 9 × 512". */
export function describeLayout({ forms, cylinders, heads, tracks }: Layout): Said {
  const formats = eachOnce(tracks.map(describeFormat));
  const shown =
    formats.length > 2
      ? [
          said('layout.zones', {
            encoding: encodingName(tracks[0]!.encoding),
            zones: formats.length,
          }),
        ]
      : formats;
  return said('layout.describes', {
    forms: forms.map(formName),
    cylinders,
    heads,
    formats: shown,
  });
}
