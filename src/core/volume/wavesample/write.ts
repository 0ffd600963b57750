/**
 * Wavesample floppies written: a wave put behind the last of its bank or in the place of another,
 * or taken out. Its six banks are its folders; waves have no names, and are called by their place.
 */
import { said, type Said } from '@/core/said';
import { VolumeRefusal, partsOfPath, type Room, type WritableVolume } from '../writable';
import {
  BANKS,
  LEAST,
  SAMPLES,
  WAVESAMPLE_BYTES,
  bankOf,
  freeBehind,
  placeOfWave,
  setBank,
  wavesOf,
} from './banks';

const NAME = /^wave-([1-9]\d{0,3})$/;

/** A disk of six silent banks, without the machine's own system. */
export const formatWavesample = (): Uint8Array => new Uint8Array(WAVESAMPLE_BYTES);

export class WritableWavesample implements WritableVolume {
  readonly filesystem = 'wavesample';
  readonly hasFolders = true;
  readonly keeps = [] as const;

  constructor(readonly image: Uint8Array) {
    if (image.length !== WAVESAMPLE_BYTES)
      throw new VolumeRefusal(
        'damaged',
        said('sound.isNoWavesampleImage', { bytes: image.length }),
      );
  }

  refuseName(name: string): Said | null {
    return NAME.test(name) ? null : said('wavesample.wavesHaveNoNames');
  }

  suggestName(wished: string): string {
    return NAME.test(wished) ? wished : 'wave-1';
  }

  nextName(taken: ReadonlySet<string>): string {
    let number = 1;
    while (taken.has(`wave-${number}`)) number++;
    return `wave-${number}`;
  }

  cost(bytes: number): number {
    return bytes;
  }

  room(): Room {
    return {
      unit: 'frame',
      unitBytes: 1,
      total: BANKS.length * SAMPLES,
      free: freeBehind(BANKS.map((_, bank) => wavesOf(bankOf(this.image, bank)))),
      entries: 0,
    };
  }

  put(path: string, bytes: Uint8Array): void {
    const { bank, number } = this.placeOf(path);
    const own = bankOf(this.image, bank);
    const waves = wavesOf(own);
    const place = placeOfWave(waves, number);
    if (!place)
      throw new VolumeRefusal(
        'name',
        said('sound.bankHasNoSuchWave', { wave: number, waves: waves.length }),
      );
    if (bytes.length === 0) throw new VolumeRefusal('kind', said('sound.holdsNoFrame'));
    const { from, until } = place;
    if (from + bytes.length > until)
      throw new VolumeRefusal(
        'full',
        said('sound.doesNotFit', { frames: bytes.length, room: Math.max(0, until - from) }),
      );
    const there = waves[number - 1];
    if (there) own.fill(0, ...there);
    own.set(
      bytes.map((value) => Math.max(LEAST, value)),
      from,
    );
    setBank(this.image, bank, own);
  }

  remove(path: string): void {
    const { bank, number } = this.placeOf(path);
    const own = bankOf(this.image, bank);
    const there = wavesOf(own)[number - 1];
    if (!there) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    own.fill(0, ...there);
    setBank(this.image, bank, own);
  }

  rename(): void {
    throw new VolumeRefusal('name', said('wavesample.wavesHaveNoNames'));
  }

  makeFolder(): void {
    throw new VolumeRefusal('no-folders', said('wavesample.hasSixBanks'));
  }

  setAttributes(): void {
    throw new VolumeRefusal('kind', said('wavesample.wavesHaveNoNames'));
  }

  private placeOf(path: string): { bank: number; number: number } {
    const [folder, name, ...more] = partsOfPath(path);
    const bank = BANKS.findIndex((each) => each === folder);
    if (bank < 0 || name === undefined || more.length > 0)
      throw new VolumeRefusal('no-folders', said('wavesample.hasSixBanks'));
    const refused = this.refuseName(name);
    if (refused) throw new VolumeRefusal('name', refused);
    return { bank, number: Number(NAME.exec(name)![1]) };
  }
}
