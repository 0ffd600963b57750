/**
 * The frames of a file of sound in the order and sign that a WAV has them: by them the same sound is
 * known in files of other forms, and among the samples of a volume.
 */
import type { SoundFile } from '../sound-file';

/** The same bytes with the least of each value first. */
export function leastFirst(bytes: Uint8Array, width: number): Uint8Array<ArrayBuffer> {
  const turned = new Uint8Array(bytes.length - (bytes.length % width));
  for (let at = 0; at < turned.length; at++)
    turned[at] = bytes[at - (at % width) + width - 1 - (at % width)]!;
  return turned;
}

/** Makes values signed that are not, and the other way round, where they lie: least byte first. */
export function turnSigns(bytes: Uint8Array, width: number): void {
  for (let top = width - 1; top < bytes.length; top += width) bytes[top]! ^= 0x80;
}

/** Values of one byte are told from the middle in a WAV, longer ones from zero. */
export const isTurnedInWav = (isSigned: boolean, width: number): boolean =>
  isSigned === (width === 1);

/** As they lie where they are no linear values: those are the same in one form alone. */
export function plainData({ data, coding }: Pick<SoundFile, 'data' | 'coding'>): Uint8Array {
  if (coding.kind !== 'linear') return data;
  const { bytes: width, bigEndian, signed } = coding;
  const isTurned = isTurnedInWav(signed, width);
  if (!isTurned && (width === 1 || !bigEndian)) return data;
  const out = bigEndian ? leastFirst(data, width) : data.slice();
  if (isTurned) turnSigns(out, width);
  return out;
}
