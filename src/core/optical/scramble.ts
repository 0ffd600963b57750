/**
 * The scrambler of CD sectors (ECMA-130, annex B): bytes 12 to 2351 combined with a register of 15
 * bits, x¹⁵ + x + 1, preset to 1.
 */

export const RAW_BYTES = 2352;
const SYNC_BYTES = 12;

const SEQUENCE = new Uint8Array(RAW_BYTES - SYNC_BYTES);
let register = 1;
for (let i = 0; i < SEQUENCE.length; i++) {
  let byte = 0;
  for (let bit = 0; bit < 8; bit++) {
    byte |= (register & 1) << bit;
    const fed = (register ^ (register >> 1)) & 1;
    register = (register >> 1) | (fed << 14);
  }
  SEQUENCE[i] = byte;
}

/** Scrambles, or takes it away: it is its own inverse. `sector` is changed. */
export function scramble(sector: Uint8Array): void {
  for (let i = 0; i < SEQUENCE.length; i++) sector[SYNC_BYTES + i]! ^= SEQUENCE[i]!;
}
