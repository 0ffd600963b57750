/** Which kind of sound file bytes are, by their beginning, and what it holds. */
import { readAiff } from './files/aiff';
import { readAu } from './files/au';
import { idAt } from './files/iff-chunks';
import type { SoundFile } from './sound-file';
import { readSvx8 } from './files/svx8';
import { readWav } from './wav/read';

const READERS: Readonly<Record<string, (bytes: Uint8Array) => SoundFile>> = Object.freeze({
  'RIFF WAVE': readWav,
  'FORM AIFF': readAiff,
  'FORM AIFC': readAiff,
  'FORM 8SVX': readSvx8,
});

/** Null of bytes that are none of them; throws `SoundRefusal` of one that can't be read. */
export function readSound(bytes: Uint8Array): SoundFile | null {
  if (idAt(bytes, 0) === '.snd') return readAu(bytes);
  const reader = READERS[`${idAt(bytes, 0)} ${idAt(bytes, 8)}`];
  return reader ? reader(bytes) : null;
}
