/** Whether an image holds a CP/M volume, and with which parameters. */
import type { ByteSource } from '@/core/bits/byte-source';
import { OF_WHAT_IS_LEFT } from '../family';
import { SKEW_6, inOrder, shapesOfSize, type CpmParameters } from './parameters';
import { ENTRY, DELETED, RECORD, deriveCpm, readStretch, isPlausible, parseEntry } from './records';
import { said, type Said } from '@/core/said';
import { Derived } from './extents';

export interface CpmEvidence {
  /** A sector of its directory is lost. */
  isHurt: boolean;
  parameters: CpmParameters;
  confidence: number;
  reasons: Said[];
}

/**
 * How well a parameter set explains what stands in the directory, from 0 to 1, and what speaks for
 * it.
 */
function judge(
  directory: Uint8Array,
  parameters: CpmParameters,
): { score: number; reasons: Said[] } {
  const derived = deriveCpm(parameters);
  const directoryBlocks = Math.ceil((parameters.directoryEntries * ENTRY) / parameters.blockSize);
  const taken = new Set<number>();
  let live = 0;
  let right = 0;
  for (let at = 0; at + ENTRY <= directory.length; at += ENTRY) {
    const bytes = directory.subarray(at, at + ENTRY);
    if (bytes[0] === DELETED || !isPlausible(bytes)) continue;
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
    reasons: [said('cpm.ofDirectoryEntriesHave', { right, live, blockSize: parameters.blockSize })],
  };
}

const RESERVED = [2, 1, 0, 3, 4] as const;

const BLOCK_SIZES = [1024, 2048, 4096] as const;

const MAX_ENTRIES = 512;

const FEWEST_ENTRIES = 16;

/** Where nothing tells how many there are. */
const USUAL_ENTRIES = 64;

interface Looks {
  /** Entries up to where a directory may go. */
  entries: number;
  /** Of these, the ones that can't be any. */
  hurt: number;
  perSector: number;
}

const entryAt = (directory: Uint8Array, i: number): Uint8Array =>
  directory.subarray(i * ENTRY, i * ENTRY + ENTRY);

/**
 * Entries that look like some, from the first on. One sector of them may be lost: what stands in it
 * does not end the directory, unless it would be its last.
 */
function entriesOf(directory: Uint8Array, sectorBytes: number): Looks {
  const perSector = Math.max(1, sectorBytes / ENTRY);
  const runFrom = (start: number) => {
    let end = start;
    while (end < MAX_ENTRIES && isPlausible(entryAt(directory, end))) end++;
    return end;
  };
  const first = runFrom(0);
  const behind = (Math.floor(first / perSector) + 1) * perSector;
  const entries = runFrom(behind);
  // Behind a lost sector there must be more than one of them that is right.
  if (entries - behind < perSector) return { entries: first, hurt: 0, perSector };
  const skipped = Array.from({ length: behind - first }, (_, i) => entryAt(directory, first + i));
  return {
    entries,
    hurt: skipped.filter((entry) => !isPlausible(entry)).length,
    perSector,
  };
}

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
        const looks = entriesOf(directory, shape.sectorBytes);
        if (
          looks.entries < FEWEST_ENTRIES ||
          directory.subarray(0, looks.entries * ENTRY).every((byte) => byte === DELETED)
        )
          continue;
        for (const blockSize of BLOCK_SIZES) {
          const found = fitEntries(directory, { ...bare, blockSize }, looks);
          if (found && found.confidence > (best?.confidence ?? 0)) best = found;
        }
      }
    }
  }
  if (!best || best.confidence < 0.6) return null;
  return best.isHurt ? { ...best, confidence: OF_WHAT_IS_LEFT } : best;
}

/** The directory ends where the first file's block begins. */
function fitEntries(
  directory: Uint8Array,
  bare: CpmParameters,
  { entries: plausible, hurt, perSector }: Looks,
): CpmEvidence | null {
  const derived = deriveCpm(bare);
  const first = firstPointer(plausible, directory, derived);
  const upToFiles = Number.isFinite(first) ? (first * bare.blockSize) / ENTRY : USUAL_ENTRIES;
  // Its last sector may be the lost one: it ends where files begin all the same.
  const isLastLost = plausible < upToFiles && plausible + perSector >= upToFiles;
  const room = isLastLost ? upToFiles : Math.min(plausible, upToFiles);
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
        isHurt: hurt > 0,
        confidence: score * (exact ? 0.9 : 0.75) * (beginsBlank ? 0.8 : 1) * (hurt > 0 ? 0.9 : 1),
        reasons: [
          ...reasons,
          said('cpm.reservedTracksDirectoryEntries', {
            reservedTracks: parameters.reservedTracks,
            directoryEntries,
            skew: parameters.skew[1] === 2 ? [] : parameters.skew.slice(0, 3).map(String),
          }),
        ],
      };
}

function firstPointer(plausible: number, directory: Uint8Array, derived: Derived) {
  let first = Infinity;
  for (let at = 0; at < plausible * ENTRY; at += ENTRY) {
    const entry = directory.subarray(at, at + ENTRY);
    if (entry[0] === DELETED || !isPlausible(entry)) continue;
    for (const block of parseEntry(entry, at, derived).pointers)
      if (block > 0) first = Math.min(first, block);
  }
  return first;
}
