/**
 * Kinds of sector image: what a file of each holds, in what order, and of which layouts it can
 * be. A kind is known by
 * size and content; a name or extension never counts (`docs/formats/images.md`).
 */
import { bytesOf, type Layout } from '../layout/layout';
import { SHIPPED_LAYOUTS, shippedLayout } from '../layout/shipped';
import {
  CONTENTS,
  CONTENTS_FIELDS,
  CONTENTS_TRACK,
  LAST_SECTOR,
  LINK,
  SECTOR,
  SECTORS,
} from '../volume/catalogue16/records';
import { BYTES_81 } from '../volume/d64/geometry';
import { hasHeader81 } from '../volume/d64/records';
import { BOOT_FIELDS } from '../volume/fat/records';
import { BLOCK, ROOT, isVolumeDirectory } from '../volume/prodos/records';
import { bytesIn, numberIn } from '../volume/record';
import { SIXTEEN_SECTOR_BYTES, turnedBytes } from '../volume/sixteen-sector-order';

export const IMAGE_KINDS = Object.freeze(['img', 'dsk', 'd64', 'd71', 'd81', 'do', 'po'] as const);
export type ImageKind = (typeof IMAGE_KINDS)[number];

/** Status byte of a sector that reads (`.d64` with a byte a sector at its end). */
export const STATUS_GOOD = 1;

/** 40 tracks: the last zone runs on. */
const D64_40: Layout = {
  ...shippedLayout('gcr45-525-35')!,
  id: 'gcr45-525-40',
  cylinders: 40,
  tracks: shippedLayout('gcr45-525-35')!.tracks.map((rule, i, all) =>
    i === all.length - 1 ? { ...rule, cylinders: [30, 39] } : rule,
  ),
};
/** Two sides, each like the one-sided disk, the first whole before the second. */
const D71: Layout = {
  ...shippedLayout('gcr45-525-35')!,
  id: 'gcr45-525-35x2',
  heads: 2,
  recordedHeads: [0, 1],
  imageHeads: [0, 1],
  imageBy: 'head',
};

/**
 * An image as its layout has it: the sectors in the layout's own order, and status bytes where the
 * file had them.
 */
export interface SectorImage {
  kind: ImageKind;
  /** Null where nothing but a size in blocks is known. */
  layout: Layout | null;
  bytes: Uint8Array;
  /** One a sector, in the order of the image. */
  status: Uint8Array | null;
}

/** How many sectors of a catalogue follow one another where this order has them. */
function catalogueChain(bytes: Uint8Array): number {
  let good = 0;
  let [track, sector] = bytesIn(bytes, CONTENTS_FIELDS.catalogueSector, CONTENTS);
  while (track === CONTENTS_TRACK && sector! > 0 && sector! < SECTORS && good < LAST_SECTOR) {
    const [nextTrack, nextSector] = bytesIn(bytes, LINK.nextSector, CONTENTS + sector! * SECTOR);
    const isBelow = nextTrack === CONTENTS_TRACK && nextSector === sector! - 1;
    const isEnd = nextTrack === 0 && nextSector === 0;
    if (!isBelow && !isEnd) break;
    good++;
    [track, sector] = [nextTrack, nextSector];
  }
  return good;
}

/** A volume directory's key block where 512-byte blocks in order have it. */
const hasVolumeDirectory = (bytes: Uint8Array): boolean =>
  isVolumeDirectory(bytes.subarray(ROOT * BLOCK, (ROOT + 1) * BLOCK));

const JUMPS = [0xeb, 0xe9];

const hasParameterBlock = (bytes: Uint8Array): boolean =>
  JUMPS.includes(bytes[BOOT_FIELDS.jump.at]!) &&
  numberIn(bytes, BOOT_FIELDS.sectorBytes) === BLOCK &&
  [1, 2].includes(numberIn(bytes, BOOT_FIELDS.tables));

function read16(bytes: Uint8Array): SectorImage[] {
  const layout = shippedLayout('gcr62-525-16x256')!;
  const candidates = [
    { kind: 'do' as const, bytes, blocks: turnedBytes(bytes) },
    { kind: 'po' as const, bytes: turnedBytes(bytes), blocks: bytes },
  ].map(({ kind, bytes: logical, blocks }) => ({
    image: { kind, layout, bytes: logical, status: null },
    score: 100 * Number(hasVolumeDirectory(blocks)) + catalogueChain(logical),
  }));
  const best = Math.max(...candidates.map(({ score }) => score));
  const found = candidates.filter(({ score }) => score === best);
  return found.map(({ image }) => image);
}

/** Kinds that their size alone tells, with a status byte for each sector or without. */
function bySize(bytes: Uint8Array): SectorImage | null {
  const d64 = SHIPPED_LAYOUTS.find(({ id }) => id === 'gcr45-525-35')!;
  for (const [kind, layout] of [
    ['d64', d64],
    ['d64', D64_40],
    ['d71', D71],
  ] as const) {
    const plain = bytesOf(layout);
    const sectors = plain / SECTOR;
    if (bytes.length === plain) return { kind, layout, bytes, status: null };
    if (bytes.length === plain + sectors)
      return {
        kind,
        layout,
        bytes: bytes.subarray(0, plain),
        status: bytes.subarray(plain),
      };
  }
  return null;
}

/** Three kinds of one size: what lies in it tells them apart, where anything does. */
function read800K(bytes: Uint8Array): SectorImage[] {
  const layout = shippedLayout('mfm-35-10x512')!;
  const d81: SectorImage = { kind: 'd81', layout, bytes, status: null };
  const img: SectorImage = { kind: 'img', layout, bytes: swapHeads(bytes, layout), status: null };
  const po: SectorImage = { kind: 'po', layout: null, bytes, status: null };
  if (hasHeader81(bytes)) return [d81];
  if (hasVolumeDirectory(bytes)) return [po];
  if (hasParameterBlock(bytes)) return [img];
  return [d81, img, po];
}

/**
 * What an image may be, the likeliest first; more than one where nothing in it tells them apart.
 * Never empty.
 */
export function imageCandidates(bytes: Uint8Array): SectorImage[] {
  const told = bySize(bytes);
  if (told) return [told];
  if (bytes.length === SIXTEEN_SECTOR_BYTES) return read16(bytes);
  if (bytes.length === BYTES_81) return read800K(bytes);
  if (bytes.length % BLOCK === 0 && hasVolumeDirectory(bytes))
    return [{ kind: 'po', layout: null, bytes, status: null }];
  const fitting = SHIPPED_LAYOUTS.filter(
    (layout) =>
      layout.imageHeads[0] === 0 && !layout.imageSectors && bytesOf(layout) === bytes.length,
  );
  return fitting.length > 0
    ? fitting.map((layout) => ({ kind: 'img', layout, bytes, status: null }))
    : [{ kind: 'img', layout: null, bytes, status: null }];
}

/** The sectors of a two-headed layout with its two heads changed over within each cylinder. */
export function swapHeads(bytes: Uint8Array, layout: Layout): Uint8Array {
  const track = bytes.length / layout.cylinders / 2;
  const out = new Uint8Array(bytes.length);
  for (let at = 0; at + 2 * track <= bytes.length; at += 2 * track) {
    out.set(bytes.subarray(at + track, at + 2 * track), at);
    out.set(bytes.subarray(at, at + track), at + track);
  }
  return out;
}

/** Kinds that sectors of this layout can be written as; the first is the usual one. */
export function kindsOf(layout: Layout | null): readonly ImageKind[] {
  switch (layout?.id) {
    case 'gcr45-525-35':
    case D64_40.id:
      return ['d64', 'img', 'dsk'];
    case D71.id:
      return ['d71', 'img', 'dsk'];
    case 'mfm-35-10x512':
      return ['d81', 'img', 'dsk'];
    case 'gcr62-525-16x256':
      return ['do', 'po', 'dsk', 'img'];
    case undefined:
      return ['img', 'dsk', 'po'];
    default:
      return ['img', 'dsk'];
  }
}

/**
 * The bytes of a file of this kind; `status` adds a status byte for each sector where the kind has
 * them.
 */
export function writeKind(
  { layout, bytes, status }: Pick<SectorImage, 'layout' | 'bytes' | 'status'>,
  kind: ImageKind,
  withStatus: boolean,
): Uint8Array {
  if (kind === 'po' && layout) return turnedBytes(bytes);
  if (layout?.id === 'mfm-35-10x512' && kind !== 'd81') return swapHeads(bytes, layout);
  if (!withStatus || (kind !== 'd64' && kind !== 'd71')) return bytes;
  const out = new Uint8Array(bytes.length + bytes.length / SECTOR).fill(STATUS_GOOD);
  out.set(bytes);
  if (status) out.set(status, bytes.length);
  return out;
}
