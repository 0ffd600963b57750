'use client';
/** How long a transfer takes, in words. */
import { say } from '@/messages';

const BITS_A_BYTE = 10;

/** Bytes of a block with what frames it. */
const BLOCK = 133 / 128;

/** How long the line takes for so many bytes, in words. */
export function lasting(bytes: number, rate: number): string {
  const minutes = (bytes * BLOCK * BITS_A_BYTE) / rate / 60;
  return minutes < 1.5
    ? say.transfers.aboutAMinute
    : minutes < 90
      ? say.transfers.aboutMinutes({ minutes: Math.round(minutes) })
      : say.transfers.aboutHours({ minutes: (minutes / 60).toFixed(1) });
}
