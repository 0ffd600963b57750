/**
 * Holds an image against signature rules: its boot sectors, all of it, and every file put together.
 */
import { sliceSource, memorySource, type ByteSource } from '../bits/byte-source';
import { identifyVolumes, type FoundVolume } from '../identify/identify';
import { ReadingBudget } from '../volume/reading-budget';
import { placesKey, type VolumeEntry } from '../volume/volume';
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
  const findings: Finding[] = [];
  for (const start of starts)
    findings.push(...(await boot.findIn(sliceSource(source, start, BOOT_BYTES), null, start)));
  findings.push(...(await anywhere.findIn(source, null)));
  if (anywhere.rules.length > 0)
    await addFiles(volumes, anywhere, findings, new ReadingBudget(source.size));
  return { findings, more: [...boot.more(), ...anywhere.more()] };
}

async function addFiles(
  volumes: readonly FoundVolume[],
  rules: RuleSet,
  findings: Finding[],
  budget: ReadingBudget,
): Promise<void> {
  for (const volume of volumes) await addByFile(volume, rules, findings, budget);
}

/** Told by its file, which says more, instead of by its place in the image. */
async function addByFile(
  { volume, partition, offset: base }: FoundVolume,
  rules: RuleSet,
  findings: Finding[],
  budget: ReadingBudget,
): Promise<void> {
  const seenPlaces = new Set<string>();
  for (const entry of volume.entries.filter(isLookedInto)) {
    const places = placesKey(entry);
    if (seenPlaces.has(places) || !budget.take(entry.bytes)) continue;
    seenPlaces.add(places);
    const path = partition === null ? entry.path : `${partition}/${entry.path}`;
    const own = await rules.findIn(memorySource(await volume.read(entry)), path);
    const seen = new Set(
      own.flatMap(({ rule, offset }) => {
        const place = placeInImage(entry.extents, offset);
        return place === null ? [] : [keyOf({ rule, offset: base + place })];
      }),
    );
    const kept = findings.filter((each) => each.path !== null || !seen.has(keyOf(each)));
    findings.splice(0, findings.length, ...kept, ...own);
  }
}

function placeInImage(
  extents: readonly { offset: number; length: number }[],
  at: number,
): number | null {
  let left = at;
  for (const { offset, length } of extents) {
    if (left < length) return offset < 0 ? null : offset + left;
    left -= length;
  }
  return null;
}
