/** Where blocks of CP/M lie on the disk, and what an entry may say. */
import { type Extent } from '../volume';
import { type CpmParameters } from './parameters';
import { placeOfByte } from './byte-place';

export interface Derived {
  blocks: number;
  numberBytes: 1 | 2;
  extentMask: number;
}

/** Extents of a stretch behind the reserved tracks. */
export function extentsOf(parameters: CpmParameters, from: number, length: number): Extent[] {
  const extents: Extent[] = [];
  for (let at = from; at < from + length;) {
    const step = Math.min(
      from + length - at,
      parameters.sectorBytes - (at % parameters.sectorBytes),
    );
    extents.push({ offset: placeOfByte(parameters, at), length: step });
    at += step;
  }
  return extents;
}

export interface DirectoryEntry {
  user: number;
  name: string;
  locked: boolean;
  /** Which entry of its file, from 0, and the records of all its extents. */
  number: number;
  records: number;
  pointers: number[];
  at: number;
}

export const isNameByte = (byte: number) => {
  const seven = byte & 0x7f;
  return seven >= 0x20 && seven < 0x7f && !'<>.,;:=?*[]|'.includes(String.fromCharCode(seven));
};
