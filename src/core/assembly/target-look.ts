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
import { isSound } from '../reading/grades';
import { areasOf } from '../structure/areas';
import type { Area } from '../structure/structure';
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
  const { layout, stepping } = decoded;
  const found = decoded.tracks
    .flatMap(({ sectors }) => sectors)
    .filter(({ grade }) => grade !== 'lost' && grade !== 'unread');
  const readable = found.filter(({ grade, data }) => isSound(grade) && data);
  const isWhole = readable.length === found.length;
  const look: TargetLook = {
    state: 'blank',
    sectors: found.length,
    unsound: found.length - readable.length,
    layout: layout?.id ?? null,
    files: [],
    label: null,
    digests: [],
    image: null,
  };
  if (found.length === 0) return look;
  const isFilled = isWhole && readable.every(({ data }) => isUniform(data!));
  look.state = isFilled ? 'formatted' : 'data';
  if (!layout) return look;
  look.digests = digestsOf(decoded, layout, digester);
  look.image = buildFlatImage(layout, allSectors(decoded), { stepping }).bytes;
  if (isFilled) return look;
  const contents = await contentsOf(look.image);
  if (!contents) return look;
  const { files, label, isEmpty } = contents;
  return { ...look, files, label, state: isEmpty && isWhole ? 'formatted' : 'data' };
}

/** What the volumes of an image hold; null where there is none. */
async function contentsOf(
  bytes: Uint8Array,
): Promise<{ files: string[]; label: string | null; isEmpty: boolean } | null> {
  const { volumes } = await identifyVolumes(memorySource(bytes));
  const [first] = volumes;
  if (!first) return null;
  const entries = volumes.flatMap(({ volume }) => volume.entries.filter(({ deleted }) => !deleted));
  const isTurned = first.reasons.some(({ code }) => code === IN_OTHER_ORDER.code);
  const image = isTurned ? turnedBytes(bytes) : bytes;
  // Files that were deleted are data all the same: whatever lies beyond the volume's own areas must
  // be a format's filling.
  const own =
    volumes.length === 1 && first.offset === 0
      ? await areasOf(memorySource(image), first.volume.filesystem)
      : [];
  return {
    files: entries.slice(0, MAX_NAMES).map(({ path }) => path),
    label: first.volume.label,
    isEmpty: entries.length === 0 && isUntouched(image, own),
  };
}

function digestsOf(
  { tracks, stepping }: CaptureDecode,
  layout: Layout,
  digester: Digester,
): TrackDigest[] {
  return tracksOfImage(layout).flatMap((place) => {
    const track = tracks.find(
      ({ cylinder, head }) => cylinder === place.cylinder * stepping && head === place.head,
    );
    const digest = track && digestOfTrack(place, track.sectors, digester);
    return digest ? [{ cylinder: place.cylinder, head: place.head, digest }] : [];
  });
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
