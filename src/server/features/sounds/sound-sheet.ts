/**
 * All sounds of a fair copy as rows to save: what each is, which programs play it, and which of its
 * samples a program lacks.
 */
import { eq } from 'drizzle-orm';
import type { Database } from '@/server/platform/db/database';
import { tableDownload } from '@/server/platform/http/table-download';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { soundsOfCopy } from './queries';

const COLUMNS = [
  'kind',
  'folder',
  'name',
  'rate',
  'rate_is_assumed',
  'frames',
  'seconds',
  'bits',
  'channels',
  'root_note',
  'cents',
  'loops',
  'zones',
  'played_by',
  'lacks',
  'problems',
] as const;
type Column = (typeof COLUMNS)[number];
type Row = Record<Column, string | number | boolean | null>;

type Folder = Awaited<ReturnType<typeof soundsOfCopy>>['volumes'][number]['folders'][number];
type Sample = Folder['samples'][number];
type Program = Folder['programs'][number];

/** What a kind of thing does not have stays empty. */
const EMPTY = Object.fromEntries(COLUMNS.map((column) => [column, null])) as Row;

const listed = (each: Iterable<string>): string => [...new Set(each)].join('; ');

const rounded = (seconds: number): number => Math.round(1000 * seconds) / 1000;

function sampleRow(sample: Sample, { path, programs }: Folder): Row {
  const players = programs.filter(({ regions }) =>
    regions.some((region) => region.sample === sample.position),
  );
  return {
    ...EMPTY,
    kind: 'sample',
    folder: path.join('/'),
    name: sample.name,
    rate: sample.rateHz,
    rate_is_assumed: sample.rateAssumed,
    frames: sample.frames,
    seconds: rounded(sample.frames / sample.rateHz),
    bits: sample.bits,
    channels: sample.channels,
    root_note: sample.rootNote,
    cents: sample.cents,
    loops: sample.loops.length,
    played_by: listed(players.map(({ name }) => name)),
    problems: listed(sample.problems.map(({ message }) => message)),
  };
}

function programRow({ name, regions, problems }: Program, { path }: Folder): Row {
  const lacking = regions.filter(({ sample }) => sample === null);
  return {
    ...EMPTY,
    kind: 'program',
    folder: path.join('/'),
    name,
    zones: regions.length,
    lacks: listed(lacking.map(({ sampleName }) => sampleName)),
    problems: listed(problems.map(({ message }) => message)),
  };
}

async function* rowsOf({ volumes, files, tracks }: Awaited<ReturnType<typeof soundsOfCopy>>) {
  for (const folder of volumes.flatMap(({ folders }) => folders)) {
    for (const sample of folder.samples) yield sampleRow(sample, folder);
    for (const program of folder.programs) yield programRow(program, folder);
  }
  for (const { path } of files) yield { ...EMPTY, kind: 'file', name: path };
  for (const { number, seconds } of tracks)
    yield { ...EMPTY, kind: 'track', name: String(number), seconds: rounded(seconds) };
}

export async function soundSheet(db: Database, copyId: number, asJson: boolean): Promise<Response> {
  const sounds = await soundsOfCopy(db, copyId);
  const [medium] = await db
    .select({ code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.id, copyId));
  return tableDownload(`${medium!.code}-sounds`, COLUMNS, rowsOf(sounds), asJson);
}
