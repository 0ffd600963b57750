/** The sounds of a fair copy: its samples and programs, its files of sound, its tracks of sound. */
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { ListedSample, ListedSounds } from '@/core/sound/listed-sounds';
import { hasPreEmphasis } from '@/core/optical/disc-tracks';
import { frameBytesOf } from '@/core/sound/sound';
import { SOUND_NAMES } from '@/core/sound/sound-file';
import { holdsSounds } from '@/core/sound/sounding';
import { said } from '@/core/said';
import type { Extent } from '@/core/volume/volume';
import { toldProblem } from '@/messages/tell';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { notFound } from '@/server/platform/errors';
import { runImageTask } from '@/server/platform/threads/image-tasks';
import { rawTracksOf } from '../copies/disc-parts';
import { fairCopies, files, volumes } from '../copies/tables';
import { rateOf } from './sound-rates';

const MOST_FILES = 2000;
const SECTORS_A_SECOND = 75;

interface FileRow {
  id: number;
  doubts: Extent[];
}

/** Rows of the files of a volume of this copy, by their place in it. */
export async function fileRowsOf(
  db: Executor,
  copyId: number,
  offset: number,
): Promise<Map<number, FileRow>> {
  const rows = await db
    .select({ id: files.id, position: files.position, doubts: files.doubts })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(
      and(
        eq(volumes.fairCopyId, copyId),
        eq(volumes.offset, offset),
        isNull(volumes.inside),
        isNull(volumes.view),
      ),
    );
  return new Map(rows.map(({ position, ...row }) => [position, row]));
}

/** Where the doubts of a file lie among its frames. */
function doubtfulFrames(sample: ListedSample, doubts: readonly Extent[]) {
  const { headerBytes, frames } = sample;
  const frameAt = (byte: number) =>
    Math.max(0, Math.min(frames, (byte - headerBytes) / frameBytesOf(sample)));
  return doubts
    .map(({ offset, length }) => ({
      from: Math.floor(frameAt(offset)),
      to: Math.ceil(frameAt(offset + length)),
    }))
    .filter(({ from, to }) => to > from);
}

/** A sample as pages have it, with the row of its file. */
export const toldSample = (sample: ListedSample, row: FileRow | null) => ({
  ...sample,
  problems: sample.problems.map(toldProblem),
  file: row?.id ?? null,
  doubts: doubtfulFrames(sample, row?.doubts ?? []),
});

async function placed(db: Executor, copyId: number, listed: ListedSounds) {
  const rows = await fileRowsOf(db, copyId, listed.offset);
  return {
    filesystem: listed.filesystem,
    problems: listed.problems.map(toldProblem),
    folders: listed.folders.map(({ path, samples, programs }) => ({
      path,
      samples: samples.map((sample) => toldSample(sample, rows.get(sample.position) ?? null)),
      programs: programs.map((program) => ({
        ...program,
        file: rows.get(program.position)?.id ?? null,
        problems: program.problems.map(toldProblem),
      })),
    })),
  };
}

/** Files whose names end as those of sounds do. */
export const areSoundFiles = (copyId: number) =>
  and(
    eq(volumes.fairCopyId, copyId),
    eq(files.kind, 'file'),
    isNull(files.link),
    isNull(volumes.view),
    sql`${files.pathFolded} ~ ${SOUND_NAMES}`,
  );

export async function soundsOfCopy(db: Executor, id: number) {
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, id));
  if (!copy) throw notFound(said('platform.suchFairCopy'));
  const kinds = await db
    .selectDistinct({ filesystem: volumes.filesystem })
    .from(volumes)
    .where(eq(volumes.fairCopyId, id));
  const rateHz = await rateOf(db, copy.mediumId);
  const isSounding = kinds.some(({ filesystem }) => holdsSounds(filesystem));
  const listed = isSounding
    ? await runImageTask(await blobSource(db, copy.imageBlob), 'sounds', { rateHz })
    : [];
  const found = [];
  for (const each of listed) found.push(await placed(db, id, each));
  const disc = rawTracksOf(copy);
  const tracks = disc
    .filter(({ type }) => type === 'AUDIO')
    .map((track) => ({
      number: track.number,
      seconds: track.sectors / SECTORS_A_SECOND,
      hasPreEmphasis: hasPreEmphasis(track),
    }));
  const own = await db
    .select({ id: files.id, path: files.path })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(areSoundFiles(id))
    .orderBy(files.path)
    .limit(MOST_FILES);
  return {
    volumes: found,
    files: own,
    tracks,
    disc,
  };
}
