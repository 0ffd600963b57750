/**
 * The tracks of a disc as its sheet says, held against what their sectors say themselves: a sheet
 * may be of another disc, or made by a program that did not look.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import type { CueSheet, TrackKind } from './cue';
import { isData, tracksOf, type DiscTrack } from './disc-tracks';
import { RAW_BYTES, scramble } from './scramble';
import { addressOf, hasHeader, hasSync } from './sector-header';
import { said } from '@/core/said';

/** Sectors of a track that are looked at. */
const LOOKED_AT = 32;
/** Sectors of data under a track of sound are nearly all there; of another mode most. */
const NEARLY_ALL = 0.9;
const MOST = 0.75;

interface HeadersSeen {
  looked: number;
  /** By mode. */
  modes: [number, number, number];
  /** The address that the track begins with, by most of its headers; null where they say none. */
  begins: number | null;
}

async function headersOf(
  source: ByteSource,
  { fileSector, sectors }: DiscTrack,
): Promise<HeadersSeen> {
  const looked = Math.min(sectors, LOOKED_AT);
  const modes: HeadersSeen['modes'] = [0, 0, 0];
  const begins = new Map<number, number>();
  for (let i = 0; i < looked; i++) {
    const place = Math.floor((i * sectors) / looked);
    const sector = (await source.read((fileSector + place) * RAW_BYTES, RAW_BYTES)).slice();
    if (sector.length < RAW_BYTES || !hasSync(sector)) continue;
    if (!hasHeader(sector)) scramble(sector);
    if (!hasHeader(sector)) continue;
    modes[sector[15] as 0 | 1 | 2]++;
    const begin = addressOf(sector)! - place;
    begins.set(begin, (begins.get(begin) ?? 0) + 1);
  }
  const [most] = [...begins].sort((a, b) => b[1] - a[1]);
  return { looked, modes, begins: most && 2 * most[1] > looked ? most[0] : null };
}

/** What a track is by its headers; null where they do not contradict the sheet. */
function contradicted(type: TrackKind, { looked, modes }: HeadersSeen): TrackKind | null {
  const [, one, two] = modes;
  if (looked === 0) return null;
  const most = two > one ? 'MODE2/2352' : 'MODE1/2352';
  if (type === 'AUDIO') return one + two >= NEARLY_ALL * looked ? most : null;
  if (type === most || Math.max(one, two) < MOST * (one + two)) return null;
  return one + two >= looked / 2 ? most : null;
}

/** A disc ends with 99:59:74 at the latest. */
const MOST_SECTORS = 450_000;

/** Where further tracks of data lie behind the first, by the addresses of both, where that can be. */
function placedByAddress(tracks: DiscTrack[], begins: readonly (number | null)[]): DiscTrack[] {
  const first = tracks.findIndex(isData);
  let end = 0;
  return tracks.map((track, i) => {
    if (!isData(track)) return track;
    const [own, base] = [begins[i] ?? null, begins[first] ?? null];
    const bySheet = track.startLba - tracks[first]!.startLba;
    const byAddress = own === null || base === null ? bySheet : own - base;
    const isPossible = byAddress >= end && byAddress + track.sectors <= MOST_SECTORS;
    const imageSector = isPossible ? byAddress : Math.max(end, bySheet);
    end = imageSector + track.sectors;
    return imageSector === bySheet ? track : { ...track, imageSector };
  });
}

/** The tracks, each as what its sectors are; where the sheet says otherwise, that is told. */
export async function seenTracks(
  sheet: CueSheet,
  sources: readonly ByteSource[],
): Promise<{ tracks: DiscTrack[]; problems: Problem[] }> {
  const { tracks, problems } = tracksOf(
    sheet,
    sources.map(({ size }) => size),
  );
  const seen: DiscTrack[] = [];
  const begins: (number | null)[] = [];
  for (const track of tracks) {
    const { number, type, file, fileSector } = track;
    const source = sources[file];
    const isLooked = type === 'AUDIO' ? isPlain(sheet, file) : type.endsWith('/2352');
    const headers = source && isLooked ? await headersOf(source, track) : null;
    const is = headers && contradicted(type, headers);
    begins.push(headers?.begins ?? null);
    seen.push(is ? { ...track, type: is } : track);
    if (is)
      problems.push({
        kind: 'sheet-differs',
        offset: fileSector * RAW_BYTES,
        said: said('optical.sheetSaysOtherwise', { number, type, is }),
      });
  }
  return { tracks: placedByAddress(seen, begins), problems };
}

const isPlain = ({ files }: CueSheet, file: number): boolean => files[file]?.type === 'BINARY';
