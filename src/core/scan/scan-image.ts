/**
 * Holds an image against signature rules: its boot sectors, all of it, and every file put together.
 */
import { sliceSource, memorySource, type ByteSource } from '../bits/byte-source';
import type { FoundVolume } from '../identify/found-volume';
import { identifyVolumes } from '../identify/identify';
import { directoriesOf } from '../volume/disc-volume';
import { ReadingBudget, ReadOnce } from '../volume/reading-budget';
import type { VolumeEntry } from '../volume/volume';
import { Matcher } from './matcher';
import { patternBytes, type SignatureRule } from './rules';

interface Finding {
  rule: string;
  name: string;
  note: string;
  /**
   * Path of the file, behind its partition's number where there is one; null for the image itself.
   */
  path: string | null;
  /** In the image, or in the file. */
  offset: number;
}

interface ScanResult {
  findings: Finding[];
  /** Rules that matched more often than is listed. */
  more: { rule: string; count: number }[];
}

/** Bytes at the start of an image or partition that a machine runs when it starts from it. */
const BOOT_BYTES = 1024;
/** Files above this are looked through only where they lie in the image. */
const MAX_FILE_BYTES = 64 << 20;

/** Rules with their matcher: one pass over the bytes for all of them. */
class RuleSet {
  private readonly matcher: Matcher;
  private readonly counts = new Map<string, number>();

  constructor(readonly rules: readonly SignatureRule[]) {
    this.matcher = new Matcher(rules.map(({ pattern }) => patternBytes(pattern)));
  }

  /** What stands in these bytes, which begin at `base`; what is not listed is counted. */
  async findIn(bytes: ByteSource, path: string | null, base = 0): Promise<Finding[]> {
    if (this.rules.length === 0) return [];
    const { matches, more } = await this.matcher.search(bytes);
    if (path === null)
      for (const { pattern, count } of more) {
        const { id } = this.rules[pattern]!;
        this.counts.set(id, (this.counts.get(id) ?? 0) + count);
      }
    return matches.map(({ pattern, offset }) => {
      const { id, name, note } = this.rules[pattern]!;
      return { rule: id, name, note, path, offset: base + offset };
    });
  }

  more(): { rule: string; count: number }[] {
    return [...this.counts].map(([rule, count]) => ({ rule, count }));
  }
}

const keyOf = ({ rule, offset }: Pick<Finding, 'rule' | 'offset'>) => `${rule}/${offset}`;

/** In one piece it was seen in the image already; what is left of a deleted one is looked at too. */
const isLookedInto = ({ kind, recoverable, bytes }: VolumeEntry) =>
  kind === 'file' && recoverable !== 'none' && bytes <= MAX_FILE_BYTES;

export async function scanImage(
  source: ByteSource,
  rules: readonly SignatureRule[],
): Promise<ScanResult> {
  const boot = new RuleSet(rules.filter(({ where }) => where === 'boot'));
  const anywhere = new RuleSet(rules.filter(({ where }) => where === 'anywhere'));
  const { volumes, partitions } = await identifyVolumes(source);
  const starts = new Set([0, ...[...partitions, ...volumes].map(({ offset }) => offset)]);
  const ofImage: Finding[] = [];
  for (const start of starts)
    ofImage.push(...(await boot.findIn(sliceSource(source, start, BOOT_BYTES), null, start)));
  ofImage.push(...(await anywhere.findIn(source, null)));
  const left = new Map(ofImage.map((each) => [keyOf(each), each]));
  const ofFiles: Finding[] = [];
  const budget = new ReadingBudget(source.size);
  if (anywhere.rules.length > 0)
    for (const volume of volumes) ofFiles.push(...(await inFiles(volume, anywhere, left, budget)));
  return { findings: [...left.values(), ...ofFiles], more: [...boot.more(), ...anywhere.more()] };
}

/**
 * Told by its file, which says more, instead of by its place in the image: that is taken out of what
 * is `left` of those.
 */
async function inFiles(
  { volume, partition, offset: base }: FoundVolume,
  rules: RuleSet,
  left: Map<string, Finding>,
  budget: ReadingBudget,
): Promise<Finding[]> {
  const findings: Finding[] = [];
  const once = new ReadOnce<Finding[]>(budget);
  for (const entry of directoriesOf(volume).entries.filter(isLookedInto)) {
    const path = partition === null ? entry.path : `${partition}/${entry.path}`;
    const found = await once.of(entry, async () =>
      rules.findIn(memorySource(await volume.read(entry)), path),
    );
    for (const each of found ?? []) {
      findings.push({ ...each, path });
      const place = placeInImage(entry, each.offset);
      if (place !== null) left.delete(keyOf({ rule: each.rule, offset: base + place }));
    }
  }
  return findings;
}

/** Null of what is nowhere recorded as it is, of packed bytes among others. */
function placeInImage({ extents, packedBytes }: VolumeEntry, at: number): number | null {
  if (typeof packedBytes === 'number') return null;
  let left = at;
  for (const { offset, length } of extents) {
    if (left < length) return offset < 0 ? null : offset + left;
    left -= length;
  }
  return null;
}
