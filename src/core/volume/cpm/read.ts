/**
 * CP/M 2.2 directories, read and checked; the disk parameter set given, or worked out from the
 * directory itself.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { BlockOwners, ProblemList, extentVolume, fileEntry, pathOf } from '../extent-volume';
import { bytesOfExtents, joined } from '../extents';
import { inUnits } from '../own-units';
import { HOLE, type Extent, type Volume, type VolumeEntry } from '../volume';
import { type CpmParameters } from './parameters';
import type { CpmEvidence } from './probe';
import { ENTRY, DELETED, RECORD, deriveCpm, readStretch, isPlausible, parseEntry } from './records';
import { type Derived, extentsOf, type DirectoryEntry, isNameByte } from './extents';
import { placeOfByte } from './byte-place';
import { said } from '@/core/said';

const EXTENT = 16_384;

export async function openCpm(
  source: ByteSource,
  { parameters }: Pick<CpmEvidence, 'parameters'>,
): Promise<Volume> {
  const problems = new ProblemList();
  const derived = deriveCpm(parameters);
  const { blockSize, directoryEntries } = parameters;
  const directory = await readStretch(source, parameters, 0, directoryEntries * ENTRY);
  tellCutImage(parameters, source, problems);
  const directoryBlocks = Math.ceil((directoryEntries * ENTRY) / blockSize);
  const owners = new BlockOwners(derived.blocks);
  const system = owners.owner(said('volume.theDirectory'));
  for (let block = 0; block < directoryBlocks; block++) owners.claim(block, system);
  const { files, erased } = groupEntries(
    directoryEntries,
    directory,
    parameters,
    problems,
    derived,
  );
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

function tellCutImage(parameters: CpmParameters, source: ByteSource, problems: ProblemList) {
  const wanted = parameters.tracks * parameters.sectorsPerTrack * parameters.sectorBytes;
  if (source.size < wanted)
    problems.report(
      'truncated-image',
      source.size,
      said('cpm.theImageEndsAfter', { source: source.size, wanted }),
    );
}

function groupEntries(
  directoryEntries: number,
  directory: Uint8Array,
  parameters: CpmParameters,
  problems: ProblemList,
  derived: Derived,
) {
  const files = new Map<string, DirectoryEntry[]>();
  const erased = new Map<string, DirectoryEntry[]>();
  for (let i = 0; i < directoryEntries; i++) {
    const bytes = directory.subarray(i * ENTRY, i * ENTRY + ENTRY);
    const at = placeOfByte(parameters, i * ENTRY);
    const isErased = bytes[0] === DELETED;
    if (isErased && (bytes[1] === DELETED || !bytes.subarray(1, 12).every(isNameByte))) continue;
    if (!isPlausible(bytes)) {
      problems.report('directory-damaged', at, said('cpm.directoryEntryIsNo', { i }));
      continue;
    }
    const entry = parseEntry(bytes, at, derived);
    const group = isErased ? erased : files;
    const key = `${entry.user}/${entry.name}`;
    group.set(key, [...(group.get(key) ?? []), entry]);
  }
  return { files, erased };
}

/** A file's blocks as far as its entries were followed. */
interface FileSoFar {
  path: string;
  owner: number;
  deleted: boolean;
  extents: Extent[];
  damaged: boolean;
  /** Whether no other file took any of them. */
  left: boolean;
}

/** Of a deleted file: whole, or not at all. */
const recoverableOf = ({ left, damaged }: FileSoFar, bytes: number): 'whole' | 'none' =>
  left && !damaged && bytes > 0 ? 'whole' : 'none';

/** One more block of a file; `at` is the place of the entry that names it. */
function addBlock(file: FileSoFar, pointer: number, at: number, making: Making): void {
  const { parameters, derived, owners, problems, size } = making;
  const { blockSize } = parameters;
  const { path, deleted } = file;
  if (pointer === 0) {
    file.extents.push({ offset: HOLE, length: blockSize });
    return;
  }
  const first = placeOfByte(parameters, pointer * blockSize);
  if (pointer >= derived.blocks || first >= size) {
    if (!deleted) problems.report('out-of-range', at, said('cpm.blockIsNotOn', { path, pointer }));
    file.damaged = true;
    file.extents.push({ offset: HOLE, length: blockSize });
    return;
  }
  if (deleted) file.left &&= !owners.isOwned(pointer);
  else {
    const other = owners.claim(pointer, file.owner);
    if (other) {
      problems.report('cross-linked', at, said('cpm.andShareBlock', { path, other, pointer }));
      file.damaged = true;
    }
  }
  file.extents.push(...extentsOf(parameters, pointer * blockSize, blockSize));
}

function fileOf(entries: DirectoryEntry[], deleted: boolean, making: Making): VolumeEntry {
  const { parameters, derived, owners, problems } = making;
  const { blockSize } = parameters;
  const [{ user, name, at }] = entries as [DirectoryEntry];
  const folders = deleted || user === 0 ? [] : [String(user)];
  const path = pathOf(folders, name, problems, at);
  const owner = deleted ? 0 : owners.owner(path);
  const perEntry = (derived.extentMask + 1) * EXTENT;
  const ordered = [...entries].sort((a, b) => a.number - b.number);
  const file: FileSoFar = { path, owner, deleted, extents: [], damaged: false, left: true };
  let bytes = 0;
  for (const [i, entry] of ordered.entries()) {
    if (i > 0 && ordered[i - 1]!.number === entry.number) {
      if (!deleted)
        problems.report('directory-damaged', entry.at, said('cpm.twoEntriesStandFor', { path }));
      file.damaged = true;
      continue;
    }
    const start = entry.number * perEntry;
    const before = bytesOfExtents(file.extents);
    // A part that no entry stands for was never written.
    if (start > before) file.extents.push({ offset: HOLE, length: start - before });
    const needed = Math.ceil((entry.records * RECORD) / blockSize);
    for (const pointer of entry.pointers.slice(0, needed))
      addBlock(file, pointer, entry.at, making);
    bytes = Math.max(bytes, start + entry.records * RECORD);
  }
  const { damaged } = file;
  const recoverable = deleted ? recoverableOf(file, bytes) : null;
  return fileEntry({
    path,
    recordedName: name,
    ownSize: inUnits(recoverable === 'none' ? 0 : Math.ceil(bytes / RECORD), 'record'),
    locked: ordered.some(({ locked }) => locked),
    bytes: recoverable === 'none' ? 0 : bytes,
    extents: joined(file.extents),
    damaged: damaged && !deleted,
    deleted,
    recoverable,
  });
}
