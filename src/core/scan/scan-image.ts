/**
 * Holds an image against signature rules: its boot sectors, all of it, and every file put together.
 */
import { sliceSource, memorySource, type ByteSource } from '../bits/byte-source';
import { identifyVolumes } from '../identify/identify';
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

export async function scanImage(
  source: ByteSource,
  rules: readonly SignatureRule[],
): Promise<ScanResult> {
  const findings: Finding[] = [];
  const more = new Map<string, number>();
  const matcherOf = (own: readonly SignatureRule[]) =>
    new Matcher(own.map(({ pattern }) => patternBytes(pattern)));
  const look = async (
    own: readonly SignatureRule[],
    matcher: Matcher,
    bytes: ByteSource,
    path: string | null,
    base: number,
  ) => {
    if (own.length === 0) return;
    const result = await matcher.search(bytes);
    for (const { pattern, offset } of result.matches) {
      const { id, name, note } = own[pattern]!;
      findings.push({ rule: id, name, note, path, offset: base + offset });
    }
    for (const { pattern, count } of result.more)
      more.set(own[pattern]!.id, (more.get(own[pattern]!.id) ?? 0) + count);
  };
  const boot = rules.filter(({ where }) => where === 'boot');
  const anywhere = rules.filter(({ where }) => where === 'anywhere');
  const [bootMatcher, anywhereMatcher] = [matcherOf(boot), matcherOf(anywhere)];
  const { volumes, partitions } = await identifyVolumes(source);
  for (const offset of new Set([
    0,
    ...partitions.map((each) => each.offset),
    ...volumes.map((each) => each.offset),
  ]))
    await look(boot, bootMatcher, sliceSource(source, offset, BOOT_BYTES), null, offset);
  await look(anywhere, anywhereMatcher, source, null, 0);
  if (anywhere.length > 0) {
    const inImage = new Set(findings.map(({ rule, offset }) => `${rule}/${offset}`));
    for (const { volume, partition, offset: base } of volumes) {
      for (const entry of volume.entries) {
        // In one piece it was seen in the image already.
        if (entry.kind !== 'file' || entry.recoverable === 'none' || entry.bytes > MAX_FILE_BYTES)
          continue;
        const own: Finding[] = [];
        const path = partition === null ? entry.path : `${partition}/${entry.path}`;
        const result = await anywhereMatcher.search(memorySource(await volume.read(entry)));
        for (const { pattern, offset } of result.matches)
          own.push({
            rule: anywhere[pattern]!.id,
            name: anywhere[pattern]!.name,
            note: anywhere[pattern]!.note,
            path,
            offset,
          });
        findings.push(...own);
        for (const { rule, offset } of own) {
          const place = placeInImage(entry.extents, offset);
          // Told by its file, which says more, instead of by its place in the image.
          if (place !== null && inImage.has(`${rule}/${base + place}`)) {
            const at = findings.findIndex(
              (each) => each.path === null && each.rule === rule && each.offset === base + place,
            );
            if (at >= 0) findings.splice(at, 1);
          }
        }
      }
    }
  }
  return { findings, more: [...more].map(([rule, count]) => ({ rule, count })) };
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
