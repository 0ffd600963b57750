/**
 * Records of fixed shape: where each field stands and how its bytes are read. A family declares its
 * own in its `records.ts`; its probe, reader and writer go by them, and the listing of bytes names
 * them. A field is called by its code among `fields` of `src/messages`.
 */
import type { Said, SaidCodes } from '@/core/said';

export type FieldKind =
  | 'u8'
  | 'u16'
  | 'u16be'
  | 'u24'
  | 'u32'
  | 's8'
  | 'text'
  | 'high-text'
  | 'd64-text'
  | 'bytes'
  | 'sampler-text'
  | 'track-sector'
  | 'date-time';

export interface Field {
  /** Bytes from the start of its record. */
  readonly at: number;
  readonly kind: FieldKind;
  /** Bytes. */
  readonly length: number;
}

type NameAmong<Code, Area extends string> = Code extends `${Area}.${infer Name}` ? Name : never;

export type FieldName = NameAmong<keyof SaidCodes, 'fields'>;

export type RecordName = NameAmong<keyof SaidCodes, 'records'>;

export type RecordLayout = Readonly<Partial<Record<FieldName, Field>>>;

/** A run of records of the same shape within an area. */
export interface RecordRun {
  offset: number;
  step: number;
  count: number;
  each: RecordName;
  layout: RecordLayout;
}

/** A part of a volume that its system keeps for itself. */
export interface VolumeArea {
  name: Said;
  /** In bytes of the volume. */
  offset: number;
  length: number;
  layout?: RecordLayout;
  records?: readonly RecordRun[];
}

const sized = (kind: FieldKind, length: number) => (at: number) =>
  Object.freeze<Field>({ at, kind, length });

const stretch = (kind: FieldKind) => (at: number, length: number) =>
  Object.freeze<Field>({ at, kind, length });

export const u8 = sized('u8', 1);
export const u16 = sized('u16', 2);
export const u16be = sized('u16be', 2);
export const u24 = sized('u24', 3);
export const u32 = sized('u32', 4);
export const s8 = sized('s8', 1);
export const trackSector = sized('track-sector', 2);
export const dateTime = sized('date-time', 4);
export const raw = stretch('bytes');
export const text = stretch('text');
export const highText = stretch('high-text');
export const d64Text = stretch('d64-text');
export const samplerText = stretch('sampler-text');

/** The same record where something stands before it. */
export const shifted = (layout: RecordLayout, by: number): RecordLayout =>
  Object.freeze(
    Object.fromEntries(
      Object.entries(layout).map(([name, field]) => [name, { ...field, at: field.at + by }]),
    ),
  );

/** The bytes of a field of the record that begins at `from`. */
export const bytesIn = (bytes: Uint8Array, { at, length }: Field, from = 0): Uint8Array =>
  bytes.subarray(from + at, from + at + length);

/** The number in a field of the record that begins at `from`: least byte first but for `u16be`. */
export function numberIn(bytes: Uint8Array, { at, kind, length }: Field, from = 0): number {
  let number = 0;
  for (let i = 0; i < length; i++) {
    const place = kind === 'u16be' ? i : length - 1 - i;
    number = number * 256 + (bytes[from + at + place] ?? 0);
  }
  return number;
}

/** The same of a field whose top bit is the sign. */
export function signedIn(bytes: Uint8Array, field: Field, from = 0): number {
  const number = numberIn(bytes, field, from);
  const whole = 256 ** field.length;
  return number < whole / 2 ? number : number - whole;
}

/** Puts a number into a field, as `numberIn` reads it. */
export function putNumber(bytes: Uint8Array, { at, kind, length }: Field, value: number, from = 0) {
  for (let i = 0; i < length; i++) {
    const place = kind === 'u16be' ? length - 1 - i : i;
    bytes[from + at + place] = Math.floor(value / 256 ** i) & 0xff;
  }
}
