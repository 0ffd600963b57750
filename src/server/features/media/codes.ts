/**
 * Codes that media are given: those of a lot by its pattern, others as the newest is numbered; a
 * counter for each numbering, so that no code is drawn twice.
 */
import { desc, eq, ne, sql } from 'drizzle-orm';
import {
  type CodeNumbering,
  codeAt,
  numberIn,
  type NumberedCode,
  parseCodePattern,
  readNumbering,
  seriesName,
} from '@/core/medium-code';
import type { Executor } from '@/server/platform/db/database';
import { isInUse } from './in-use';
import { codeSeries, formerCodes, lots, media } from './tables';

/** How a code is numbered, and the number that is free; those above it are as well. */
export type NextCode = NumberedCode;

const FIRST: CodeNumbering = { before: 'MED-', digits: 4, after: '' };

/** What was registered by mistake, and withdrawn, is no scheme. */
const isTheirs = sql`(${isInUse} and not ${media.isBlank} and not ${media.isReference})`;

/** How the medium registered last is numbered: of the lot, where it has one; else of all. */
async function newestNumbering(db: Executor, lot: string): Promise<NumberedCode | null> {
  const [newest] = await db
    .select({ code: media.code })
    .from(media)
    .where(lot ? sql`${isTheirs} and ${media.lot} = ${lot}` : isTheirs)
    .orderBy(desc(media.id))
    .limit(1);
  return newest ? readNumbering(newest.code) : null;
}

/** With the number that was given last, as far as codes themselves say it. */
async function currentNumbering(db: Executor, lot: string): Promise<NumberedCode> {
  const [row] = lot
    ? await db.select({ pattern: lots.codePattern }).from(lots).where(eq(lots.name, lot))
    : [];
  const pattern = row ? parseCodePattern(row.pattern) : null;
  if (pattern) return { numbering: pattern, number: 0 };
  return (
    (lot ? await newestNumbering(db, lot) : null) ??
    (await newestNumbering(db, '')) ?? { numbering: FIRST, number: 0 }
  );
}

/** The code that a form proposes for a medium of a lot; nothing is taken. */
export async function nextCode(db: Executor, lot = ''): Promise<NextCode> {
  const { numbering, number } = await currentNumbering(db, lot);
  const series = seriesName(numbering);
  const [row] = await db.select().from(codeSeries).where(eq(codeSeries.series, series));
  return { numbering, number: Math.max(row?.last ?? 0, number) + 1 };
}

/** A code for a new medium of a lot, which nobody else is given. */
export async function drawCode(tx: Executor, lot = ''): Promise<string> {
  const { numbering, number } = await currentNumbering(tx, lot);
  const [row] = await tx
    .insert(codeSeries)
    .values({ series: seriesName(numbering), last: number + 1 })
    .onConflictDoUpdate({
      target: codeSeries.series,
      set: { last: sql`greatest(${codeSeries.last} + 1, excluded.last)` },
    })
    .returning();
  return codeAt(numbering, row!.last);
}

/** Codes that people chose count as given, in each numbering that they are of. */
export async function countCodes(tx: Executor, codes: readonly string[]): Promise<void> {
  const patterned = await tx
    .selectDistinct({ pattern: lots.codePattern })
    .from(lots)
    .where(ne(lots.codePattern, ''));
  const patterns = patterned.flatMap(({ pattern }) => parseCodePattern(pattern) ?? []);
  const highest = new Map<string, number>();
  const count = (numbering: CodeNumbering, number: number) => {
    const series = seriesName(numbering);
    highest.set(series, Math.max(highest.get(series) ?? 0, number));
  };
  for (const code of codes) {
    const read = readNumbering(code);
    if (read) count(read.numbering, read.number);
    for (const pattern of patterns) {
      const number = numberIn(pattern, code);
      if (number !== null) count(pattern, number);
    }
  }
  if (highest.size === 0) return;
  // In one order, so that two who register at once never wait for each other.
  const rows = [...highest].sort(([a], [b]) => (a < b ? -1 : 1));
  await tx
    .insert(codeSeries)
    .values(rows.map(([series, last]) => ({ series, last })))
    .onConflictDoUpdate({
      target: codeSeries.series,
      set: { last: sql`greatest(${codeSeries.last}, excluded.last)` },
    });
}

/** Codes of a pattern that were given before there was the pattern count as given. */
export async function countPattern(tx: Executor, pattern: string): Promise<void> {
  const numbering = parseCodePattern(pattern);
  if (!numbering) return;
  const { before, after } = numbering;
  const isOfPattern = (code: typeof media.code | typeof formerCodes.code) =>
    sql`starts_with(${code}, ${before}) and right(${code}, ${after.length}) = ${after}`;
  const given = await tx
    .select({ code: media.code })
    .from(media)
    .where(isOfPattern(media.code))
    .unionAll(
      tx.select({ code: formerCodes.code }).from(formerCodes).where(isOfPattern(formerCodes.code)),
    );
  await countCodes(
    tx,
    given.map(({ code }) => code),
  );
}
