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
  /** Bytes before packing, where the file is packed. */
  packedBytes: number | null;
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

/** What a record's areas say, with those that they go on in. */
export async function readRockRidge(
  source: ByteSource,
  record: Pick<DirectoryRecord, 'systemUse'>,
  skip: number,
  blockBytes: number,
): Promise<RockRidge> {
  const found: RockRidge = {
    name: null,
    link: null,
    isDirectory: null,
    modified: null,
    childAt: null,
    isRelocated: false,
    packedBytes: null,
    damaged: false,
  };
  const names: Uint8Array[] = [];
  let hasName = false;
  const link: string[] = [];
  let component = '';
  let [componentOpen, hasLink] = [false, false];
  let area = record.systemUse.subarray(skip);
  const visited = new Set<string>();
  for (let areas = 0; areas < MAX_AREAS; areas++) {
    let next: { block: number; offset: number; length: number } | null = null;
    for (const use of usesOf(area)) {
      if (use === false) {
        found.damaged = true;
        break;
      }
      const { signature, data } = use;
      const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
      if (signature === 'CE' && data.length >= 24)
        next = {
          block: view.getUint32(0, true),
          offset: view.getUint32(8, true),
          length: view.getUint32(16, true),
        };
      else if (signature === 'NM' && data.length >= 1) {
        // `.` and `..` are the record's own names.
        if ((data[0]! & 6) === 0) {
          names.push(data.subarray(1));
          hasName = true;
        }
      } else if (signature === 'PX' && data.length >= 8)
        found.isDirectory = (view.getUint32(0, true) & 0o170000) === 0o040000;
      else if (signature === 'SL' && data.length >= 1) {
        hasLink = true;
        for (let at = 1; at + 2 <= data.length;) {
          const [flags, length] = [data[at]!, data[at + 1]!];
          if (at + 2 + length > data.length) {
            found.damaged = true;
            break;
          }
          const text =
            flags & 2
              ? '.'
              : flags & 4
                ? '..'
                : flags & 8
                  ? ''
                  : utf8.decode(data.subarray(at + 2, at + 2 + length));
          component = componentOpen ? component + text : text;
          componentOpen = (flags & COMPONENT_GOES_ON) !== 0;
          if (!componentOpen) link.push(component);
          at += 2 + length;
        }
      } else if (signature === 'TF' && data.length >= 1) {
        // Which times stand here, in a fixed order; the second is that of the last change.
        const size = data[0]! & 0x80 ? 17 : 7;
        if (data[0]! & 2 && size === 7) {
          const at = 1 + (data[0]! & 1 ? size : 0);
          found.modified = recordedTime(data.subarray(at, at + size));
        }
      } else if (signature === 'CL' && data.length >= 4) found.childAt = view.getUint32(0, true);
      else if (signature === 'RE') found.isRelocated = true;
      else if (signature === 'ZF' && data.length >= 8) found.packedBytes = view.getUint32(4, true);
    }
    if (!next) break;
    const key = `${next.block}/${next.offset}`;
    const from = next.block * blockBytes + next.offset;
    if (visited.has(key) || next.length > MAX_AREA_BYTES || from + next.length > source.size) {
      found.damaged = true;
      break;
    }
    visited.add(key);
    area = await source.read(from, next.length);
  }
  if (hasName) found.name = utf8.decode(Uint8Array.from(names.flatMap((part) => [...part])));
  if (hasLink) found.link = link.length === 1 && link[0] === '' ? '/' : link.join('/');
  return found;
}
