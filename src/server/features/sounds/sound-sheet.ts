/**
 * All sounds of a fair copy as rows to save: what each is, which programs play it, and which of its
 * samples a program lacks.
 */
import { fileNameOfCode } from '@/core/medium-code';
import { eq } from 'drizzle-orm';
import { playersOf } from '@/core/sound/sound';
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
  'has_pre_emphasis',
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
    played_by: listed(playersOf(programs, sample.position)),
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
  for (const { filesystem, folders, problems } of volumes) {
    for (const folder of folders) {
      for (const sample of folder.samples) yield sampleRow(sample, folder);
      for (const program of folder.programs) yield programRow(program, folder);
    }
    // Files that are odd, or none after all.
    for (const { message } of problems)
      yield { ...EMPTY, kind: 'problem', name: filesystem, problems: message };
  }
  for (const { path } of files) yield { ...EMPTY, kind: 'file', name: path };
  for (const { number, seconds, hasPreEmphasis } of tracks)
    yield {
      ...EMPTY,
      kind: 'track',
      name: String(number),
      seconds: rounded(seconds),
      has_pre_emphasis: hasPreEmphasis,
    };
}

export async function soundSheet(db: Database, copyId: number, asJson: boolean): Promise<Response> {
  const sounds = await soundsOfCopy(db, copyId);
  const [medium] = await db
    .select({ code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.id, copyId));
  return tableDownload(`${fileNameOfCode(medium!.code)}-sounds`, COLUMNS, rowsOf(sounds), asJson);
}
