/**
 * Names, links, kinds and times that Unix systems keep in the system use areas of ISO 9660 (SUSP
 * 1.12, RRIP 1.12).
 */
import type { ByteSource } from '../../bits/byte-source';
import { recordedTime, type DirectoryRecord } from './directory-record';

export interface RockRidge {
  /** Null where the record names none. */
  name: string | null;
  link: string | null;
  isDirectory: boolean | null;
  modified: string | null;
  /** Block of the directory that stands elsewhere and belongs here. */
  childAt: number | null;
  /** It stands here only because it lies too deep, and belongs elsewhere. */
  isRelocated: boolean;
  /** How the file is packed, in two letters, and its bytes before that, as they stand both ways. */
  packed: { method: string; sizes: readonly number[] } | null;
  damaged: boolean;
}

/** Continuation areas followed for one record, and bytes of one. */
const MAX_AREAS = 64;
const MAX_AREA_BYTES = 64 * 1024;
const COMPONENT_GOES_ON = 1;

interface Use {
  signature: string;
  data: Uint8Array;
}

/** The entries of an area up to its end; `false` behind them where a length makes no sense. */
function* usesOf(area: Uint8Array): Generator<Use | false> {
  for (let at = 0; at + 4 <= area.length;) {
    const length = area[at + 2]!;
    // Padding to an even length, or nothing more.
    if (area[at] === 0) return;
    if (length < 4 || at + length > area.length) {
      yield false;
      return;
    }
    const signature = String.fromCharCode(area[at]!, area[at + 1]!);
    if (signature === 'ST') return;
    yield { signature, data: area.subarray(at + 4, at + length) };
    at += length;
  }
}

/**
 * Bytes to skip before every area, by the `SP` entry of the root's own record; null where there is
 * none.
 */
export function skipOf(systemUse: Uint8Array): number | null {
  return systemUse.length >= 7 &&
    systemUse[0] === 0x53 &&
    systemUse[1] === 0x50 &&
    systemUse[4] === 0xbe &&
    systemUse[5] === 0xef
    ? systemUse[6]!
    : null;
}

const utf8 = new TextDecoder('utf-8');

/** A continuation area. */
interface Area {
  block: number;
  offset: number;
  length: number;
}

/** Puts together what the entries of one record say, one after the other. */
class RecordUses {
  readonly found: RockRidge = {
    name: null,
    link: null,
    isDirectory: null,
    modified: null,
    childAt: null,
    isRelocated: false,
    packed: null,
    damaged: false,
  };
  /** Where the area that was read last goes on. */
  next: Area | null = null;
  private readonly names: Uint8Array[] = [];
  private readonly link: string[] = [];
  private hasLink = false;
  private component = '';
  private componentOpen = false;

  take({ signature, data }: Use): void {
    const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
    const reader = READERS[signature];
    if (reader && data.length >= reader.least) reader.read(this, data, view);
  }

  addName(data: Uint8Array): void {
    // `.` and `..` are the record's own names.
    if ((data[0]! & 6) === 0) this.names.push(data.subarray(1));
  }

  addLink(data: Uint8Array): void {
    this.hasLink = true;
    for (let at = 1; at + 2 <= data.length;) {
      const [flags, length] = [data[at]!, data[at + 1]!];
      if (at + 2 + length > data.length) {
        this.found.damaged = true;
        return;
      }
      const text = componentOf(flags, data.subarray(at + 2, at + 2 + length));
      this.component = this.componentOpen ? this.component + text : text;
      this.componentOpen = (flags & COMPONENT_GOES_ON) !== 0;
      if (!this.componentOpen) this.link.push(this.component);
      at += 2 + length;
    }
  }

  /** Which times stand here, in a fixed order; the second is that of the last change. */
  addTimes(data: Uint8Array): void {
    const size = data[0]! & 0x80 ? 17 : 7;
    if (!(data[0]! & 2) || size !== 7) return;
    const at = 1 + (data[0]! & 1 ? size : 0);
    this.found.modified = recordedTime(data.subarray(at, at + size));
  }

  done(): RockRidge {
    const { found, names, link } = this;
    if (names.length > 0)
      found.name = utf8.decode(Uint8Array.from(names.flatMap((part) => [...part])));
    if (this.hasLink) found.link = link.length === 1 && link[0] === '' ? '/' : link.join('/');
    return found;
  }
}

function componentOf(flags: number, bytes: Uint8Array): string {
  if (flags & 2) return '.';
  if (flags & 4) return '..';
  return flags & 8 ? '' : utf8.decode(bytes);
}

/** What each kind of entry says, and the bytes that it has at least. */
const READERS: Record<
  string,
  { least: number; read(uses: RecordUses, data: Uint8Array, view: DataView): void }
> = {
  CE: {
    least: 24,
    read: (uses, _, view) => {
      const [block, offset, length] = [0, 8, 16].map((at) => view.getUint32(at, true)) as [
        number,
        number,
        number,
      ];
      uses.next = { block, offset, length };
    },
  },
  NM: { least: 1, read: (uses, data) => uses.addName(data) },
  PX: {
    least: 8,
    read: ({ found }, _, view) => {
      found.isDirectory = (view.getUint32(0, true) & 0o170000) === 0o040000;
    },
  },
  SL: { least: 1, read: (uses, data) => uses.addLink(data) },
  TF: { least: 1, read: (uses, data) => uses.addTimes(data) },
  CL: {
    least: 4,
    read: ({ found }, _, view) => {
      found.childAt = view.getUint32(0, true);
    },
  },
  RE: {
    least: 0,
    read: ({ found }) => {
      found.isRelocated = true;
    },
  },
  ZF: {
    least: 12,
    read: ({ found }, data, view) => {
      const method = String.fromCharCode(data[0]!, data[1]!);
      found.packed = { method, sizes: [view.getUint32(4, true), view.getUint32(8)] };
    },
  },
};

/** What a record's areas say, with those that they go on in. */
export async function readRockRidge(
  source: ByteSource,
  record: Pick<DirectoryRecord, 'systemUse'>,
  skip: number,
  blockBytes: number,
): Promise<RockRidge> {
  const uses = new RecordUses();
  const visited = new Set<string>();
  let area = record.systemUse.subarray(skip);
  for (let areas = 0; areas < MAX_AREAS; areas++) {
    uses.next = null;
    for (const use of usesOf(area)) {
      if (use) uses.take(use);
      else uses.found.damaged = true;
    }
    const next = uses.next as Area | null;
    if (!next) break;
    const key = `${next.block}/${next.offset}`;
    const from = next.block * blockBytes + next.offset;
    if (visited.has(key) || next.length > MAX_AREA_BYTES || from + next.length > source.size) {
      uses.found.damaged = true;
      break;
    }
    visited.add(key);
    area = await source.read(from, next.length);
    // Nothing leads to an area in which nothing stands.
    if (area[0] === 0) uses.found.damaged = true;
  }
  return uses.done();
}
