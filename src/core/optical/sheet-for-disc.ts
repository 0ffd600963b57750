/** The cue sheet that goes with a disc's image. */
import type { ByteSource } from '../bits/byte-source';
import { alignedSource, looksRaw } from './aligned-source';
import { cueText, type CueSheet } from './cue';
import { commonestMode, dataIn, surveyHeaders } from './header-survey';
import { RAW_BYTES } from './scramble';
import type { DiscTrack } from './disc-tracks';

/**
 * The sheet that gives these tracks of one file their places again. What lies before a track in the
 * file is its INDEX 00; silence that no file holds is told as such.
 */
export function sheetText(file: string, tracks: readonly DiscTrack[]): string {
  let [end, silence] = [0, 0];
  return cueText(
    file,
    tracks.map(({ number, type, flags, startLba, fileSector, sectors, indexes }) => {
      const pregap = Math.max(0, startLba - fileSector - silence);
      const pregapStart = end < fileSector ? end : null;
      silence += pregap;
      end = fileSector + sectors;
      return {
        ...{ number, type, flags, start: fileSector, pregapStart, pregap },
        indexes: indexes?.map((index) => fileSector + index),
      };
    }),
  );
}

/**
 * A raw image that has no sheet, in step: one data track, its mode by what most of its headers say.
 * Null where it is none.
 */
export async function discWithoutSheet<T extends ByteSource>(
  source: T,
  name: string,
): Promise<{ sheet: CueSheet; source: T } | null> {
  if (!(await looksRaw(source))) return null;
  const aligned = await alignedSource(source);
  const sheet = await sheetFor(aligned.source, name);
  return sheet && { source: aligned.source, sheet: { ...sheet, problems: aligned.problems } };
}

async function sheetFor(source: ByteSource, name: string): Promise<CueSheet | null> {
  const sectors = Math.floor(source.size / RAW_BYTES);
  const survey = await surveyHeaders(source, { fileSector: 0, sectors });
  if (sectors === 0 || 2 * dataIn(survey) < survey.looked) return null;
  return {
    files: [{ name, type: 'BINARY' }],
    tracks: [
      {
        number: 1,
        type: commonestMode(survey),
        file: 0,
        start: 0,
        pregapStart: null,
        pregap: 0,
        postgap: 0,
      },
    ],
    problems: [],
  };
}
