/** A report for whoever lent a lot: what was read of it, how well, and what is on it. */
import { and, asc, eq } from 'drizzle-orm';
import { dayOf } from '@/core/description/day';
import { formName } from '@/core/medium-form';
import { said } from '@/core/said';
import { say } from '@/messages';
import { tell } from '@/messages/tell';
import type { Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { notFound, UserError } from '@/server/platform/errors';
import { downloadBytes } from '@/server/platform/http/respond';
import type { Sheet, SheetBlock } from '@/server/platform/pdf/sheet';
import { sheetPdf } from '@/server/platform/pdf/sheet-pdf';
import { isInUse } from '../media/in-use';
import { lots, media } from '../media/tables';
import { heldAmong } from '../rights/holds';
import { readStatesOf, readWords, type ReadState } from './read-state';

/** A lot with more is reported in parts that somebody reads. */
const MAX_REPORTED = 2000;
const PATHS_TOLD = 24;

type Medium = typeof media.$inferSelect;
type Lot = typeof lots.$inferSelect;

interface Reported {
  medium: Medium;
  state: ReadState | undefined;
  /** Names of files on it are not for everybody. */
  isHeld: boolean;
}

async function reportedOf(db: Executor, lot: Lot): Promise<Reported[]> {
  const own = await db
    .select()
    .from(media)
    .where(and(isInUse, eq(media.lot, lot.name), eq(media.isBlank, false)))
    .orderBy(asc(media.code))
    .limit(MAX_REPORTED + 1);
  if (own.length > MAX_REPORTED)
    throw new UserError(said('receipts.tooManyToReport', { limit: MAX_REPORTED }), 422);
  const ids = own.map(({ id }) => id);
  const [states, held] = await Promise.all([readStatesOf(db, ids, PATHS_TOLD), heldAmong(db, ids)]);
  return own.map((medium) => ({
    medium,
    state: states.get(medium.id),
    isHeld: held.has(medium.id),
  }));
}

const doubtsOf = ({ tally }: ReadState): number =>
  tally ? tally.doubtful + tally.lost + tally.unread : 0;

function summaryOf(reported: readonly Reported[]): string {
  const read = reported.flatMap(({ state }) => (state ? [state] : []));
  return say.sheets.reportSays({
    ...{ media: reported.length, read: read.length },
    whole: read.filter((state) => doubtsOf(state) === 0).length,
    files: read.reduce((sum, { files }) => sum + files, 0),
    bytes: read.reduce((sum, { fileBytes }) => sum + fileBytes, 0),
    hurt: read.reduce((sum, { hurtFiles }) => sum + hurtFiles, 0),
  });
}

function contentsOf({ volumes, tracksOfSound, files, fileBytes, hurtFiles }: ReadState): string {
  const named = volumes.map(({ filesystem, label }) =>
    label?.trim() ? say.sheets.volumeNamed({ filesystem, label: label.trim() }) : filesystem,
  );
  const sound = tracksOfSound > 0 ? [say.sheets.tracksOfSound({ tracksOfSound })] : [];
  if (named.length + sound.length === 0) return say.sheets.noVolume;
  const counted = named.length > 0 ? [say.sheets.filesOn({ files, fileBytes, hurtFiles })] : [];
  return [...named, ...sound, ...counted].join(', ');
}

function namesOf({ paths, files }: ReadState): string {
  const more = files - paths.length;
  return paths.join(', ') + (more > 0 ? say.sheets.andMore({ more }) : '');
}

function blocksOf({ medium, state, isHeld }: Reported): SheetBlock[] {
  const { code, title, form, labelText, condition } = medium;
  const facts = [
    [say.sheets.form, tell(formName(form))],
    [say.sheets.sticker, labelText],
    [say.sheets.condition, condition],
    [say.sheets.read, readWords(state)],
    [say.sheets.contents, state ? contentsOf(state) : ''],
    [say.sheets.files, state && !isHeld ? namesOf(state) : ''],
    [say.sheets.files, state && state.files > 0 && isHeld ? say.sheets.namesAreHeld : ''],
  ] as const;
  return [
    { kind: 'heading', text: `${code} · ${title}` },
    { kind: 'facts', facts: facts.filter(([, text]) => text !== '') },
  ];
}

/** Throws UserError: 404 of a lot there is none of, 422 of one that is too large. */
export async function lotReport(db: Executor, asked: string): Promise<Sheet> {
  const name = sanitizeText(asked);
  const [lot] = await db.select().from(lots).where(eq(lots.name, name));
  if (!lot) throw notFound(said('media.lot', { name }));
  const reported = await reportedOf(db, lot);
  const facts = [
    [say.sheets.lender, lot.lender],
    [say.sheets.cameIn, lot.cameIn],
    [say.sheets.handBackBy, lot.handBackBy],
    [say.sheets.asOf, dayOf(new Date())],
  ] as const;
  return {
    over: say.sheets.reportOn({ lender: lot.lender }),
    head: name,
    blocks: [
      { kind: 'text', text: summaryOf(reported), tone: 'plain' },
      { kind: 'facts', facts: facts.filter(([, text]) => text !== '') },
      ...reported.flatMap(blocksOf),
    ],
  };
}

export async function lotReportPdf(db: Executor, name: string): Promise<Response> {
  const sheet = await lotReport(db, name);
  return downloadBytes(await sheetPdf(sheet), `report ${sheet.head}.pdf`, 'application/pdf');
}
