/**
 * CP/M 2.2 directories, read and checked; the disk parameter set given, or worked out from the
 * directory itself.
 */
import type { ByteSource } from '../../bits/byte-source';
import {
  BlockOwners,
  ProblemList,
  bytesOfExtents,
  extentVolume,
  fileEntry,
  joined,
  pathOf,
} from '../extent-volume';
import { inUnits } from '../own-units';
import { HOLE, type Extent, type Volume, type VolumeEntry } from '../volume';
import { SKEW_6, inOrder, shapesOfSize, type CpmParameters } from './parameters';

const ENTRY = 32;
const DELETED = 0xe5;
const RECORD = 128;
const EXTENT = 16_384;
const MAX_USERS = 31;

interface CpmEvidence {
  parameters: CpmParameters;
  confidence: number;
  reasons: string[];
}

interface Derived {
  blocks: number;
  numberBytes: 1 | 2;
  extentMask: number;
}

export function deriveCpm({
  sectorBytes,
  sectorsPerTrack,
  tracks,
  reservedTracks,
  blockSize,
}: CpmParameters): Derived {
  const blocks = Math.floor(
    ((tracks - reservedTracks) * sectorsPerTrack * sectorBytes) / blockSize,
  );
  const numberBytes = blocks <= 256 ? 1 : 2;
  return {
    blocks,
    numberBytes,
    extentMask: Math.max(0, (numberBytes === 1 ? blockSize / 1024 : blockSize / 2048) - 1),
  };
}

/** Where a byte behind the reserved tracks lies in the image. */
export function placeOfByte(
  { sectorBytes, sectorsPerTrack, reservedTracks, skew }: CpmParameters,
  at: number,
): number {
  const sector = Math.floor(at / sectorBytes);
  const track = reservedTracks + Math.floor(sector / sectorsPerTrack);
  return (
    (track * sectorsPerTrack + skew[sector % sectorsPerTrack]! - 1) * sectorBytes +
    (at % sectorBytes)
  );
}

/** Extents of a stretch behind the reserved tracks. */
function extentsOf(parameters: CpmParameters, from: number, length: number): Extent[] {
  const extents: Extent[] = [];
  for (let at = from; at < from + length;) {
    const step = Math.min(
      from + length - at,
      parameters.sectorBytes - (at % parameters.sectorBytes),
    );
    extents.push({ offset: placeOfByte(parameters, at), length: step });
    at += step;
  }
  return extents;
}

async function readStretch(
  source: ByteSource,
  parameters: CpmParameters,
  from: number,
  length: number,
): Promise<Uint8Array> {
  const out = new Uint8Array(length).fill(DELETED);
  let at = 0;
  for (const extent of extentsOf(parameters, from, length)) {
    out.set(await source.read(extent.offset, extent.length), at);
    at += extent.length;
  }
  return out;
}

interface DirectoryEntry {
  user: number;
  name: string;
  locked: boolean;
  /** Which entry of its file, from 0, and the records of all its extents. */
  number: number;
  records: number;
  pointers: number[];
  at: number;
}

const isNameByte = (byte: number) => {
  const seven = byte & 0x7f;
  return seven >= 0x20 && seven < 0x7f && !'<>.,;:=?*[]|'.includes(String.fromCharCode(seven));
};
const isPlausible = (entry: Uint8Array) =>
  entry[0] === DELETED ||
  (entry[0]! <= MAX_USERS &&
    entry[1] !== 0x20 &&
    entry.subarray(1, 12).every(isNameByte) &&
    entry[12]! <= 31 &&
    entry[14]! <= 63 &&
    entry[15]! <= 128);

function parseEntry(
  entry: Uint8Array,
  at: number,
  { numberBytes, extentMask }: Derived,
): DirectoryEntry {
  const text = (from: number, length: number) =>
    Array.from(entry.subarray(from, from + length), (byte) => String.fromCharCode(byte & 0x7f))
      .join('')
      .trimEnd();
  const type = text(9, 3);
  const extent = (entry[14]! & 0x3f) * 32 + (entry[12]! & 0x1f);
  const pointers =
    numberBytes === 1
      ? [...entry.subarray(16, 32)]
      : Array.from({ length: 8 }, (_, i) => entry[16 + i * 2]! | (entry[17 + i * 2]! << 8));
  return {
    user: entry[0]!,
    name: `${text(1, 8)}${type ? `.${type}` : ''}`,
    locked: (entry[9]! & 0x80) !== 0,
    number: Math.floor(extent / (extentMask + 1)),
    records: (extent & extentMask) * 128 + entry[15]!,
    pointers,
    at,
  };
}

/**
 * How well a parameter set explains what stands in the directory, from 0 to 1, and what speaks for
 * it.
 */
function judge(
  directory: Uint8Array,
  parameters: CpmParameters,
): { score: number; reasons: string[] } {
  const derived = deriveCpm(parameters);
  const directoryBlocks = Math.ceil((parameters.directoryEntries * ENTRY) / parameters.blockSize);
  const taken = new Set<number>();
  let live = 0;
  let right = 0;
  for (let at = 0; at + ENTRY <= directory.length; at += ENTRY) {
    const bytes = directory.subarray(at, at + ENTRY);
    if (bytes[0] === DELETED) continue;
    if (!isPlausible(bytes)) return { score: 0, reasons: [] };
    live++;
    const { records, pointers } = parseEntry(bytes, at, derived);
    const used = pointers.filter((block) => block !== 0);
    const inside = used.every(
      (block) => block >= directoryBlocks && block < derived.blocks && !taken.has(block),
    );
    const needed = Math.ceil((records * RECORD) / parameters.blockSize);
    for (const block of used) taken.add(block);
    if (inside && used.length === needed && records <= (derived.extentMask + 1) * 128) right++;
  }
  return {
    score: live === 0 ? 0 : right / live,
    reasons: [
      `${right} of ${live} directory entries have as many blocks of ` +
        `${parameters.blockSize} bytes as their records need, all within the disk and ` +
        'none twice',
    ],
  };
}

const RESERVED = [2, 1, 0, 3, 4] as const;
const BLOCK_SIZES = [1024, 2048, 4096] as const;
const MAX_ENTRIES = 512;

/** Works the parameter set out of what stands where a directory may be. */
export async function probeCpm(source: ByteSource): Promise<CpmEvidence | null> {
  let best: CpmEvidence | null = null;
  for (const shape of shapesOfSize(source.size)) {
    const orders = [
      inOrder(shape.sectorsPerTrack),
      ...(shape.sectorsPerTrack === 26 ? [SKEW_6] : []),
    ];
    for (const skew of orders) {
      for (const reservedTracks of RESERVED) {
        const bare = { ...shape, skew, reservedTracks, blockSize: 1024, directoryEntries: 16 };
        const directory = await readStretch(source, bare, 0, MAX_ENTRIES * ENTRY);
        let entries = 0;
        while (
          entries < MAX_ENTRIES &&
          isPlausible(directory.subarray(entries * ENTRY, entries * ENTRY + ENTRY))
        )
          entries++;
        if (
          entries < 16 ||
          directory.subarray(0, entries * ENTRY).every((byte) => byte === DELETED)
        )
          continue;
        for (const blockSize of BLOCK_SIZES) {
          const found = fitEntries(directory, { ...bare, blockSize }, entries);
          if (found && found.confidence > (best?.confidence ?? 0)) best = found;
        }
      }
    }
  }
  return best && best.confidence >= 0.6 ? best : null;
}

/** The directory ends where the first file's block begins. */
function fitEntries(
  directory: Uint8Array,
  bare: CpmParameters,
  plausible: number,
): CpmEvidence | null {
  const derived = deriveCpm(bare);
  let first = Infinity;
  for (let at = 0; at < plausible * ENTRY; at += ENTRY) {
    if (directory[at] === DELETED) continue;
    for (const block of parseEntry(directory.subarray(at, at + ENTRY), at, derived).pointers)
      if (block > 0) first = Math.min(first, block);
  }
  const room = Math.min(plausible, Number.isFinite(first) ? (first * bare.blockSize) / ENTRY : 64);
  const directoryEntries = [32, 64, 96, 128, 192, 256, 512].filter((count) => count <= room).pop();
  if (!directoryEntries) return null;
  const parameters = { ...bare, directoryEntries };
  const { score, reasons } = judge(directory.subarray(0, directoryEntries * ENTRY), parameters);
  const exact = Number.isFinite(first) && directoryEntries * ENTRY === first * bare.blockSize;
  // A directory fills from its first entry on: one that begins with entries that never were begins
  // elsewhere.
  const beginsBlank = directory.subarray(0, ENTRY).every((byte) => byte === DELETED);
  return score === 0
    ? null
    : {
        parameters,
        confidence: score * (exact ? 0.9 : 0.75) * (beginsBlank ? 0.8 : 1),
        reasons: [
          ...reasons,
          `${parameters.reservedTracks} reserved tracks, ${directoryEntries} directory ` +
            `entries${parameters.skew[1] === 2 ? '' : `, sectors in the order ${parameters.skew.slice(0, 3).join(', ')} …`}`,
        ],
      };
}

export async function openCpm(
  source: ByteSource,
  { parameters }: Pick<CpmEvidence, 'parameters'>,
): Promise<Volume> {
  const problems = new ProblemList();
  const derived = deriveCpm(parameters);
  const { blockSize, directoryEntries } = parameters;
  const directory = await readStretch(source, parameters, 0, directoryEntries * ENTRY);
  const wanted = parameters.tracks * parameters.sectorsPerTrack * parameters.sectorBytes;
  if (source.size < wanted)
    problems.report(
      'truncated-image',
      source.size,
      `The image ends after ${source.size} of ${wanted} bytes: what lies beyond is not there.`,
    );
  const directoryBlocks = Math.ceil((directoryEntries * ENTRY) / blockSize);
  const owners = new BlockOwners(derived.blocks);
  const system = owners.owner('the directory');
  for (let block = 0; block < directoryBlocks; block++) owners.claim(block, system);
  const files = new Map<string, DirectoryEntry[]>();
  const erased = new Map<string, DirectoryEntry[]>();
  for (let i = 0; i < directoryEntries; i++) {
    const bytes = directory.subarray(i * ENTRY, i * ENTRY + ENTRY);
    const at = placeOfByte(parameters, i * ENTRY);
    const isErased = bytes[0] === DELETED;
    if (isErased && (bytes[1] === DELETED || !bytes.subarray(1, 12).every(isNameByte))) continue;
    if (!isPlausible(bytes)) {
      problems.report('directory-damaged', at, `Directory entry ${i} is no entry of a file.`);
      continue;
    }
    const entry = parseEntry(bytes, at, derived);
    const group = isErased ? erased : files;
    const key = `${entry.user}/${entry.name}`;
    group.set(key, [...(group.get(key) ?? []), entry]);
  }
  const make = (entries: DirectoryEntry[], deleted: boolean): VolumeEntry =>
    fileOf(entries, deleted, { parameters, derived, owners, problems, size: source.size });
  const live = [...files.values()].map((entries) => make(entries, false));
  const gone = [...erased.values()].map((entries) => make(entries, true));
  let used = 0;
  for (let block = 0; block < derived.blocks; block++) if (owners.isOwned(block)) used++;
  return extentVolume(source, {
    filesystem: 'cpm',
    label: null,
    totalBytes: derived.blocks * blockSize,
    freeBytes: (derived.blocks - used) * blockSize,
    entries: [...live, ...gone],
    problems: problems.all(),
  });
}

interface Making {
  parameters: CpmParameters;
  derived: Derived;
  owners: BlockOwners;
  problems: ProblemList;
  size: number;
}

function fileOf(
  entries: DirectoryEntry[],
  deleted: boolean,
  { parameters, derived, owners, problems, size }: Making,
): VolumeEntry {
  const { blockSize } = parameters;
  const [{ user, name, at }] = entries as [DirectoryEntry];
  const folders = deleted || user === 0 ? [] : [String(user)];
  const path = pathOf(folders, name, problems, at);
  const owner = deleted ? 0 : owners.owner(path);
  const perEntry = (derived.extentMask + 1) * EXTENT;
  const ordered = [...entries].sort((a, b) => a.number - b.number);
  const extents: Extent[] = [];
  let bytes = 0;
  let damaged = false;
  let left = true;
  for (const [i, { number, records, pointers, at: place }] of ordered.entries()) {
    const start = number * perEntry;
    if (i > 0 && ordered[i - 1]!.number === number) {
      if (!deleted)
        problems.report(
          'directory-damaged',
          place,
          `${path}: two entries stand for the same part of it.`,
        );
      damaged = true;
      continue;
    }
    const before = bytesOfExtents(extents);
    // A part that no entry stands for was never written.
    if (start > before) extents.push({ offset: HOLE, length: start - before });
    const needed = Math.ceil((records * RECORD) / blockSize);
    for (let block = 0; block < Math.min(needed, pointers.length); block++) {
      const pointer = pointers[block]!;
      if (pointer === 0) {
        extents.push({ offset: HOLE, length: blockSize });
        continue;
      }
      const first = placeOfByte(parameters, pointer * blockSize);
      if (pointer >= derived.blocks || first >= size) {
        if (!deleted)
          problems.report('out-of-range', place, `${path}: block ${pointer} is not on the disk.`);
        damaged = true;
        extents.push({ offset: HOLE, length: blockSize });
        continue;
      }
      if (deleted) left &&= !owners.isOwned(pointer);
      else {
        const other = owners.claim(pointer, owner);
        if (other) {
          problems.report('cross-linked', place, `${path} and ${other} share block ${pointer}.`);
          damaged = true;
        }
      }
      extents.push(...extentsOf(parameters, pointer * blockSize, blockSize));
    }
    bytes = Math.max(bytes, start + records * RECORD);
  }
  const recoverable = !deleted
    ? null
    : left && !damaged && bytes > 0
      ? ('whole' as const)
      : ('none' as const);
  return fileEntry({
    path,
    recordedName: name,
    ownSize: inUnits(recoverable === 'none' ? 0 : Math.ceil(bytes / RECORD), 'record'),
    locked: ordered.some(({ locked }) => locked),
    bytes: recoverable === 'none' ? 0 : bytes,
    extents: joined(extents),
    damaged: damaged && !deleted,
    deleted,
    recoverable,
  });
}
