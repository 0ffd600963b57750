/** What a disc is started from: the catalogue of El Torito (version 1.0), and the images it names. */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import { fileEntry, type ProblemList } from '../extent-volume';
import type { VolumeEntry } from '../volume';
import { SECTOR } from './records';

const ENTRY = 32;
const MOST_ENTRIES = 63;

const VALIDATION = 1;
const BOOTABLE = 0x88;
const SECTION = 0x90;
const LAST_SECTION = 0x91;

/** Bytes of the floppies that an image stands for, by its kind. */
const FLOPPY_BYTES: Readonly<Record<number, number>> = Object.freeze({
  1: 1_228_800,
  2: 1_474_560,
  3: 2_949_120,
});

/** Sectors of images are counted by 512 bytes. */
const IMAGE_SECTOR = 512;

/** A catalogue's first entry sums to nothing, and ends with its mark. */
function isValid(bytes: Uint8Array): boolean {
  let sum = 0;
  for (let i = 0; i + 1 < ENTRY; i += 2) sum += (bytes[i] ?? 0) | ((bytes[i + 1] ?? 0) << 8);
  return (
    bytes.length >= ENTRY &&
    bytes[0] === VALIDATION &&
    bytes[30] === 0x55 &&
    bytes[31] === 0xaa &&
    (sum & 0xffff) === 0
  );
}

/** The image that an entry names; null of headers, and of what is no entry. */
function imageOf(entry: Uint8Array, number: number, size: number): VolumeEntry | null {
  const view = new DataView(entry.buffer, entry.byteOffset, ENTRY);
  const mark = view.getUint8(0);
  const offset = view.getUint32(8, true) * SECTOR;
  if ((mark !== BOOTABLE && mark !== 0) || offset === 0) return null;
  const kind = view.getUint8(1) & 0x0f;
  const bytes = FLOPPY_BYTES[kind] ?? view.getUint16(6, true) * IMAGE_SECTOR;
  const length = Math.max(0, Math.min(bytes, size - offset));
  const name = `boot-image-${number}.img`;
  return fileEntry({
    path: name,
    recordedName: name,
    bytes,
    extents: length > 0 ? [{ offset, length }] : [],
    damaged: length < bytes,
  });
}

/** The images of a catalogue that stands in a block. */
export async function readBootCatalogue(
  source: ByteSource,
  block: number,
  problems: ProblemList,
): Promise<VolumeEntry[]> {
  const bytes = await source.read(block * SECTOR, ENTRY * (MOST_ENTRIES + 1));
  if (!isValid(bytes)) {
    problems.report('boot-catalog-damaged', block * SECTOR, said('iso9660.theCatalogueOfWhat'));
    return [];
  }
  const images: VolumeEntry[] = [];
  for (let at = ENTRY; at + ENTRY <= bytes.length; at += ENTRY) {
    const entry = bytes.subarray(at, at + ENTRY);
    // Behind the first entry there are sections, each with a header of its own, or nothing.
    if (at > ENTRY && entry.every((byte) => byte === 0)) break;
    if (entry[0] === SECTION || entry[0] === LAST_SECTION) continue;
    const image = imageOf(entry, images.length + 1, source.size);
    if (image) images.push(image);
  }
  return images;
}
