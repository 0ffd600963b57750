/** `spindle sound --put`: a sound into a bank of a wavesample floppy. */
import { said, type Said } from '@/core/said';
import { SoundRefusal } from '@/core/sound/sound-file';
import { readWav } from '@/core/sound/wav/read';
import { putWave, type WavePut } from '@/core/sound/wavesample/put-wave';
import { WAVESAMPLE_RATE } from '@/core/sound/wavesample/wavesample-sounds';
import { readWhole, refuseExisting, writeNew } from '../files';
import { JobError, UsageError, tellLine } from '../usage';

interface PutOptions {
  put: string;
  bank: string | undefined;
  wave: string | undefined;
  to: string | undefined;
  rateHz: number | undefined;
}

function waveFrom(text: string | undefined): number | null {
  if (text === undefined) return null;
  if (!/^\d{1,6}$/.test(text)) throw new UsageError(said('ofSounds.isNoWave', { wave: text }));
  return Number(text);
}

export async function putSound(image: string, options: PutOptions): Promise<void> {
  const { put: path, bank, to, rateHz = WAVESAMPLE_RATE } = options;
  if (bank === undefined || to === undefined) throw new UsageError(said('ofSounds.putNeeds'));
  const wave = waveFrom(options.wave);
  await refuseExisting(to);
  const [bytes, wav] = [await readWhole(image), await readWhole(path)];
  let done: WavePut;
  let remarks: Said[];
  try {
    const sound = readWav(wav);
    ({ remarks } = sound);
    done = putWave(bytes, sound, { bank, wave, rateHz });
  } catch (error) {
    if (!(error instanceof SoundRefusal)) throw error;
    throw new JobError(said('ofSounds.cantBePut', { path, why: error.said }), { cause: error });
  }
  await writeNew(to, [done.image]);
  for (const what of remarks) tellLine(said('ofSounds.ofTheSound', { path, what }));
  const frames = done.to - done.from;
  tellLine(said('ofSounds.wasPut', { path, bank, wave: done.wave, frames, out: to }));
}
