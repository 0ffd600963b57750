/**
 * FAT volumes opened: the geometry that was found, and of the tables the one that the files agree
 * with best.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import { ProblemList, extentVolume } from '../extent-volume';
import type { Volume } from '../volume';
import type { FatGeometry } from './boot-sector';
import { FatClusters } from './clusters';
import type { FatEvidence } from './probe';
import { FatReader } from './read';
import { loadTables, type TableCandidate } from './table-copies';

interface Opening {
  reader: FatReader;
  clusters: FatClusters;
  problems: ProblemList;
  copy: number | null;
  /** How much speaks against the table. */
  faults: number;
}

async function openWith(
  source: ByteSource,
  geometry: FatGeometry,
  { table, copy }: TableCandidate,
): Promise<Opening> {
  const problems = new ProblemList();
  const clusters = new FatClusters(source, geometry, table, problems);
  const reader = new FatReader(source, geometry, clusters, problems);
  await reader.read();
  const damaged = reader.entries.filter((entry) => entry.damaged).length;
  return { reader, clusters, problems, copy, faults: problems.count + damaged };
}

/** With the table that explains most: where two do as well, the first. */
async function openBest(
  source: ByteSource,
  geometry: FatGeometry,
  candidates: readonly TableCandidate[],
): Promise<Opening> {
  let best: Opening | null = null;
  for (const candidate of candidates) {
    const opening = await openWith(source, geometry, candidate);
    if (!best || opening.faults < best.faults) best = opening;
  }
  return best!;
}

/** What the parts that are read before the directories say. */
function tellGeometry(geometry: FatGeometry, source: ByteSource, problems: ProblemList): void {
  const claimed = geometry.totalSectors * geometry.bytesPerSector;
  if (claimed > source.size)
    problems.report(
      'truncated-image',
      source.size,
      said('fat.theVolumeClaimsBytes', { claimed, source: source.size }),
    );
  if (geometry.from === 'backup')
    problems.report('descriptor-damaged', 0, said('fat.theBootSectorIsLostCopy'));
  else if (geometry.from === 'contents')
    problems.report('descriptor-damaged', 0, said('fat.theBootSectorIsLost'));
}

/** Opens the volume that `probeFat` found. */
export async function openFat(source: ByteSource, { geometry }: FatEvidence): Promise<Volume> {
  const problems = new ProblemList();
  tellGeometry(geometry, source, problems);
  const candidates = await loadTables(source, geometry, problems);
  const { reader, clusters, copy, problems: own } = await openBest(source, geometry, candidates);
  if (candidates.length > 1)
    problems.report('fat-copies-differ', null, said('fat.theTableThatWas', { copy }));
  problems.add(own);
  return extentVolume(source, {
    filesystem: `fat${geometry.width}`,
    label: reader.label,
    freeBytes: clusters.freeBytes,
    totalBytes: geometry.totalSectors * geometry.bytesPerSector,
    entries: reader.entries,
    problems: problems.all(),
  });
}
