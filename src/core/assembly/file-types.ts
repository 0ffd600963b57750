/**
 * What kind of file one becomes on a volume of another system: the same where the systems share it,
 * else text or not, by its content.
 */

export interface FileFrom {
  /** Null of files from a desktop. */
  filesystem: string | null;
  type?: string | null;
  address?: number | null;
}

interface FileKind {
  type?: string;
  address?: number;
}

const FAMILIES: readonly (readonly string[])[] = [
  ['d64', 'd71', 'd81'],
  ['catalogue16'],
  ['prodos'],
  ['granule'],
  ['sampler'],
  ['wavesample'],
  ['cpm'],
  ['fat12', 'fat16', 'fat32'],
];
const sameFamily = (a: string, b: string | null) =>
  FAMILIES.some((family) => family.includes(a) && b !== null && family.includes(b));

/**
 * Kinds that both of the systems with 16 sectors a track know: text, binary, and the two BASICs.
 */
const SHARED: readonly (readonly [catalogue: string, prodos: string])[] = [
  ['T', '04'],
  ['B', '06'],
  ['A', 'FC'],
  ['I', 'FA'],
];

/**
 * Printable characters, and what moves the carriage; where the top bit is set throughout, without
 * it.
 */
function isText(bytes: Uint8Array): boolean {
  const mask = bytes.length > 0 && bytes.every((byte) => byte >= 0x80) ? 0x7f : 0xff;
  return bytes.every(
    (byte) =>
      ((byte & mask) >= 0x20 && (byte & mask) < 0x7f) || [9, 10, 12, 13].includes(byte & mask),
  );
}

/** On the two that share their types: what one calls it is known to the other. */
function sharedKind(
  filesystem: 'prodos' | 'catalogue16',
  bytes: Uint8Array,
  from: FileFrom,
): FileKind {
  // An empty file has no head to say its length in.
  if (filesystem === 'catalogue16' && bytes.length === 0) return { type: 'T' };
  const [own, other] = filesystem === 'prodos' ? [1, 0] : [0, 1];
  const isShared = from.filesystem === 'prodos' || from.filesystem === 'catalogue16';
  const shared = isShared
    ? SHARED.find((pair) => pair[other] === from.type?.toUpperCase())
    : undefined;
  const type = (shared ?? SHARED[isText(bytes) ? 0 : 1]!)[own]!;
  const { address } = from;
  return { type, ...(shared && typeof address === 'number' && { address }) };
}

/**
 * Type and address for `bytes` on a volume of `filesystem`; nothing of either where its system
 * keeps none.
 */
export function kindOnTarget(filesystem: string, bytes: Uint8Array, from: FileFrom): FileKind {
  if (sameFamily(filesystem, from.filesystem) && from.type) {
    const { type, address } = from;
    return { type, ...(typeof address === 'number' && { address }) };
  }
  if (filesystem === 'prodos' || filesystem === 'catalogue16')
    return sharedKind(filesystem, bytes, from);
  if (['d64', 'd71', 'd81'].includes(filesystem)) return { type: isText(bytes) ? 'SEQ' : 'PRG' };
  if (filesystem === 'granule') return { type: isText(bytes) ? '3' : '1' };
  return {};
}
