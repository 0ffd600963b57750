/**
 * Item boundaries of CBOR (RFC 8949, section 3) in bytes that may be cut, damaged or hostile.
 * Values are decoded by
 * the library; this file only finds where items end, without recursion and without believing a
 * length.
 */
import { decode } from 'cborg';

/** The item is not whole in the bytes at hand. */
export const CUT = -1;
/** No item of CBOR starts here. */
export const MALFORMED = -2;

const MAX_DEPTH = 32;
const MAJOR_BYTES = 2;
const MAJOR_ARRAY = 4;
const MAJOR_MAP = 5;
const BREAK = 0xff;

/**
 * Argument of the head at `at`: `[value, offset behind the head]`, or CUT or MALFORMED. Indefinite
 * gives −1 as value.
 */
function readHead(
  bytes: Uint8Array,
  at: number,
  end: number,
): [number, number] | typeof CUT | typeof MALFORMED {
  const minor = bytes[at]! & 31;
  if (minor < 24) return [minor, at + 1];
  if (minor === 31) return [-1, at + 1];
  if (minor > 27) return MALFORMED;
  const width = 1 << (minor - 24);
  if (at + 1 + width > end) return CUT;
  let value = 0;
  for (let i = 0; i < width; i++) value = value * 256 + bytes[at + 1 + i]!;
  return [value, at + 1 + width];
}

/**
 * Offset behind the item that starts at `at`, or CUT, or MALFORMED (also for nesting beyond 32).
 * In one piece: a table of the standard's eight major types, each a case.
 */
export function itemEnd(bytes: Uint8Array, at: number, end: number): number {
  // Items still to come at each open level; Infinity where the length is indefinite.
  const open: number[] = [1];
  while (open.length > 0) {
    const level = open.length - 1;
    if (open[level] === 0) {
      open.pop();
      continue;
    }
    if (at >= end) return CUT;
    if (bytes[at] === BREAK) {
      if (open[level] !== Infinity) return MALFORMED;
      open.pop();
      at++;
      continue;
    }
    open[level]!--;
    const major = bytes[at]! >>> 5;
    const head = readHead(bytes, at, end);
    if (typeof head === 'number') return head;
    const [value, behind] = head;
    at = behind;
    const indefinite = value < 0;
    if (major === 0 || major === 1 || major === 7) {
      if (indefinite) return MALFORMED;
    } else if (major === 6) {
      if (indefinite || open.length >= MAX_DEPTH) return MALFORMED;
      open.push(1);
    } else if (major >= MAJOR_ARRAY) {
      if (open.length >= MAX_DEPTH) return MALFORMED;
      open.push(indefinite ? Infinity : value * (major === MAJOR_MAP ? 2 : 1));
    } else if (indefinite) {
      if (open.length >= MAX_DEPTH) return MALFORMED;
      open.push(Infinity);
    } else {
      at += value;
      if (at > end) return CUT;
    }
  }
  return at;
}

/** A map read pair by pair; byte strings are views on the source. */
export interface MapItem {
  entries: Map<string, unknown>;
  /** Offset behind the map, or behind what there was of it. */
  end: number;
  /**
   * The map ends before its last pair; a byte string cut at the end is among the entries as far as
   * it goes.
   */
  cut: boolean;
}

/** Where the bytes of a byte string begin; null where another item stands there. */
function bytesFrom(bytes: Uint8Array, at: number, end: number): number | null {
  if (at >= end || bytes[at]! >>> 5 !== MAJOR_BYTES) return null;
  const head = readHead(bytes, at, end);
  return typeof head !== 'number' && head[0] >= 0 ? head[1] : null;
}

/**
 * Reads the map at `at`; null where none starts there, or where a key is no text or a value can't
 * be decoded.
 */
export function readMap(bytes: Uint8Array, at: number, end: number): MapItem | null {
  if (at >= end || bytes[at]! >>> 5 !== MAJOR_MAP) return null;
  const head = readHead(bytes, at, end);
  if (typeof head === 'number' || head[0] < 0) return null;
  const entries = new Map<string, unknown>();
  let position = head[1];
  for (let pair = 0; pair < head[0]; pair++) {
    const keyEnd = itemEnd(bytes, position, end);
    if (keyEnd === CUT) return { entries, end, cut: true };
    if (keyEnd === MALFORMED || bytes[position]! >>> 5 !== 3) return null;
    const key = decodeOrNull(bytes.subarray(position, keyEnd));
    if (typeof key !== 'string') return null;
    const valueEnd = itemEnd(bytes, keyEnd, end);
    if (valueEnd === MALFORMED) return null;
    const content = bytesFrom(bytes, keyEnd, end);
    if (valueEnd === CUT) {
      if (content !== null) entries.set(key, bytes.subarray(content, end));
      return { entries, end, cut: true };
    }
    entries.set(
      key,
      content !== null
        ? bytes.subarray(content, valueEnd)
        : decodeOrNull(bytes.subarray(keyEnd, valueEnd)),
    );
    position = valueEnd;
  }
  return { entries, end: position, cut: false };
}

/** The item's value; null where the library knows no value for it (an unknown tag, say). */
function decodeOrNull(item: Uint8Array): unknown {
  try {
    return decode(item);
  } catch {
    return null;
  }
}
