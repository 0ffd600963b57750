/**
 * What is on a disk that is to be written, from a few of its tracks: nothing, a format without
 * files, or somebody's data.
 */
import { memorySource } from '../bits/byte-source';
import type { Digester } from '../digester';
import { identifyVolumes, IN_OTHER_ORDER } from '../identify/identify';
import { buildFlatImage } from '../image/flat';
import { digestOfTrack, type TrackDigest } from '../image/track-digests';
import { Layout, tracksOfImage } from '../layout/layout';
import { allSectors, type CaptureDecode } from '../reading/decode/decode-capture';
import { TrackDecode } from '../reading/decode/track-decoder';
import { isSound } from '../reading/grades';
import { Area, areasOf } from '../structure/structure';
import { turnedBytes } from '../volume/sixteen-sector-order';

interface TargetLook {
  state: 'blank' | 'formatted' | 'data';
  sectors: number;
  /** Of these, those that do not read. */
  unsound: number;
  layout: string | null;
  /** The first names on it, where a directory was read. */
  files: string[];
  label: string | null;
  /** Of the tracks looked at that tell one disk from another. */
  digests: TrackDigest[];
  /** What was read, in its layout's own order, with zeros elsewhere; null without a layout. */
  image: Uint8Array | null;
}

/** Bytes that one filling makes: the smallest sector. */
const UNIT = 128;
/** Names told. */
const MAX_NAMES = 6;
/**
 * Outermost ones, those where directories lie in one layout or another, with a drive that must step
 * twice as well, and a few between.
 */
const LOOKED_AT = [0, 1, 2, 4, 10, 17, 18, 34, 36, 39, 40, 60, 78];

/** The tracks to look at. */
export function tracksToLookAt({
  cylinders,
  heads,
}: {
  cylinders: number;
  heads: number;
}): { cylinder: number; head: number }[] {
  return LOOKED_AT.filter((cylinder) => cylinder < cylinders).flatMap((cylinder) =>
    Array.from({ length: heads }, (_, head) => ({ cylinder, head })),
  );
}

const isUniform = (bytes: Uint8Array) => bytes.every((byte) => byte === bytes[0]);

/**
 * Judges the tracks that were read. In doubt it is data: a format is one only where nothing that
 * was read is anything else.
 */
export async function judgeTarget(decoded: CaptureDecode, digester: Digester): Promise<TargetLook> {
  const { layout, stepping, tracks } = decoded;
  const found = tracks
    .flatMap(({ sectors }) => sectors)
    .filter(({ grade }) => grade !== 'lost' && grade !== 'unread');
  const readable = found.filter(({ grade, data }) => isSound(grade) && data);
  const about = {
    sectors: found.length,
    unsound: found.length - readable.length,
    layout: layout?.id ?? null,
    files: [] as string[],
    label: null as string | null,
    digests: [] as TrackDigest[],
    image: null as Uint8Array | null,
  };
  if (found.length === 0) return { state: 'blank', ...about };
  const uniform =
    readable.length === found.length && readable.every(({ data }) => isUniform(data!));
  if (!layout) return { state: uniform ? 'formatted' : 'data', ...about };
  addDigests(layout, tracks, stepping, digester, about);
  const { bytes } = buildFlatImage(layout, allSectors(decoded), { stepping });
  about.image = bytes;
  if (uniform) return { state: 'formatted', ...about };
  const { volumes } = await identifyVolumes(memorySource(bytes));
  const [first] = volumes;
  if (!first) return { state: 'data', ...about };
  const entries = volumes.flatMap(({ volume }) => volume.entries.filter(({ deleted }) => !deleted));
  about.files = entries.slice(0, MAX_NAMES).map(({ path }) => path);
  about.label = first.volume.label;
  // Files that were deleted are data all the same: whatever lies beyond the volume's own areas must
  // be a format's filling.
  const image = first.reasons.some(({ code }) => code === IN_OTHER_ORDER.code)
    ? turnedBytes(bytes)
    : bytes;
  const own =
    volumes.length === 1 && first.offset === 0
      ? await areasOf(memorySource(image), first.volume.filesystem)
      : [];
  const untouched = isUntouched(image, own);
  return {
    state:
      entries.length === 0 && untouched && readable.length === found.length ? 'formatted' : 'data',
    ...about,
  };
}

function addDigests(
  layout: Layout,
  tracks: TrackDecode[],
  stepping: number,
  digester: Digester,
  about: {
    sectors: number;
    unsound: number;
    layout: string | null;
    files: string[];
    label: string | null;
    digests: TrackDigest[];
    image: Uint8Array | null;
  },
) {
  for (const place of tracksOfImage(layout)) {
    const track = tracks.find(
      ({ cylinder, head }) => cylinder === place.cylinder * stepping && head === place.head,
    );
    const digest = track && digestOfTrack(place, track.sectors, digester);
    if (digest) about.digests.push({ cylinder: place.cylinder, head: place.head, digest });
  }
}

function isUntouched(image: Uint8Array, own: Area[]) {
  let untouched = true;
  for (let at = 0; at < image.length && untouched; at += UNIT) {
    untouched =
      own.some((area) => area.offset < at + UNIT && area.offset + area.length > at) ||
      isUniform(image.subarray(at, at + UNIT));
  }
  return untouched;
}
