/** Where the next whole item of a damaged container begins. */
import { KEY_READING } from './container-keys';

const KEY_TRAILER = [0x66, ...new TextEncoder().encode('tracks')];

function startsWith(bytes: Uint8Array, at: number, pattern: readonly number[]): boolean {
  for (let i = 0; i < pattern.length; i++) if (bytes[at + i] !== pattern[i]) return false;
  return true;
}

/** First offset in [from, end) at which a map with one of our first keys starts, or −1. */
export function findItemStart(bytes: Uint8Array, from: number, end: number): number {
  for (const [key, pattern] of [
    [0x68, KEY_READING],
    [0x66, KEY_TRAILER],
  ] as const) {
    for (
      let at = bytes.indexOf(key, from + 1);
      at > 0 && at <= end;
      at = bytes.indexOf(key, at + 1)
    ) {
      if (!startsWith(bytes, at, pattern)) continue;
      if (bytes[at - 1]! >= 0xa1 && bytes[at - 1]! <= 0xb7) return at - 1;
      if (at - 2 >= from && bytes[at - 2] === 0xb8) return at - 2;
    }
  }
  return -1;
}
