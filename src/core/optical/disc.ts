/**
 * A disc as raw images and a cue sheet describe it: its tracks, every data sector looked at, what
 * is good, mended and lost.
 */
import { rangeWithin, sliceSource, type ByteSource } from '../bits/byte-source';
import type { Digester, Sha256Stream } from '../digester';
import { toHex } from '../digester';
import type { Problem } from '../problems';
import { SECTOR_BYTES, type CueSheet } from './cue';
import { isRaw, type DiscTrack } from './disc-tracks';
import { RAW_BYTES, USER_BYTES, USER_SECTOR_BYTES, type RawSector } from './raw-sector';
import { FLAG_BYTES, flagged, sectorsIn, type OtherReading } from './other-readings';
import { checkReadings } from './readings-together';
import { isScrambled } from './header-survey';
import { scramble } from './scramble';
import { seenTracks } from './seen-tracks';

export interface DiscReport {
  sectors: number;
  mode: 'mode1' | 'mode2' | 'audio' | 'mixed';
  good: number;
  /** By place on the disc. */
  repairable: number[];
  unrepairable: number[];
  /** Whole, and with another address in their headers than their place. */
  misaddressed: number[];
  /** SHA-256 of the user bytes of all data sectors, zeros for those beyond mending. */
  userSha256: string;
  scrambled: boolean;
  tracks: (DiscTrack & { scrambled: boolean; pcmSha256?: string })[];
  repaired: { lba: number; userSha256: string }[];
  problems: Problem[];
}

/** Sectors read at a time. */
const CHUNK = 128;

interface DiscImage {
  sheet: CueSheet;
  sources: readonly ByteSource[];
  flags?: ByteSource | null;
  /** Of a disc in one file: what else was read of it. */
  others?: readonly OtherReading[];
}

/** Each data sector of a track in order, looked at and mended where it can be. */
export async function* sectorsOf(
  source: ByteSource,
  track: DiscTrack,
  scrambled: boolean,
  flags: ByteSource | null,
  others: readonly OtherReading[] = [],
): AsyncGenerator<{ lba: number; sector: RawSector }> {
  const mode = track.type === 'MODE2/2352' ? 2 : 1;
  for (let first = 0; first < track.sectors; first += CHUNK) {
    const count = Math.min(CHUNK, track.sectors - first);
    const bytes = await source.read((track.fileSector + first) * RAW_BYTES, count * RAW_BYTES);
    const bits = flags
      ? await flags.read((track.startLba + first) * FLAG_BYTES, count * FLAG_BYTES)
      : null;
    for (let i = 0; i < count && (i + 1) * RAW_BYTES <= bytes.length; i++) {
      let raw = bytes.subarray(i * RAW_BYTES, (i + 1) * RAW_BYTES);
      if (scrambled) {
        raw = raw.slice();
        scramble(raw);
      }
      const lba = track.startLba + first + i;
      const own = {
        bytes: raw,
        flags: bits && flagged(bits.subarray(i * FLAG_BYTES, (i + 1) * FLAG_BYTES)),
      };
      let sector = checkReadings([own], lba, mode);
      if (sector.verdict === 'unrepairable' && others.length > 0) {
        const further = await sectorsIn(others, track.fileSector + first + i);
        sector = checkReadings([own, ...further], lba, mode);
      }
      yield { lba, sector };
    }
  }
}

/** Looks at all of a disc. */
export async function examineDisc(
  { sheet, sources, flags = null, others = [] }: DiscImage,
  digester: Digester,
): Promise<DiscReport> {
  const { tracks, problems } = await seenTracks(sheet, sources);
  const user = digester.sha256Stream();
  const report: DiscReport = {
    sectors: 0,
    mode: 'audio',
    good: 0,
    repairable: [],
    unrepairable: [],
    misaddressed: [],
    userSha256: '',
    scrambled: false,
    tracks: [],
    repaired: [],
    problems: [...sheet.problems, ...problems],
  };
  const modes = new Set<string>();
  for (const track of tracks) {
    const source = sources[track.file];
    if (!source) continue;
    const out: DiscReport['tracks'][number] = { ...track, scrambled: false };
    report.tracks.push(out);
    modes.add(track.type.slice(0, 5).toLowerCase());
    if (track.type === 'AUDIO') {
      const kind = sheet.files[track.file]?.type;
      if (kind !== 'WAVE')
        out.pcmSha256 = await pcmDigest(source, track, kind === 'MOTOROLA', digester);
      continue;
    }
    if (!isRaw(track.type)) continue;
    out.scrambled = await isScrambled(source, track);
    report.scrambled ||= out.scrambled;
    const sectors = sectorsOf(source, track, out.scrambled, flags, others);
    await readSectors(sectors, report, digester, user);
  }
  report.sectors = sectorsOfFiles(sources, tracks);
  report.mode = modes.size > 1 ? 'mixed' : (([...modes][0] ?? 'audio') as DiscReport['mode']);
  report.userSha256 = toHex(user.digest());
  return report;
}

function sectorsOfFiles(sources: readonly ByteSource[], tracks: readonly DiscTrack[]): number {
  const typeOf = (at: number) => tracks.find(({ file }) => file === at)?.type ?? 'AUDIO';
  return sources.reduce(
    (sum, { size }, at) => sum + Math.floor(size / SECTOR_BYTES[typeOf(at)]),
    0,
  );
}

async function readSectors(
  sectors: ReturnType<typeof sectorsOf>,
  report: DiscReport,
  digester: Digester,
  user: Sha256Stream,
) {
  for await (const { lba, sector } of sectors) {
    const [from, to] = USER_BYTES[sector.form];
    if (sector.verdict === 'good') report.good++;
    else if (sector.verdict === 'repairable') {
      report.repairable.push(lba);
      report.repaired.push({
        lba,
        userSha256: toHex(digester.sha256(sector.bytes.subarray(from, to))),
      });
    } else report.unrepairable.push(lba);
    if (sector.verdict !== 'unrepairable' && sector.address !== null && sector.address !== lba)
      report.misaddressed.push(lba);
    user.update(
      sector.verdict === 'unrepairable'
        ? new Uint8Array(to - from)
        : sector.bytes.subarray(from, to),
    );
  }
}

/** Of signed 16-bit samples, least byte first whichever way the file has them. */
async function pcmDigest(
  source: ByteSource,
  { fileSector, sectors }: DiscTrack,
  bigEndian: boolean,
  digester: Digester,
): Promise<string> {
  const hash = digester.sha256Stream();
  for (let first = 0; first < sectors; first += CHUNK) {
    let bytes = await source.read(
      (fileSector + first) * RAW_BYTES,
      Math.min(CHUNK, sectors - first) * RAW_BYTES,
    );
    if (bigEndian) {
      bytes = bytes.slice();
      for (let i = 0; i + 1 < bytes.length; i += 2)
        [bytes[i], bytes[i + 1]] = [bytes[i + 1]!, bytes[i]!];
    }
    hash.update(bytes);
  }
  return toHex(hash.digest());
}

/**
 * The 2,048 bytes a sector of a data track as a source: for file systems, which know nothing of raw
 * sectors. Good and mended sectors; zeros for lost ones, of which `onLost` hears by their number in
 * the track.
 */
export function userSource(
  source: ByteSource,
  track: DiscTrack,
  scrambled: boolean,
  flags: ByteSource | null = null,
  others: readonly OtherReading[] = [],
  onLost: (sector: number) => void = () => undefined,
): ByteSource {
  if (!isRaw(track.type))
    return sliceSource(
      source,
      track.fileSector * USER_SECTOR_BYTES,
      track.sectors * USER_SECTOR_BYTES,
    );
  const size = track.sectors * USER_SECTOR_BYTES;
  return {
    size,
    async read(offset, length) {
      const { from, to } = rangeWithin(size, offset, length);
      const out = new Uint8Array(to - from);
      const first = Math.floor(from / USER_SECTOR_BYTES);
      const part: DiscTrack = {
        ...track,
        startLba: track.startLba + first,
        fileSector: track.fileSector + first,
        sectors: Math.ceil(to / USER_SECTOR_BYTES) - first,
      };
      if (to <= from) return out;
      for await (const { lba, sector } of sectorsOf(source, part, scrambled, flags, others)) {
        if (sector.verdict === 'unrepairable') {
          onLost(lba - track.startLba);
          continue;
        }
        const at = (lba - track.startLba) * USER_SECTOR_BYTES - from;
        const user = sector.bytes.subarray(
          USER_BYTES[sector.form][0],
          USER_BYTES[sector.form][0] + USER_SECTOR_BYTES,
        );
        const skip = Math.max(0, -at);
        if (skip < user.length && at < out.length)
          out.set(user.subarray(skip, Math.min(user.length, out.length - at)), Math.max(0, at));
      }
      return out;
    },
  };
}
