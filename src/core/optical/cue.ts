/**
 * Cue sheets: which tracks a disc has, of what kind, and where in which file they lie; times in
 * frames of 1/75 s.
 */
import type { Problem } from '../problems';
import { said, type Said } from '@/core/said';

export type TrackKind =
  'AUDIO' | 'MODE1/2352' | 'MODE2/2352' | 'MODE1/2048' | 'MODE2/2336' | 'MODE2/2048';
export const SECTOR_BYTES: Readonly<Record<TrackKind, number>> = Object.freeze({
  AUDIO: 2352,
  'MODE1/2352': 2352,
  'MODE2/2352': 2352,
  'MODE1/2048': 2048,
  'MODE2/2336': 2336,
  'MODE2/2048': 2048,
});

export interface CueTrack {
  number: number;
  type: TrackKind;
  /** Index of its file in the sheet. */
  file: number;
  /** Sector of its INDEX 01 in its file, and of its INDEX 00 where it has one. */
  start: number;
  pregapStart: number | null;
  /** Sectors of silence before and after it that no file holds. */
  pregap: number;
  postgap: number;
}

export interface CueFile {
  name: string;
  type: 'BINARY' | 'MOTOROLA' | 'WAVE';
}

export interface CueSheet {
  files: CueFile[];
  tracks: CueTrack[];
  problems: Problem[];
}

const MAX_TRACKS = 99;
const MAX_LINES = 5000;
const FRAMES = 75;

function framesOf(text: string | undefined): number | null {
  const [, minutes, seconds, frames] = /^(\d{1,3}):(\d{2}):(\d{2})$/.exec(text ?? '') ?? [];
  if (minutes === undefined || Number(seconds) > 59 || Number(frames) >= FRAMES) return null;
  return (Number(minutes) * 60 + Number(seconds)) * FRAMES + Number(frames);
}

/** Words of a line; those in quotes are one. */
const wordsOf = (line: string): string[] =>
  (line.match(/"[^"]*"|\S+/g) ?? []).map((word) => word.replace(/^"(.*)"$/, '$1'));

/** A sheet begins with words that no image does. */
export const looksLikeCue = (text: string): boolean =>
  /^(?:\uFEFF)?\s*(?:REM|TITLE|PERFORMER|SONGWRITER|CATALOG|CDTEXTFILE|FILE)\b/i.test(text) &&
  !text.includes('\0');

/** What cannot be read is a problem, and the rest is taken as it stands. */
export function parseCue(text: string): CueSheet {
  const sheet: CueSheet = { files: [], tracks: [], problems: [] };
  const wrong = (line: number, what: Said) =>
    sheet.problems.push({
      kind: 'descriptor-damaged',
      offset: null,
      said: said('optical.lineOfTheCue', { line, message: what }),
    });
  let track: CueTrack | null = null;
  for (const [i, line] of text
    .split(/\r\n?|\n/)
    .slice(0, MAX_LINES)
    .entries()) {
    const [command = '', ...words] = wordsOf(line);
    const at = i + 1;
    switch (command.toUpperCase()) {
      case 'FILE': {
        const type = (words[1] ?? '').toUpperCase();
        if (!words[0] || !['BINARY', 'MOTOROLA', 'WAVE'].includes(type))
          wrong(at, said('optical.aFileHasA', { type: type || 'nothing' }));
        sheet.files.push({
          name: words[0] ?? '',
          type: type === 'MOTOROLA' || type === 'WAVE' ? type : 'BINARY',
        });
        break;
      }
      case 'TRACK': {
        const number = Number(words[0]);
        const type = (words[1] ?? '').toUpperCase() as TrackKind;
        if (
          !Number.isInteger(number) ||
          number < 1 ||
          number > MAX_TRACKS ||
          !(type in SECTOR_BYTES) ||
          sheet.files.length === 0 ||
          sheet.tracks.length >= MAX_TRACKS
        ) {
          wrong(at, said('optical.thereIsNoTrack', { words: words.slice(0, 2).join(' ') }));
          track = null;
          break;
        }
        track = {
          number,
          type,
          file: sheet.files.length - 1,
          start: -1,
          pregapStart: null,
          pregap: 0,
          postgap: 0,
        };
        sheet.tracks.push(track);
        break;
      }
      case 'INDEX':
      case 'PREGAP':
      case 'POSTGAP': {
        const index = command.toUpperCase() === 'INDEX' ? Number(words[0]) : -1;
        const frames = framesOf(words[index < 0 ? 0 : 1]);
        if (!track || frames === null) {
          wrong(at, said('optical.isNoPlaceOf', { words: words.join(' ') || 'nothing' }));
          break;
        }
        if (command.toUpperCase() === 'PREGAP') track.pregap = frames;
        else if (command.toUpperCase() === 'POSTGAP') track.postgap = frames;
        else if (index === 0) track.pregapStart = frames;
        else if (index === 1) track.start = frames;
        break;
      }
      // Titles, performers, flags, codes and remarks say nothing of where things lie.
      default:
        break;
    }
  }
  const without = sheet.tracks.filter(({ start }) => start < 0);
  for (const { number } of without)
    sheet.problems.push({
      kind: 'descriptor-damaged',
      offset: null,
      said: said('optical.trackOfTheCue', { number }),
    });
  sheet.tracks = sheet.tracks.filter(({ start }) => start >= 0);
  return sheet;
}

const timeOf = (frames: number) =>
  [Math.floor(frames / (60 * FRAMES)), Math.floor(frames / FRAMES) % 60, frames % FRAMES]
    .map((part) => String(part).padStart(2, '0'))
    .join(':');

/**
 * The sheet of tracks that lie in one file from end to end; `start` is the sector of each in it,
 * `pregap` silence before it that the file does not hold.
 */
export function cueText(
  file: string,
  tracks: readonly {
    number: number;
    type: TrackKind;
    start: number;
    pregapStart?: number | null;
    pregap?: number;
  }[],
): string {
  const name = file.replace(/["\r\n]/g, '_');
  return [
    `FILE "${name}" BINARY`,
    ...tracks.flatMap(({ number, type, start, pregapStart = null, pregap = 0 }) => [
      `  TRACK ${String(number).padStart(2, '0')} ${type}`,
      ...(pregap === 0 ? [] : [`    PREGAP ${timeOf(pregap)}`]),
      ...(pregapStart === null ? [] : [`    INDEX 00 ${timeOf(pregapStart)}`]),
      `    INDEX 01 ${timeOf(start)}`,
    ]),
  ]
    .map((line) => `${line}\r\n`)
    .join('');
}
