/** Media: registering, finding, and what is known of each. */
import { asc, desc, eq, ilike, inArray, or, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { CONDITION_MARKS, MARK_WORDS, SIDE_WORDS } from '@/core/condition';
import type { Database, Executor } from '../db/database';
import { fairCopies, fileTexts, files, findings, lots, media, sets, sittings, stations, volumes } from '../db/schema';
import { UserError, notFound } from '../errors';
import { storable } from '../db/storable';
import { announce } from '../events';
import { note } from './ledger';
import type { LotChange, MediumChange, NewMedium } from './new-medium';

type Input = z.output<typeof NewMedium>;

async function insertMedium(tx: Executor, operatorId: number, input: Input) {
  const [medium] = await tx.insert(media).values({ ...input, registeredBy: operatorId }).onConflictDoNothing({ target: media.code }).returning();
  if (!medium) throw new UserError(`${input.code} is registered already. Nothing was changed; choose another code.`, 409, 'code');
  if (input.lot && !input.isBlank) await tx.insert(lots).values({ name: input.lot, lender: input.lender }).onConflictDoNothing();
  if (input.setName) await tx.insert(sets).values({ name: input.setName }).onConflictDoNothing();
  await note(tx, { operatorId, kind: 'registered', mediumId: medium.id, what: `${input.code} registered: ${input.title}.` });
  return medium;
}

export async function registerMedium(db: Database, operatorId: number, input: Input) {
  return db.transaction(async (tx) => {
    const medium = await insertMedium(tx, operatorId, input);
    await announce(tx, { kind: 'media' });
    return medium;
  });
}

/** Registers all of them, or, where a code is taken or stands twice, none. */
export function registerMany(db: Database, operatorId: number, inputs: readonly Input[]): Promise<{ registered: number }> {
  return db.transaction((tx) => registerManyIn(tx, operatorId, inputs));
}

/** The same in the caller's transaction. */
export async function registerManyIn(tx: Executor, operatorId: number, inputs: readonly Input[]): Promise<{ registered: number }> {
  const codes = inputs.map(({ code }) => code);
  const taken = new Set((await tx.select({ code: media.code }).from(media).where(inArray(media.code, codes))).map(({ code }) => code));
  const wrong = codes.flatMap((code, i) => (taken.has(code) ? [`${code} is registered already`] : codes.indexOf(code) !== i ? [`${code} stands twice`] : []));
  if (wrong.length > 0) throw new UserError(`Nothing was registered: ${wrong.slice(0, 5).join('; ')}${wrong.length > 5 ? `; and ${wrong.length - 5} more` : ''}.`, 409, 'code');
  for (const input of inputs) await insertMedium(tx, operatorId, input);
  await announce(tx, { kind: 'media' });
  return { registered: inputs.length };
}

/** Says more of a medium: its condition, its label, whose it is. */
export async function describeMedium(db: Database, operatorId: number, code: string, change: z.output<typeof MediumChange>): Promise<void> {
  await db.transaction(async (tx) => {
    const { id } = await mediumByCode(tx, code);
    if (Object.keys(change).length === 0) return;
    const [medium] = await tx.select().from(media).where(eq(media.id, id)).for('update');
    if (!medium) throw notFound(`medium ${code}`);
    const marks = CONDITION_MARKS.filter((mark) => change.marks?.[mark] ?? medium.marks.includes(mark));
    await tx.update(media).set({ ...change, marks }).where(eq(media.id, id));
    if (change.lot) await tx.insert(lots).values({ name: change.lot, lender: change.lender ?? medium.lender }).onConflictDoNothing();
    if (change.setName) await tx.insert(sets).values({ name: change.setName }).onConflictDoNothing();
    const marked = change.marks && (marks.length > 0 ? marks.map((mark) => MARK_WORDS[mark]).join(', ') : 'no marks');
    const said = [marked, change.treatFirst !== undefined && (change.treatFirst ? 'not to be read before treatment' : 'may be read'), change.writeProtected !== undefined && (change.writeProtected ? 'write-protected' : 'not write-protected'), change.recordedSide && `recorded: ${SIDE_WORDS[change.recordedSide]}`, change.setName !== undefined && (change.setName ? `belongs to ${change.setName}${change.setNumber ? `, ${change.setNumber}` : ''}` : 'belongs to no set')].filter(Boolean);
    await note(tx, { operatorId, kind: 'described', mediumId: medium.id, what: `${medium.code} described${said.length > 0 ? `: ${said.join('; ')}` : ''}.` });
    await announce(tx, { kind: 'media' });
  });
}

export function listLots(db: Executor) {
  return db.select().from(lots).orderBy(asc(lots.name));
}

export async function changeLot(db: Database, operatorId: number, name: string, change: z.output<typeof LotChange>): Promise<void> {
  await db.transaction(async (tx) => {
    const changed = await tx.update(lots).set(change).where(eq(lots.name, storable(name))).returning({ name: lots.name });
    if (changed.length === 0) throw notFound(`lot ${name}`);
    await note(tx, { operatorId, kind: 'lot', what: `${name}: lent by ${change.lender || 'nobody known'}, came in ${change.cameIn || 'on a day not known'}, to be returned by ${change.returnBy || 'no day set'}; ${change.revolutions} turns a track, at most ${change.tries} readings, ${change.sweep}${change.gentle ? ', gently' : ''}.` });
    await announce(tx, { kind: 'media' });
  });
}

export async function mediumByCode(db: Executor, wanted: string) {
  const code = storable(wanted);
  const [medium] = await db.select().from(media).where(eq(media.code, code));
  if (!medium) throw notFound(`medium ${code}`);
  return medium;
}

/** The next free code of the register's most used series. */
export async function nextCode(db: Executor): Promise<string> {
  const rows = await db.select({ code: media.code }).from(media).where(sql`not ${media.isBlank} and not ${media.isReference}`).orderBy(desc(media.id)).limit(1);
  const [, series = 'MED', number = '0'] = /^([A-Z]+)-(\d+)$/.exec(rows[0]?.code ?? '') ?? [];
  const [last] = await db.select({ code: sql<string>`max(${media.code})` }).from(media).where(ilike(media.code, `${series}-%`));
  const highest = Math.max(Number(number), Number(/\d+$/.exec(last?.code ?? '')?.[0] ?? 0));
  return `${series}-${String(highest + 1).padStart(4, '0')}`;
}

/** Media without a fair copy, with where each is. */
export function listArrivals(db: Executor) {
  return db.select({
    id: media.id, code: media.code, form: media.form, title: media.title, labelText: media.labelText, lender: media.lender, lot: media.lot,
    condition: media.condition, isBlank: media.isBlank, isReference: media.isReference, recordedSide: media.recordedSide, setName: media.setName, setNumber: media.setNumber, marks: media.marks, treatFirst: media.treatFirst, writeProtected: media.writeProtected, station: stations.id,
    sittingState: sql<string | null>`(select s.state from ${sittings} s where s.medium_id = ${media.id} order by s.id desc limit 1)`,
  }).from(media).leftJoin(stations, eq(stations.mediumId, media.id))
    .where(sql`not exists (select 1 from ${fairCopies} f where f.medium_id = ${media.id})`)
    .orderBy(asc(media.isBlank), asc(media.isReference), asc(media.code));
}

/** Everything kept, newest copy of each medium first; `query` looks in labels, lenders, file names and digests. */
export async function searchHoldings(db: Executor, query: string) {
  const latest = db.select({ id: sql<number>`max(${fairCopies.id})`.as('latest_id') }).from(fairCopies).groupBy(fairCopies.mediumId);
  const rows = await db.select({
    id: fairCopies.id, code: media.code, title: media.title, labelText: media.labelText, lender: media.lender, form: media.form, layout: fairCopies.layout,
    sha256: fairCopies.imageSha256, bytes: fairCopies.imageBytes, tally: fairCopies.tally, madeAt: fairCopies.madeAt, source: fairCopies.source,
    // A partitioned image holds several volumes, and is one medium all the same.
    volumes: sql<{ filesystem: string; label: string | null }[]>`coalesce((select json_agg(json_build_object('filesystem', v.filesystem, 'label', v.label) order by v."offset") from ${volumes} v where v.fair_copy_id = ${fairCopies.id}), '[]')`,
    fileCount: sql<number>`(select count(*)::int from ${files} f join ${volumes} v on v.id = f.volume_id where v.fair_copy_id = ${fairCopies.id} and f.kind = 'file' and not f.deleted)`,
    findings: sql<number>`(select count(*)::int from ${findings} where ${findings.fairCopyId} = ${fairCopies.id})`,
    sameAs: sql<string[]>`array(select distinct m.code from ${fairCopies} f join ${media} m on m.id = f.medium_id where f.image_sha256 = ${fairCopies.imageSha256} and f.medium_id <> ${fairCopies.mediumId} order by 1)`,
  }).from(fairCopies).innerJoin(media, eq(media.id, fairCopies.mediumId)).where(inArray(fairCopies.id, latest)).orderBy(asc(media.code));
  const words = storable(query).trim().toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return { copies: rows, found: [], texts: [] };
  const like = (word: string) => `%${word.replace(/[\\%_]/g, '\\$&')}%`;
  const found = await db.select({
    id: files.id, path: files.path, bytes: files.bytes, sha256: files.sha256, modified: files.modified, deleted: files.deleted, code: media.code, copyId: fairCopies.id,
  }).from(files).innerJoin(volumes, eq(volumes.id, files.volumeId)).innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(sql`${inArray(fairCopies.id, latest)} and ${files.kind} = 'file' and ${sql.join(words.map((word) => or(ilike(files.path, like(word)), ilike(files.sha256, `${word}%`))!), sql` and `)}`)
    .orderBy(asc(media.code), asc(files.position)).limit(200);
  const asked = sql`plainto_tsquery('simple', ${words.join(' ')})`;
  const texts = await db.select({
    id: files.id, path: files.path, code: media.code, excerpt: sql<string>`ts_headline('simple', ${fileTexts.body}, ${asked}, 'MaxWords=16, MinWords=8, MaxFragments=1, StartSel="", StopSel=""')`,
  }).from(fileTexts).innerJoin(files, eq(files.sha256, fileTexts.sha256)).innerJoin(volumes, eq(volumes.id, files.volumeId)).innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId)).innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(sql`${inArray(fairCopies.id, latest)} and to_tsvector('simple', ${fileTexts.body}) @@ ${asked}`).orderBy(asc(media.code), asc(files.position)).limit(50);
  const holds = new Set(found.map(({ copyId }) => copyId));
  const copies = rows.filter((row) => {
    const text = `${row.code} ${row.title} ${row.labelText} ${row.lender} ${row.volumes.map(({ label }) => label ?? '').join(' ')} ${row.sha256}`.toLowerCase();
    return holds.has(row.id) || words.every((word) => text.includes(word));
  });
  return { copies, found, texts };
}
