/** `spindle sound --put`: a sound into a bank of a wavesample floppy, or a volume of a sampler. */
import { basename, extname } from 'node:path';
import { said, type Said } from '@/core/said';
import { putSample } from '@/core/sound/sampler/put-sample';
import { SoundRefusal, type SoundFile } from '@/core/sound/sound-file';
import { readWav } from '@/core/sound/wav/read';
import { putWave } from '@/core/sound/wavesample/put-wave';
import { WAVESAMPLE_RATE } from '@/core/sound/wavesample/wavesample-sounds';
import { VolumeRefusal } from '@/core/volume/writable';
import { readWhole, refuseExisting, writeNew } from '../files';
import { JobError, UsageError, tellLine } from '../usage';

interface PutOptions {
  put: string;
  bank: string | undefined;
  wave: string | undefined;
  volume: string | undefined;
  name: string | undefined;
  to: string | undefined;
  rateHz: number | undefined;
}

function waveFrom(text: string | undefined): number | null {
  if (text === undefined) return null;
  if (!/^\d{1,6}$/.test(text)) throw new UsageError(said('ofSounds.isNoWave', { wave: text }));
  return Number(text);
}

/** The changed image, and what is said of the change. */
interface Put {
  image: Uint8Array;
  remarks: readonly Said[];
  done: Said;
}

const intoBank = (
  image: Uint8Array,
  sound: SoundFile,
  { put: path, bank, wave, to, rateHz = WAVESAMPLE_RATE }: Asked,
): Put => {
  const asked = { bank: bank!, wave, rateHz };
  const { image: changed, ...its } = putWave(image, sound, asked);
  const frames = its.to - its.from;
  const done = said('ofSounds.wasPut', { path, bank: bank!, wave: its.wave, frames, out: to });
  return { image: changed, remarks: sound.remarks, done };
};

const intoVolume = (
  image: Uint8Array,
  sound: SoundFile,
  { put: path, volume, name = basename(path, extname(path)), to }: Asked,
): Put => {
  const { remarks, ...its } = putSample(image, sound, { volume: volume!, name });
  const { path: sample, frames, isReplaced } = its;
  const done = said('ofSounds.wasPutAs', { path, sample, frames, isReplaced, out: to });
  return { image, remarks, done };
};

type Asked = Omit<PutOptions, 'wave'> & { to: string; wave: number | null };

/** What a refusal of either kind says; null of another error. */
const refusedFor = (error: unknown): Said | null =>
  error instanceof SoundRefusal || error instanceof VolumeRefusal ? error.said : null;

export async function putSound(image: string, options: PutOptions): Promise<void> {
  const { put: path, bank, volume, name, rateHz, to } = options;
  if ((bank === undefined) === (volume === undefined) || to === undefined)
    throw new UsageError(said('ofSounds.putNeeds'));
  const ofOther = bank === undefined ? [options.wave, rateHz] : [name];
  if (ofOther.some((each) => each !== undefined)) throw new UsageError(said('ofSounds.putTakes'));
  const wave = waveFrom(options.wave);
  await refuseExisting(to);
  const [bytes, wav] = [await readWhole(image), await readWhole(path)];
  const put = bank === undefined ? intoVolume : intoBank;
  try {
    const sound = readWav(wav);
    const { image: changed, remarks, done } = put(bytes, sound, { ...options, wave, to });
    await writeNew(to, [changed]);
    for (const what of remarks) tellLine(said('ofSounds.ofTheSound', { path, what }));
    tellLine(done);
  } catch (error) {
    const why = refusedFor(error);
    if (!why) throw error;
    throw new JobError(said('ofSounds.cantBePut', { path, why }), { cause: error });
  }
}
