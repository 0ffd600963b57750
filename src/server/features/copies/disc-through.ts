/**
 * The sound of a disc from one track on, as a player goes through it: a WAV of which any range is
 * given, so that what plays it may go anywhere in it.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { passagesFrom, type SoundPassage } from '@/core/optical/disc-sound';
import { hasPreEmphasis, type DiscTrack } from '@/core/optical/disc-tracks';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { DeEmphasis } from '@/core/sound/signal/de-emphasis';
import { widened } from '@/core/sound/signal/widened';
import { DISC_PCM, WAV_HEADER_BYTES, wavHeader } from '@/core/sound/wav/header';
import { DE_EMPHASISED_PCM, SOUND_SECTORS, type SoundWanted } from './disc-parts';

/** A filter that was not fed from the beginning is right again long before a sector is over. */
const BEFORE = 1;

interface SoundThrough {
  name: string;
  bytes: number;
  stream(start: number, end: number): AsyncGenerator<Uint8Array>;
}

export function soundThrough(
  source: ByteSource,
  tracks: readonly DiscTrack[],
  number: number,
  { isDeEmphasised = false }: SoundWanted,
): SoundThrough {
  const passages = passagesFrom(tracks, number);
  const isFlat = isDeEmphasised && passages.some(({ track }) => hasPreEmphasis(track));
  const format = isFlat ? DE_EMPHASISED_PCM : DISC_PCM;
  const sectorBytes = (RAW_BYTES * format.bits) / DISC_PCM.bits;
  const sectors = passages.reduce((sum, passage) => sum + passage.sectors, 0);
  const pcmBytes = sectors * sectorBytes;
  async function* stream(start: number, end: number): AsyncGenerator<Uint8Array> {
    const header = wavHeader(pcmBytes, format);
    if (start < header.length) yield header.subarray(start, Math.min(end, header.length));
    const from = Math.max(0, start - header.length);
    const first = Math.floor(from / sectorBytes);
    let at = header.length + first * sectorBytes;
    for await (const piece of sectorsFrom(source, passages, first, isFlat)) {
      if (at >= end) return;
      const own = piece.subarray(Math.max(0, start - at), end - at);
      if (own.length > 0) yield own;
      at += piece.length;
    }
  }
  return { name: `from-track-${number}.wav`, bytes: WAV_HEADER_BYTES + pcmBytes, stream };
}

async function* sectorsFrom(
  source: ByteSource,
  passages: readonly SoundPassage[],
  first: number,
  isFlat: boolean,
): AsyncGenerator<Uint8Array> {
  let skipped = first;
  for (const passage of passages) {
    if (skipped < passage.sectors) {
      const part = { ...passage, sectors: passage.sectors - skipped };
      if (part.fileSector !== null) part.fileSector += skipped;
      yield* isFlat ? flatPassage(source, part, skipped > 0) : asRecorded(source, part);
    }
    skipped = Math.max(0, skipped - passage.sectors);
  }
}

async function* asRecorded(
  source: ByteSource,
  { fileSector, sectors }: Pick<SoundPassage, 'fileSector' | 'sectors'>,
): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < sectors; at += SOUND_SECTORS) {
    const bytes = Math.min(SOUND_SECTORS, sectors - at) * RAW_BYTES;
    yield fileSector === null
      ? new Uint8Array(bytes)
      : await source.read((fileSector + at) * RAW_BYTES, bytes);
  }
}

/** 24 bits deep, as the tracks whose treble is let down. */
async function* flatPassage(
  source: ByteSource,
  passage: SoundPassage,
  isWithin: boolean,
): AsyncGenerator<Uint8Array> {
  const { fileSector } = passage;
  if (fileSector === null || !hasPreEmphasis(passage.track)) {
    for await (const piece of asRecorded(source, passage)) yield widened(piece);
    return;
  }
  const filter = new DeEmphasis(DISC_PCM.channels);
  if (isWithin) filter.take(await source.read((fileSector - BEFORE) * RAW_BYTES, RAW_BYTES));
  for await (const piece of asRecorded(source, passage)) yield filter.take(piece);
}
