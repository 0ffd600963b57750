/**
 * Kinds of sector image: what a file of each holds, in what order, and of which layouts it can
 * be. A kind is known by
 * size and content; a name or extension never counts (`docs/formats/images.md`).
 */
import { bytesOf, type Layout } from '../layout/layout';
import { SHIPPED_LAYOUTS, shippedLayout } from '../layout/shipped';
import { SECTORS_OF_BLOCKS, SIXTEEN_SECTOR_BYTES } from '../volume/sixteen-sector-order';

export const IMAGE_KINDS = Object.freeze(['img', 'dsk', 'd64', 'd71', 'd81', 'do', 'po'] as const);
export type ImageKind = (typeof IMAGE_KINDS)[number];

/** Status byte of a sector that reads (`.d64` with a byte a sector at its end). */
export const STATUS_GOOD = 1;
const SECTOR = 256;

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

const TRACK_16 = 16 * SECTOR;
export const BYTES_16 = SIXTEEN_SECTOR_BYTES;

/**
 * The bytes of a 16-sector image with the sectors of every track put from `.do` order into `.po`
 * order, or back.
 */
export function reorder16(bytes: Uint8Array, to: 'do' | 'po'): Uint8Array {
  const out = new Uint8Array(bytes.length);
  for (let track = 0; track + TRACK_16 <= bytes.length; track += TRACK_16) {
    for (const [po, logical] of SECTORS_OF_BLOCKS.entries()) {
      const [from, into] = to === 'po' ? [logical, po] : [po, logical];
      out.set(
        bytes.subarray(track + from * SECTOR, track + (from + 1) * SECTOR),
        track + into * SECTOR,
      );
    }
  }
  return out;
}

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
  /** What the kind was known by. */
  because: string;
}

const text = (bytes: Uint8Array, at: number, length: number) =>
  String.fromCharCode(...bytes.subarray(at, at + length));

/** A catalogue at track 17 whose chain of sectors goes on where this order has it. */
function catalogueChain(bytes: Uint8Array): number {
  let good = 0;
  let [track, sector] = [bytes[17 * TRACK_16 + 1]!, bytes[17 * TRACK_16 + 2]!];
  for (let steps = 0; steps < 15 && track === 17 && sector > 0 && sector < 16; steps++) {
    const at = 17 * TRACK_16 + sector * SECTOR;
    const [nextTrack, nextSector] = [bytes[at + 1]!, bytes[at + 2]!];
    if (!((nextTrack === 17 && nextSector === sector - 1) || (nextTrack === 0 && nextSector === 0)))
      break;
    good++;
    [track, sector] = [nextTrack, nextSector];
  }
  return good;
}

/** A volume directory key block at block 2, for 512-byte blocks in order. */
function hasVolumeDirectory(bytes: Uint8Array): boolean {
  const block = bytes.subarray(2 * 512, 3 * 512);
  const [type, length] = [block[4]! >>> 4, block[4]! & 15];
  return (
    block[0] === 0 &&
    block[1] === 0 &&
    type === 0xf &&
    length > 0 &&
    /^[A-Z][A-Z0-9.]*$/.test(text(block, 5, length)) &&
    block[0x23] === 0x27 &&
    block[0x24] === 0x0d
  );
}

const hasParameterBlock = (bytes: Uint8Array) =>
  (bytes[0] === 0xeb || bytes[0] === 0xe9) &&
  bytes[12] === 2 &&
  bytes[11] === 0 &&
  bytes[16]! >= 1 &&
  bytes[16]! <= 2;

function read16(bytes: Uint8Array): SectorImage[] {
  const layout = shippedLayout('gcr62-525-16x256')!;
  const candidates = [
    { kind: 'do' as const, bytes, blocks: reorder16(bytes, 'po') },
    { kind: 'po' as const, bytes: reorder16(bytes, 'do'), blocks: bytes },
  ].map(({ kind, bytes: logical, blocks }) => ({
    image: { kind, layout, bytes: logical, status: null, because: '' },
    score: 100 * Number(hasVolumeDirectory(blocks)) + catalogueChain(logical),
  }));
  const best = Math.max(...candidates.map(({ score }) => score));
  const found = candidates.filter(({ score }) => score === best);
  const because =
    best >= 100
      ? 'a volume directory lies at its block 2'
      : best > 0
        ? "the catalogue's sectors follow one another"
        : 'its size; nothing in it tells the two orders apart';
  return found.map(({ image }) => ({ ...image, because }));
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
    const because = `its size: ${sectors} sectors`;
    if (bytes.length === plain) return { kind, layout, bytes, status: null, because };
    if (bytes.length === plain + sectors)
      return {
        kind,
        layout,
        bytes: bytes.subarray(0, plain),
        status: bytes.subarray(plain),
        because: `${because} and a status byte for each`,
      };
  }
  return null;
}

/** Three kinds of one size: what lies in it tells them apart, where anything does. */
function read800K(bytes: Uint8Array): SectorImage[] {
  const layout = shippedLayout('mfm-35-10x512')!;
  const header = 39 * 40 * SECTOR;
  const d81: SectorImage = {
    kind: 'd81',
    layout,
    bytes,
    status: null,
    because: 'the header of its directory lies on track 40',
  };
  const img: SectorImage = {
    kind: 'img',
    layout,
    bytes: swapHeads(bytes, layout),
    status: null,
    because: 'a parameter block lies in its first sector',
  };
  const po: SectorImage = {
    kind: 'po',
    layout: null,
    bytes,
    status: null,
    because: 'a volume directory lies at its block 2',
  };
  if (bytes[header] === 40 && bytes[header + 1] === 3 && bytes[header + 2] === 0x44) return [d81];
  if (hasVolumeDirectory(bytes)) return [po];
  if (hasParameterBlock(bytes)) return [img];
  return [d81, img, po].map((image) => ({
    ...image,
    because: 'its size; nothing in it tells what it is',
  }));
}

/**
 * What an image may be, the likeliest first; more than one where nothing in it tells them apart.
 * Never empty.
 */
export function imageCandidates(bytes: Uint8Array): SectorImage[] {
  const told = bySize(bytes);
  if (told) return [told];
  if (bytes.length === BYTES_16) return read16(bytes);
  if (bytes.length === 819_200) return read800K(bytes);
  if (bytes.length % 512 === 0 && hasVolumeDirectory(bytes))
    return [
      {
        kind: 'po',
        layout: null,
        bytes,
        status: null,
        because: 'a volume directory lies at its block 2',
      },
    ];
  const fitting = SHIPPED_LAYOUTS.filter(
    (layout) =>
      layout.imageHeads[0] === 0 && !layout.imageSectors && bytesOf(layout) === bytes.length,
  );
  return fitting.length > 0
    ? fitting.map((layout) => ({ kind: 'img', layout, bytes, status: null, because: 'its size' }))
    : [{ kind: 'img', layout: null, bytes, status: null, because: 'nothing in it says more' }];
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
  if (kind === 'po' && layout) return reorder16(bytes, 'po');
  if (layout?.id === 'mfm-35-10x512' && kind !== 'd81') return swapHeads(bytes, layout);
  if (!withStatus || (kind !== 'd64' && kind !== 'd71')) return bytes;
  const out = new Uint8Array(bytes.length + bytes.length / SECTOR).fill(STATUS_GOOD);
  out.set(bytes);
  if (status) out.set(status, bytes.length);
  return out;
}
