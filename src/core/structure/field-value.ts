/** The bytes of a field as its kind has them read: figures, letters, or what is to be said. */
import { grouped } from '@/core/text/grouped';
import { said, type Said } from '../said';
import { charOf } from '../volume/d64/names';
import { decode437 } from '../volume/fat/names';
import { fatTime } from '../volume/fat/records';
import { numberIn, type FieldKind } from '../volume/record';
import { SAMPLER_LETTERS } from '../volume/sampler/records';

/** Figures and letters stand as they are; what needs words is said. */
export type FieldValue = string | Said;

const SHOWN_IN_HEX = 16;

const hex = (bytes: Uint8Array) =>
  [...bytes].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');

const lettersOf = (text: string) =>
  `“${text
    .replace(/\0+$/, '')
    .replace(/[\u0000-\u001f\u007f-\u009f]/g, '·')
    .trimEnd()}”`;

function momentOf(bytes: Uint8Array): FieldValue {
  const [time, date] = [bytes[0]! | (bytes[1]! << 8), bytes[2]! | (bytes[3]! << 8)];
  if (time === 0 && date === 0) return said('values.noneGiven');
  return fatTime(date, time)?.replace('T', ' ') ?? said('values.noMoment');
}

function figureOf(bytes: Uint8Array, kind: FieldKind): FieldValue {
  const number = numberIn(bytes, { at: 0, kind, length: bytes.length });
  return grouped(number);
}

const READ_AS: Partial<Record<FieldKind, (bytes: Uint8Array) => FieldValue>> = {
  s8: (bytes) => String((bytes[0]! << 24) >> 24),
  'track-sector': ([track = 0, sector = 0]) => said('values.trackAndSector', { track, sector }),
  text: (bytes) => lettersOf(decode437(bytes)),
  'high-text': (bytes) => lettersOf(decode437(bytes.map((byte) => byte & 0x7f))),
  'd64-text': (bytes) => lettersOf(Array.from(bytes, charOf).join('')),
  'sampler-text': (bytes) =>
    lettersOf(Array.from(bytes, (byte) => SAMPLER_LETTERS[byte] ?? '·').join('')),
  'date-time': momentOf,
  bytes: (bytes) =>
    bytes.length > SHOWN_IN_HEX
      ? said('values.soManyBytes', { bytes: bytes.length })
      : `${hex(bytes)}h`,
};

export const valueOf = (bytes: Uint8Array, kind: FieldKind): FieldValue =>
  READ_AS[kind]?.(bytes) ?? figureOf(bytes, kind);
