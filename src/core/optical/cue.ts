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

/**
 * What a track's control bits say beside its kind: copying allowed, four channels, pre-emphasis,
 * a serial copy's mark.
 */
export const TRACK_FLAGS = ['DCP', '4CH', 'PRE', 'SCMS'] as const;
export type TrackFlag = (typeof TRACK_FLAGS)[number];

export interface CueTrack {
  number: number;
  type: TrackKind;
  flags?: readonly TrackFlag[];
  /** Index of its file in the sheet. */
  file: number;
  /** Sector of its INDEX 01 in its file, and of its INDEX 00 where it has one. */
  start: number;
  pregapStart: number | null;
  /** Of its INDEX 02 and on, where it has them. */
  indexes?: number[];
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
const MAX_INDEX = 99;
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

/** A sheet as far as it was read. */
class SheetReader {
  readonly sheet: CueSheet = { files: [], tracks: [], problems: [] };
  private track: CueTrack | null = null;

  /** One line: its command in capitals, its words, and its number from 1 on. */
  take(command: string, words: readonly string[], line: number): void {
    switch (command) {
      case 'FILE':
        return this.file(words, line);
      case 'TRACK':
        return this.begin(words, line);
      case 'INDEX':
      case 'PREGAP':
      case 'POSTGAP':
        return this.place(command, words, line);
      case 'FLAGS':
        return this.flags(words);
      // Titles, performers, codes and remarks say nothing of where things lie.
      default:
    }
  }

  private file([name = '', kind = '']: readonly string[], line: number): void {
    const type = kind.toUpperCase();
    if (!name || !['BINARY', 'MOTOROLA', 'WAVE'].includes(type))
      this.wrong(line, said('optical.aFileHasA', { type: type || 'nothing' }));
    this.sheet.files.push({
      name,
      type: type === 'MOTOROLA' || type === 'WAVE' ? type : 'BINARY',
    });
  }

  private begin(words: readonly string[], line: number): void {
    const { files, tracks } = this.sheet;
    const number = Number(words[0]);
    const type = (words[1] ?? '').toUpperCase() as TrackKind;
    const isNumber = Number.isInteger(number) && number >= 1 && number <= MAX_TRACKS;
    this.track = null;
    if (!isNumber || !(type in SECTOR_BYTES) || files.length === 0 || tracks.length >= MAX_TRACKS)
      return this.wrong(
        line,
        said('optical.thereIsNoTrack', { words: words.slice(0, 2).join(' ') }),
      );
    this.track = {
      number,
      type,
      file: files.length - 1,
      start: -1,
      pregapStart: null,
      pregap: 0,
      postgap: 0,
    };
    tracks.push(this.track);
  }

  /** Words that are no flag are passed over, as other readers do. */
  private flags(words: readonly string[]): void {
    const said = words.map((word) => word.toUpperCase());
    if (this.track) this.track.flags = TRACK_FLAGS.filter((flag) => said.includes(flag));
  }

  private place(
    command: 'INDEX' | 'PREGAP' | 'POSTGAP',
    words: readonly string[],
    line: number,
  ): void {
    const { track } = this;
    const frames = framesOf(words[command === 'INDEX' ? 1 : 0]);
    if (!track || frames === null)
      return this.wrong(line, said('optical.isNoPlaceOf', { words: words.join(' ') || 'nothing' }));
    if (command === 'PREGAP') track.pregap = frames;
    else if (command === 'POSTGAP') track.postgap = frames;
    else if (Number(words[0]) === 0) track.pregapStart = frames;
    else if (Number(words[0]) === 1) track.start = frames;
    else this.furtherIndex(track, Number(words[0]), frames);
  }

  /** Those behind the first count up, and lie one behind the other. */
  private furtherIndex(track: CueTrack, number: number, frames: number): void {
    const before = track.indexes ?? [];
    const isNext = number === before.length + 2 && frames > (before.at(-1) ?? track.start);
    if (isNext && track.start >= 0 && number <= MAX_INDEX) track.indexes = [...before, frames];
  }

  private wrong(line: number, message: Said): void {
    this.damaged(said('optical.lineOfTheCue', { line, message }));
  }

  private damaged(what: Said): void {
    this.sheet.problems.push({ kind: 'descriptor-damaged', offset: null, said: what });
  }

  /** A track without a place is none. */
  done(): CueSheet {
    const { sheet } = this;
    for (const { number, start } of sheet.tracks)
      if (start < 0) this.damaged(said('optical.trackOfTheCue', { number }));
    sheet.tracks = sheet.tracks.filter(({ start }) => start >= 0);
    return sheet;
  }
}

/** What cannot be read is a problem, and the rest is taken as it stands. */
export function parseCue(text: string): CueSheet {
  const reader = new SheetReader();
  const lines = text.split(/\r\n?|\n/).slice(0, MAX_LINES);
  for (const [i, line] of lines.entries()) {
    const [command = '', ...words] = wordsOf(line);
    reader.take(command.toUpperCase(), words, i + 1);
  }
  return reader.done();
}

const twoDigits = (number: number): string => String(number).padStart(2, '0');

const timeOf = (frames: number) =>
  [Math.floor(frames / (60 * FRAMES)), Math.floor(frames / FRAMES) % 60, frames % FRAMES]
    .map(twoDigits)
    .join(':');

/** Places from INDEX 00 on; null where there is none. */
const indexLines = (places: readonly (number | null)[]): string[] =>
  places.flatMap((place, index) =>
    place === null ? [] : [`    INDEX ${twoDigits(index)} ${timeOf(place)}`],
  );

/**
 * The sheet of tracks that lie in one file from end to end; `start` is the sector of each in it,
 * `pregap` silence before it that the file does not hold.
 */
export function cueText(
  file: string,
  tracks: readonly {
    number: number;
    type: TrackKind;
    flags?: readonly TrackFlag[];
    start: number;
    pregapStart?: number | null;
    pregap?: number;
    indexes?: readonly number[];
  }[],
): string {
  const name = file.replace(/["\r\n]/g, '_');
  return [
    `FILE "${name}" BINARY`,
    ...tracks.flatMap(({ number, type, flags = [], start, pregap = 0, ...places }) => [
      `  TRACK ${twoDigits(number)} ${type}`,
      ...(flags.length === 0 ? [] : [`    FLAGS ${flags.join(' ')}`]),
      ...(pregap === 0 ? [] : [`    PREGAP ${timeOf(pregap)}`]),
      ...indexLines([places.pregapStart ?? null, start, ...(places.indexes ?? [])]),
    ]),
  ]
    .map((line) => `${line}\r\n`)
    .join('');
}
