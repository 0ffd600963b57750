/**
 * What volumes does an image hold? Decided by content, with ranked evidence; a name or extension
 * never counts.
 */
import { sliceSource, type ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import { openCatalogue16 } from '../volume/catalogue16/read';
import { probeCatalogue16 } from '../volume/catalogue16/probe';
import { openCpm } from '../volume/cpm/read';
import { probeCpm } from '../volume/cpm/probe';
import type { CpmParameters } from '../volume/cpm/parameters';
import { openD64 } from '../volume/d64/read';
import { probeD64 } from '../volume/d64/probe';
import { openDisc, probeDisc } from '../volume/disc-volume';
import { openFat } from '../volume/fat/read';
import { probeFat } from '../volume/fat/probe';
import { openGranule, probeGranule } from '../volume/granule/read';
import { readPartitions, type Partition } from '../volume/partitions';
import { openProdos } from '../volume/prodos/read';
import { probeProdos } from '../volume/prodos/probe';
import { openSampler, probeSampler } from '../volume/sampler/read';
import { SIXTEEN_SECTOR_BYTES, otherOrder, turnedVolume } from '../volume/sixteen-sector-order';
import type { Volume } from '../volume/volume';
import { openWavesample, probeWavesample } from '../volume/wavesample/read';
import { said, type Said } from '@/core/said';

/** A volume with where it lies in the image. */
export interface FoundVolume {
  volume: Volume;
  partition: number | null;
  offset: number;
  length: number;
  confidence: number;
  reasons: Said[];
}

export interface Identification {
  volumes: FoundVolume[];
  problems: Problem[];
  /** Where the image is parted. */
  partitions: Partition[];
}

/** A file system that the content may be, and what speaks for it. */
interface Candidate {
  filesystem: string;
  confidence: number;
  reasons: Said[];
  /** Bytes of the image that it takes. */
  length: number;
  open(): Promise<Volume>;
}

interface IdentifyOptions {
  /** A CP/M disk parameter set, where the archivist knows it. */
  cpm?: CpmParameters;
}

/** What is said of a volume of 16 sectors a track that stands in the other of its two orders. */
export const IN_OTHER_ORDER = said('identify.itsSectorsStandIn');

/** Everything that the start of the source may be, the likeliest first. */
export async function candidatesOf(
  source: ByteSource,
  { cpm }: IdentifyOptions = {},
): Promise<Candidate[]> {
  const found: Candidate[] = [];
  const add = (
    filesystem: string,
    evidence: { confidence: number; reasons: Said[] } | null,
    open: () => Promise<Volume>,
    length = source.size,
  ) => {
    if (evidence)
      found.push({
        filesystem,
        confidence: Math.min(1, evidence.confidence),
        reasons: evidence.reasons,
        length,
        open,
      });
  };
  const whole = sliceSource(source, 0, source.size);
  const fat = await probeFat(source);
  if (fat) {
    const length = Math.min(source.size, fat.geometry.totalSectors * fat.geometry.bytesPerSector);
    add(
      `fat${fat.geometry.width}`,
      fat,
      () => openFat(sliceSource(source, 0, length), fat),
      length,
    );
  }
  const disc = await probeDisc(source);
  if (disc) add(disc.filesystem, disc, () => openDisc(whole, disc.filesystem));
  const d64 = await probeD64(source);
  if (d64) add(d64.geometry.kind, d64, () => openD64(whole, d64));
  add('prodos', await probeProdos(source), () => openProdos(whole));
  const catalogue = await probeCatalogue16(source);
  if (catalogue) add('catalogue16', catalogue, () => openCatalogue16(whole, catalogue));
  if (source.size === SIXTEEN_SECTOR_BYTES) {
    const turned = otherOrder(source);
    const other = (evidence: { confidence: number; reasons: Said[] } | null) =>
      evidence && {
        confidence: evidence.confidence - 0.02,
        reasons: [...evidence.reasons, IN_OTHER_ORDER],
      };
    add('prodos', other(await probeProdos(turned)), async () =>
      turnedVolume(await openProdos(turned), source),
    );
    const turnedCatalogue = await probeCatalogue16(turned);
    if (turnedCatalogue)
      add('catalogue16', other(turnedCatalogue), async () =>
        turnedVolume(await openCatalogue16(turned, turnedCatalogue), source),
      );
  }
  add('granule', await probeGranule(source), () => openGranule(whole));
  add('sampler', await probeSampler(source), () => openSampler(whole));
  if (cpm)
    add('cpm', { confidence: 1, reasons: [said('identify.itsDiskParameterSet')] }, () =>
      openCpm(whole, { parameters: cpm }),
    );
  else {
    const worked = await probeCpm(source);
    if (worked) add('cpm', worked, () => openCpm(whole, worked));
  }
  add('wavesample', await probeWavesample(source), () => openWavesample(whole));
  return found.sort((a, b) => b.confidence - a.confidence);
}

/** Below this nothing is opened. */
const ENOUGH = 0.5;

async function openBest(
  source: ByteSource,
  options: IdentifyOptions,
  partition: number | null,
  offset: number,
): Promise<FoundVolume | null> {
  const [best] = await candidatesOf(source, options);
  if (!best || best.confidence < ENOUGH) return null;
  const { confidence, reasons, length } = best;
  return { volume: await best.open(), partition, offset, length, confidence, reasons };
}

/** Opens every volume of the image. An image that holds none is a finding, not a failure. */
export async function identifyVolumes(
  source: ByteSource,
  options: IdentifyOptions = {},
): Promise<Identification> {
  const whole = await openBest(source, options, null, 0);
  const table =
    whole && (whole.confidence >= 0.8 || options.cpm) ? null : await readPartitions(source);
  if (table && table.partitions.length > 0) {
    const volumes: FoundVolume[] = [];
    const problems = [...table.problems];
    for (const { number, type, offset, length } of table.partitions) {
      const found = await openBest(sliceSource(source, offset, length), {}, number, offset);
      if (found) volumes.push(found);
      else
        problems.push({
          kind: 'unknown-format',
          offset,
          said: said('identify.partitionTypeHHolds', {
            number,
            type: type.toString(16).toUpperCase().padStart(2, '0'),
          }),
        });
    }
    if (volumes.length > 0 || !whole) return { volumes, problems, partitions: table.partitions };
  }
  if (whole) return { volumes: [whole], problems: [], partitions: [] };
  const unknown = said('identify.theImageMayBe', { source: source.size });
  return {
    volumes: [],
    problems: [...(table?.problems ?? []), { kind: 'unknown-format', said: unknown, offset: 0 }],
    partitions: [],
  };
}
