/** File entries and extended ones (ECMA-167 part 4, 14.9 and 14.17), and where their bytes lie. */
import { bytesOfExtents, joined } from '../extents';
import { HOLE, type Extent } from '../volume';
import { viewOf } from './records';
import type { Blocks } from './partition-maps';
import { TAG, longAddress, readTag, timestampOf, type LongAddress } from './tags';

const LIMITS = Object.freeze({ allocations: 100_000, continuations: 1024 });

/** Kinds of extent, in the top bits of its length. */
const RECORDED = 0;
const GOES_ON = 3;

/** Kinds of allocation, in the entry's flags: short, long and extended descriptors, or none. */
const SHORT = 0;
const LONG = 1;
const IN_THE_ENTRY = 3;

const STEPS: Readonly<Record<number, number>> = Object.freeze({ [SHORT]: 8, [LONG]: 16 });
const EXTENDED_STEP = 20;

export interface UdfEntry {
  fileType: number;
  bytes: number;
  extents: Extent[];
  modified: string | null;
  /** Fewer bytes are there than it should have. */
  short: boolean;
}

/** The entry at an address; null where there is none. */
export async function entryAt(
  space: Blocks,
  address: Pick<LongAddress, 'block' | 'partition'>,
): Promise<UdfEntry | null> {
  const at = space.placeOf(address);
  if (at === null) return null;
  const bytes = await space.source.read(at, space.blockBytes);
  const tag = readTag(bytes, address.block, at, space.problems);
  const isEntry = tag?.id === TAG.fileEntry || tag?.id === TAG.extendedFileEntry;
  if (!isEntry || !tag.sound || bytes.length < 216) return null;
  const view = viewOf(bytes);
  const extended = tag.id === TAG.extendedFileEntry;
  const size = Number(view.getBigUint64(56, true));
  const attributes = view.getUint32(extended ? 208 : 168, true);
  const allocations = view.getUint32(extended ? 212 : 172, true);
  const from = (extended ? 216 : 176) + attributes;
  const modified = timestampOf(bytes.subarray(extended ? 92 : 84, extended ? 104 : 96));
  const base = { fileType: bytes[27]!, bytes: size, modified };
  const kind = view.getUint16(34, true) & 7;
  if (kind === IN_THE_ENTRY) {
    const length = Math.max(0, Math.min(size, allocations, bytes.length - from));
    const extents = length > 0 ? [{ offset: at + from, length }] : [];
    return { ...base, extents, short: length < size };
  }
  const area = bytes.subarray(from, Math.min(bytes.length, from + allocations));
  return { ...base, ...(await new Allocations(space, kind, address.partition, size).read(area)) };
}

/** Extents of a file: recorded ones, and zeros for what is allocated only, or neither. */
class Allocations {
  private readonly extents: Extent[] = [];
  private done = 0;
  private count = 0;
  private short = false;

  constructor(
    private readonly space: Blocks,
    private readonly kind: number,
    private readonly partition: number,
    private readonly size: number,
  ) {}

  async read(area: Uint8Array): Promise<Pick<UdfEntry, 'extents' | 'short'>> {
    const visited = new Set<number>();
    let list: Uint8Array | null = area;
    for (let areas = 0; list && areas < LIMITS.continuations; areas++) {
      const next = this.readList(list);
      if (this.short) return { extents: this.extents, short: true };
      if (next === null || visited.has(next)) break;
      visited.add(next);
      list = await this.continuation(next);
    }
    return { extents: joined(this.extents), short: this.done < this.size };
  }

  /** Takes in a list; gives the place where it goes on. */
  private readList(list: Uint8Array): number | null {
    const step = STEPS[this.kind] ?? EXTENDED_STEP;
    for (let at = 0; at + step <= list.length && this.done < this.size; at += step) {
      if (this.count++ >= LIMITS.allocations) return null;
      const address = this.addressAt(list, at);
      if (address.length === 0) return null;
      if (address.kind === GOES_ON) return this.space.placeOf(address);
      const wanted = Math.min(address.length, this.size - this.done);
      this.add(address, wanted);
      this.done += wanted;
      if (this.short) return null;
    }
    return null;
  }

  private addressAt(list: Uint8Array, at: number): LongAddress {
    const view = viewOf(list);
    if (this.kind === LONG) return longAddress(view, at);
    const length = view.getUint32(at, true);
    const isShort = this.kind === SHORT;
    return {
      length: length & 0x3fffffff,
      kind: length >>> 30,
      block: view.getUint32(at + (isShort ? 4 : 12), true),
      partition: isShort ? this.partition : view.getUint16(at + 16, true),
    };
  }

  private add(address: LongAddress, wanted: number): void {
    if (address.kind !== RECORDED) {
      this.extents.push({ offset: HOLE, length: wanted });
      return;
    }
    const runs = this.space.runsOf(address, wanted);
    for (const run of runs) this.extents.push(run);
    if (bytesOfExtents(runs) < wanted) this.short = true;
  }

  private async continuation(place: number): Promise<Uint8Array | null> {
    const { source, blockBytes, problems } = this.space;
    const bytes = await source.read(place, blockBytes);
    const tag = readTag(bytes, null, place, problems);
    if (tag?.id !== TAG.allocationExtent || !tag.sound) return null;
    const length = Math.min(viewOf(bytes).getUint32(20, true), bytes.length - 24);
    return bytes.subarray(24, 24 + length);
  }
}
