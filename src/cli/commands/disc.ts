/**
 * `spindle disc`: the tracks of a raw disc image, and which of its sectors are good, mendable and
 * lost.
 */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { mkdir } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import type { ByteSource } from '@/core/bits/byte-source';
import { examineDisc, sectorsOf, type DiscReport } from '@/core/optical/disc';
import { isRaw } from '@/core/optical/disc-tracks';
import { discData } from '@/core/optical/disc-data';
import { seenTracks } from '@/core/optical/seen-tracks';
import { placeReading, type OtherReading } from '@/core/optical/other-readings';
import { sheetText } from '@/core/optical/sheet-for-disc';
import { cueText } from '@/core/optical/cue';
import { makeMode1, RAW_BYTES, USER_SECTOR_BYTES } from '@/core/optical/raw-sector';
import { scramble } from '@/core/optical/scramble';
import { identifyVolumes } from '@/core/identify/identify';
import { DISC_PCM, wavHeader } from '@/core/sound/wav/header';
import { nodeDigester } from '@/node/digester';
import { LostSectors } from '../image-doubts';
import { ReadingBudget } from '@/core/volume/reading-budget';
import { volumeJson } from './contents';
import { fileSource, jsonText, writeNew, writeOut } from '../files';
import { openDisc, type OpenDisc } from '../open-disc';
import { shown } from '../paths';
import { JobError, tellLine, UsageError } from '../usage';

/** What there is beside the image: the drive's flags, and further readings with theirs. */
interface Beside {
  flags: ByteSource | null;
  others: readonly OtherReading[];
}

/** Lost sectors named on the command line. */
const LISTED = 20;

/** The image once more with every mended sector in its place; lost ones stay as they are. */
async function* repaired(
  source: ByteSource,
  tracks: DiscReport['tracks'],
  { flags, others }: Beside,
): AsyncGenerator<Uint8Array> {
  let at = 0;
  async function* upTo(end: number) {
    while (at < end) {
      const part = await source.read(at, Math.min(1 << 20, end - at));
      if (part.length === 0) return;
      yield part;
      at += part.length;
    }
  }
  for (const track of tracks.filter(({ type }) => isRaw(type))) {
    for await (const { lba, sector } of sectorsOf(source, track, track.scrambled, flags, others)) {
      const place = (track.fileSector + lba - track.startLba) * RAW_BYTES;
      // A sheet may let tracks lie on one another.
      if (sector.verdict !== 'repairable' || place < at) continue;
      yield* upTo(place);
      const bytes = sector.bytes.slice();
      if (track.scrambled) scramble(bytes);
      yield bytes;
      at += RAW_BYTES;
    }
  }
  yield* upTo(source.size);
}

const sheetBeside = (image: string) =>
  join(dirname(image), `${basename(image, extname(image))}.cue`);

async function* one(bytes: Uint8Array) {
  yield bytes;
}

/** Sound as a WAVE file, piece by piece; `turned` has the high byte of each sample first. */
async function* soundOf(
  source: ByteSource,
  fileSector: number,
  sectors: number,
  turned: boolean,
): AsyncGenerator<Uint8Array> {
  yield wavHeader(sectors * RAW_BYTES, DISC_PCM);
  for (let at = 0; at < sectors; at += SOUND_PIECE) {
    const length = Math.min(SOUND_PIECE, sectors - at) * RAW_BYTES;
    const bytes = (await source.read((fileSector + at) * RAW_BYTES, length)).slice();
    if (turned)
      for (let i = 0; i + 1 < bytes.length; i += 2)
        [bytes[i], bytes[i + 1]] = [bytes[i + 1]!, bytes[i]!];
    yield bytes;
  }
}

/**
 * Every track of sound as a WAV file of its own; those that are WAV files already are left where
 * they are.
 */
async function writeSound(
  { sheet, sources }: OpenDisc,
  tracks: DiscReport['tracks'],
  folder: string,
): Promise<string[]> {
  await mkdir(folder, { recursive: true });
  const lines: string[] = [];
  for (const { number, type, file, fileSector, sectors } of tracks) {
    if (type !== 'AUDIO' || sheet.files[file]?.type === 'WAVE') continue;
    const source = sources[file]!;
    const target = join(folder, `track-${String(number).padStart(2, '0')}.wav`);
    const turned = sheet.files[file]?.type === 'MOTOROLA';
    await writeNew(target, soundOf(source, fileSector, sectors, turned));
    lines.push(tell(said('ofDiscs.trackWritten', { number, path: shown(target) })));
  }
  return lines.length > 0 ? lines : [tell(said('ofDiscs.thereIsNoSound'))];
}

/** Sectors of sound read at a time. */
const SOUND_PIECE = 256;

/** An image of 2,048-byte sectors as raw mode 1 sectors, with its sheet. */
async function writeRaw(path: string, target: string): Promise<void> {
  const source = await fileSource(path);
  try {
    if (source.size === 0 || source.size % USER_SECTOR_BYTES !== 0)
      throw new JobError(said('ofDiscs.isNoWholeNumber', { path: shown(path) }));
    const written = await writeNew(
      target,
      (async function* () {
        for (let lba = 0; lba * USER_SECTOR_BYTES < source.size; lba++)
          yield makeMode1(await source.read(lba * USER_SECTOR_BYTES, USER_SECTOR_BYTES), lba);
      })(),
    );
    const sheet = sheetBeside(target);
    await writeNew(
      sheet,
      one(
        new TextEncoder().encode(
          cueText(basename(target), [{ number: 1, type: 'MODE1/2352', start: 0 }]),
        ),
      ),
    );
    tellLine(
      said('ofDiscs.rawSectorsIn', {
        sectors: written / RAW_BYTES,
        path: shown(target),
        sheet: shown(sheet),
      }),
    );
  } finally {
    await source.close();
  }
}

type Examined = Awaited<ReturnType<typeof examineDisc>>;
type Disc = NonNullable<Awaited<ReturnType<typeof openDisc>>>;

/**
 * Further readings of the disc, laid beside it by the addresses in their sectors. The first of the
 * flags are those of the disc itself, the next those of the first further reading, and so on.
 */
async function openBeside(
  { sheet, sources }: Disc,
  also: readonly string[],
  flags: readonly string[],
): Promise<Beside & { close(): Promise<void> }> {
  if (flags.length > also.length + 1) throw new UsageError(said('ofDiscs.flagsOfEach'));
  if (also.length > 0 && sources.length !== 1)
    throw new JobError(said('ofDiscs.alsoTakesOneImage'));
  const { tracks } = await seenTracks(sheet, sources);
  const track = tracks.find(({ type }) => isRaw(type));
  const open: Awaited<ReturnType<typeof fileSource>>[] = [];
  const opened = async (path: string) => {
    const source = await fileSource(path);
    open.push(source);
    return source;
  };
  const close = async () => {
    for (const each of open) await each.close();
  };
  try {
    const ofDrive: ByteSource[] = [];
    for (const path of flags) ofDrive.push(await opened(path));
    const others: OtherReading[] = [];
    for (const [i, path] of also.entries()) {
      const own = track && (await placeReading(await opened(path), track, ofDrive[i + 1] ?? null));
      if (!own) throw new JobError(said('ofDiscs.saysNotWhereItLies', { path: shown(path) }));
      others.push(own);
    }
    return { flags: ofDrive[0] ?? null, others, close };
  } catch (error) {
    await close();
    throw error;
  }
}

/** The volumes of the disc's data, the first and those of later sessions. */
async function volumesOf(
  disc: Disc,
  tracks: Examined['tracks'],
  beside: Beside,
): Promise<object[]> {
  const lost = new LostSectors();
  const source = await discData(disc.sources, tracks, { ...beside, onLost: lost.add });
  if (!source) return [];
  const onImage = { budget: new ReadingBudget(source.size), doubts: () => lost.doubts() };
  const jsons: object[] = [];
  for (const found of (await identifyVolumes(source)).volumes)
    jsons.push(await volumeJson({ ...found, inside: null }, onImage));
  return jsons;
}

function discJson(
  { tracks, scrambled, misaddressed, ...report }: Examined,
  [volume, ...later]: readonly object[],
) {
  return {
    ...report,
    tracks: tracks.map(
      ({ number, type, startLba, sectors, fileSector, pregapSectors, pcmSha256 }) => ({
        number,
        type,
        startLba,
        sectors,
        fileSector,
        pregapSectors,
        ...(pcmSha256 !== undefined && { pcmSha256 }),
      }),
    ),
    ...(scrambled && { scrambled }),
    ...(misaddressed.length > 0 && { misaddressed }),
    ...(volume && { volume }),
    ...(later.length > 0 && { laterVolumes: later }),
  };
}

const trackLine = ({ number, type, startLba, sectors }: Examined['tracks'][number]): string =>
  `${String(number).padStart(2)}  ${type.padEnd(10)}  ` +
  `${tell(said('ofDiscs.trackFrom', { start: startLba, sectors }))}\n`;

function linesOf({ good, repairable, unrepairable, problems }: Examined): string[] {
  const [mendable, lost] = [repairable.length, unrepairable.length];
  const sectors = unrepairable.slice(0, LISTED).map(String);
  return [
    tell(said('ofDiscs.tally', { good, mendable, lost })),
    ...problems.map(({ said }) => shown(tell(said))),
    ...(lost > 0 ? [tell(said('ofDiscs.lost', { sectors, isMore: lost > LISTED }))] : []),
  ];
}

async function writeRepaired(
  { sources }: Disc,
  { tracks, repairable }: Examined,
  beside: Beside,
  target: string,
): Promise<string> {
  if (sources.length !== 1) throw new JobError(said('ofDiscs.repairWritesOne'));
  await writeNew(target, repaired(sources[0]!, tracks, beside));
  const sheet = sheetBeside(target);
  await writeNew(sheet, one(new TextEncoder().encode(sheetText(basename(target), tracks))));
  return tell(
    said('ofDiscs.writtenMended', {
      sectors: repairable.length,
      path: shown(target),
      sheet: shown(sheet),
    }),
  );
}

export async function discCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: 'string' },
      flags: { type: 'string', multiple: true },
      also: { type: 'string', multiple: true },
      repair: { type: 'string' },
      sound: { type: 'string' },
      raw: { type: 'string' },
    },
  });
  const [path, ...more] = positionals;
  if (!path || more.length > 0) throw new UsageError(said('ofDiscs.discTakes'));
  if (values.raw) return writeRaw(path, values.raw);
  const disc = await openDisc(path);
  if (!disc) throw new JobError(said('ofDiscs.isNoDisc', { path: shown(path) }));
  const close = [disc.close];
  try {
    const beside = await openBeside(disc, values.also ?? [], values.flags ?? []);
    close.push(beside.close);
    const examined = await examineDisc({ ...disc, ...beside }, nodeDigester);
    const { tracks } = examined;
    if (values.json) {
      const json = discJson(examined, await volumesOf(disc, tracks, beside));
      await writeOut(values.json, jsonText(json));
    }
    if (values.json !== '-') process.stdout.write(tracks.map(trackLine).join(''));
    const lines = linesOf(examined);
    if (values.repair) lines.push(await writeRepaired(disc, examined, beside, values.repair));
    if (values.sound) lines.push(...(await writeSound(disc, tracks, values.sound)));
    process.stderr.write(`${lines.join('\n')}\n`);
  } finally {
    for (const each of close) await each();
  }
}
