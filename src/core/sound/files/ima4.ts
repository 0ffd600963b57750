/**
 * Sound packed four to one by the IMA's adaptive differences (IMA Digital Audio Focus Group, 1992),
 * as AIFC holds it under `ima4`: packets of 34 bytes for 64 values, the channels by turns. A packet
 * begins with where the one before it ended: nine bits of the value, and the step, of seven.
 */
const PACKET_BYTES = 34;
export const FRAMES_A_PACKET = 64;
const HEAD_BYTES = 2;

const STEPS = Object.freeze([
  7, 8, 9, 10, 11, 12, 13, 14, 16, 17, 19, 21, 23, 25, 28, 31, 34, 37, 41, 45, 50, 55, 60, 66, 73,
  80, 88, 97, 107, 118, 130, 143, 157, 173, 190, 209, 230, 253, 279, 307, 337, 371, 408, 449, 494,
  544, 598, 658, 724, 796, 876, 963, 1060, 1166, 1282, 1411, 1552, 1707, 1878, 2066, 2272, 2499,
  2749, 3024, 3327, 3660, 4026, 4428, 4871, 5358, 5894, 6484, 7132, 7845, 8630, 9493, 10_442,
  11_487, 12_635, 13_899, 15_289, 16_818, 18_500, 20_350, 22_385, 24_623, 27_086, 29_794, 32_767,
]);
/** How far the step moves, by the size of a difference. */
const MOVES = Object.freeze([-1, -1, -1, -1, 2, 4, 6, 8]);
/** What the nine bits of a value leave open. */
const LOW_BITS = 0x7f;
const MOST = 32_767;

/** One channel, from packet to packet. */
class Channel {
  private value = 0;
  private step = 0;

  /** Where a packet goes on from the one before it, the bits that its head leaves out are known. */
  begin(head: number): void {
    const step = Math.min(head & LOW_BITS, STEPS.length - 1);
    const value = ((head & ~LOW_BITS & 0xffff) << 16) >> 16;
    if (step === this.step && Math.abs(value - this.value) <= LOW_BITS) return;
    this.step = step;
    this.value = value;
  }

  next(code: number): number {
    const step = STEPS[this.step]!;
    const size =
      (step >> 3) + (code & 1 && step >> 2) + (code & 2 && step >> 1) + (code & 4 && step);
    const value = code & 8 ? this.value - size : this.value + size;
    this.value = Math.max(-MOST - 1, Math.min(MOST, value));
    this.step = Math.max(0, Math.min(STEPS.length - 1, this.step + MOVES[code & 7]!));
    return this.value;
  }
}

/** Whole packets as frames of 16-bit values, least byte first. */
export function fromIma4(packed: Uint8Array, channels: number): Uint8Array {
  const groups = Math.floor(packed.length / (PACKET_BYTES * channels));
  const states = Array.from({ length: channels }, () => new Channel());
  const out = new Uint8Array(groups * FRAMES_A_PACKET * channels * 2);
  const view = new DataView(out.buffer);
  for (let packet = 0; packet < groups * channels; packet++) {
    const channel = packet % channels;
    const state = states[channel]!;
    const at = packet * PACKET_BYTES;
    const frame = Math.floor(packet / channels) * FRAMES_A_PACKET;
    state.begin((packed[at]! << 8) | packed[at + 1]!);
    for (let i = 0; i < FRAMES_A_PACKET; i++) {
      const byte = packed[at + HEAD_BYTES + (i >> 1)]!;
      const value = state.next(i % 2 === 0 ? byte & 0x0f : byte >> 4);
      view.setInt16(2 * ((frame + i) * channels + channel), value, true);
    }
  }
  return out;
}
