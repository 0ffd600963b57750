/**
 * Digests of whole tracks, by which a copy of a disk is known although a few of its sectors differ
 * or are lost.
 */
import { toHex, type Digester } from '../digester';
import { tracksOfImage, type ImageTrack, type Layout } from '../layout/layout';
import { isSound } from '../reading/grades';
import type { TrackSector } from '../reading/track-sector';

export interface TrackDigest {
  cylinder: number;
  head: number;
  digest: string;
}

/** Half a SHA-256: these are compared with one another, and prove nothing. */
const DIGITS = 32;

/**
 * A track that one byte fills was never written after it was formatted: all such tracks are alike,
 * and tell nothing.
 */
const tells = (bytes: Uint8Array) => bytes.some((byte) => byte !== bytes[0]);

const digestOf = (bytes: Uint8Array, digester: Digester) =>
  toHex(digester.sha256(bytes)).slice(0, DIGITS);

/** Of the tracks of an image that hold no byte in `inDoubt` and that tell something. */
export function digestsOfImage(
  layout: Layout,
  image: Uint8Array,
  inDoubt: readonly { offset: number; length: number }[],
  digester: Digester,
): TrackDigest[] {
  return tracksOfImage(layout).flatMap(({ cylinder, head, offset, places }) => {
    const last = places[places.length - 1];
    const end = last ? last.offset + last.bytes : offset;
    const bytes = image.subarray(offset, end);
    if (
      bytes.length < end - offset ||
      !tells(bytes) ||
      inDoubt.some((range) => range.offset < end && range.offset + range.length > offset)
    )
      return [];
    return [{ cylinder, head, digest: digestOf(bytes, digester) }];
  });
}

/**
 * The same of one track as it is read; null until all of it is sound, or where it tells nothing.
 */
export function digestOfTrack(
  { places }: Pick<ImageTrack, 'places'>,
  sectors: readonly TrackSector[],
  digester: Digester,
): string | null {
  const bytes = new Uint8Array(places.reduce((sum, place) => sum + place.bytes, 0));
  let at = 0;
  for (const place of places) {
    const sector = sectors.find(
      ({ r, size, grade, data }) => r === place.r && size === place.bytes && isSound(grade) && data,
    );
    if (!sector) return null;
    bytes.set(sector.data!.subarray(0, place.bytes), at);
    at += place.bytes;
  }
  return tells(bytes) ? digestOf(bytes, digester) : null;
}
