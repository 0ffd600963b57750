/** What the headers of a stretch of raw sectors say, by a few of them all over it. */
import type { ByteSource } from '../bits/byte-source';
import { headerOf } from './sector-header';
import { RAW_BYTES } from './scramble';

/** Sectors that are looked at. */
const LOOKED_AT = 64;

export interface HeaderSurvey {
  looked: number;
  /** Sectors with a header, by its mode. */
  modes: [number, number, number];
  /** Of those, how many are scrambled still. */
  scrambled: number;
  /** The address that the stretch begins with, by most of all; null where they say none. */
  begins: number | null;
}

/** Sectors whose header says that they hold user data. */
export const dataIn = ({ modes: [, one, two] }: HeaderSurvey): number => one + two;

export const commonestMode = ({ modes: [, one, two] }: HeaderSurvey) =>
  two > one ? ('MODE2/2352' as const) : ('MODE1/2352' as const);

export async function surveyHeaders(
  source: ByteSource,
  { fileSector, sectors }: { fileSector: number; sectors: number },
): Promise<HeaderSurvey> {
  const looked = Math.min(sectors, LOOKED_AT);
  const modes: HeaderSurvey['modes'] = [0, 0, 0];
  const begins = new Map<number, number>();
  let scrambled = 0;
  for (let i = 0; i < looked; i++) {
    const place = Math.floor((i * sectors) / looked);
    const header = headerOf(await source.read((fileSector + place) * RAW_BYTES, RAW_BYTES));
    if (!header) continue;
    modes[header.mode]++;
    if (header.isScrambled) scrambled++;
    const begin = header.address - place;
    begins.set(begin, (begins.get(begin) ?? 0) + 1);
  }
  const [most] = [...begins].sort((a, b) => b[1] - a[1]);
  return { looked, modes, scrambled, begins: most && 2 * most[1] > looked ? most[0] : null };
}

/** Whether most raw sectors of a track are scrambled still, as some drives hand them on. */
export async function isScrambled(
  source: ByteSource,
  track: { fileSector: number; sectors: number },
): Promise<boolean> {
  const { modes, scrambled } = await surveyHeaders(source, track);
  return 2 * scrambled > modes.reduce((sum, count) => sum + count, 0);
}
