/** Reads AU: a header of at least 24 bytes, highest byte first, and frames up to the file's end. */
import { said, type Said } from '@/core/said';
import { viewOf } from './iff-chunks';
import { valueBytes, type PcmCoding } from '../pcm';
import { SoundRefusal, type SoundFile } from '../sound-file';

const MAGIC = 0x2e736e64;
const HEAD = 24;
const UNKNOWN = 0xffffffff;
const MOST_CHANNELS = 64;

const linear = (bytes: 1 | 2 | 3 | 4): PcmCoding => ({
  kind: 'linear',
  bytes,
  signed: true,
  bigEndian: true,
});

const CODINGS: ReadonlyMap<number, PcmCoding> = new Map<number, PcmCoding>([
  [1, { kind: 'u-law' }],
  [2, linear(1)],
  [3, linear(2)],
  [4, linear(3)],
  [5, linear(4)],
  [6, { kind: 'float', bytes: 4, bigEndian: true }],
  [7, { kind: 'float', bytes: 8, bigEndian: true }],
  [27, { kind: 'a-law' }],
]);

/** Throws `SoundRefusal` where it is none, is coded in a way that is not read, or holds no frame. */
export function readAu(bytes: Uint8Array): SoundFile {
  const view = viewOf(bytes);
  if (bytes.length < HEAD || view.getUint32(0) !== MAGIC)
    throw new SoundRefusal(said('sound.isNoAu'));
  const from = view.getUint32(4);
  const stated = view.getUint32(8);
  const encoding = view.getUint32(12);
  const coding = CODINGS.get(encoding);
  if (!coding)
    throw new SoundRefusal(said('sound.compressionIsNotRead', { compression: String(encoding) }));
  const rateHz = view.getUint32(16);
  const channels = view.getUint32(20);
  if (channels === 0 || channels > MOST_CHANNELS || rateHz === 0)
    throw new SoundRefusal(said('sound.channelsOrRateAreNone', { channels, rateHz }));
  const begins = Math.max(HEAD, from);
  const there = Math.max(0, bytes.length - begins);
  const wanted = stated === UNKNOWN ? there : Math.min(stated, there);
  const frameBytes = valueBytes(coding) * channels;
  const frames = Math.floor(wanted / frameBytes);
  if (frames === 0) throw new SoundRefusal(said('sound.holdsNoFrame'));
  const isCut = stated !== UNKNOWN && there < stated;
  const remarks: Said[] = isCut ? [said('sound.dataIsCut', { stated, there })] : [];
  const data = bytes.subarray(begins, begins + frames * frameBytes);
  const bits = 8 * valueBytes(coding);
  const rest = { loops: [], soundsAt: null, remarks };
  return { format: 'au', rateHz, channels, bits, coding, frames, data, ...rest };
}
