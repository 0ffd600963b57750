/**
 * The error detection code of CD sectors (ECMA-130, clause 14.3): a reflected CRC-32 of polynomial
 * 8001801Bh, initial 0, no final XOR.
 */
import { reflectedCrc32 } from '../bits/crc32';

const crc = reflectedCrc32(0xd8018001);

/** Of bytes `from` up to `to`, as an unsigned number. */
export const edc = (bytes: Uint8Array, from: number, to: number): number => crc(bytes, from, to);

/** The code as it is recorded, least byte first. */
export const edcAt = (bytes: Uint8Array, at: number): number =>
  (bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24)) >>> 0;

export function setEdc(bytes: Uint8Array, at: number, value: number): void {
  for (let i = 0; i < 4; i++) bytes[at + i] = value >>> (8 * i);
}
