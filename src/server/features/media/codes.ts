/** Codes of media: a series and a number, `SKP-0104`; a counter for each series. */
import { desc, eq, sql } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { codeSeries, media } from './tables';

const CODE = /^([A-Z]+)-(\d{1,9})$/;
const FIRST_SERIES = 'MED';
const DIGITS = 4;

const codeIn = (series: string, number: number) =>
  `${series}-${String(number).padStart(DIGITS, '0')}`;

/** The series that codes are given in now: that of the medium registered last. */
async function currentSeries(db: Executor): Promise<string> {
  const [newest] = await db
    .select({ code: media.code })
    .from(media)
    .where(sql`not ${media.isBlank} and not ${media.isReference}`)
    .orderBy(desc(media.id))
    .limit(1);
  return CODE.exec(newest?.code ?? '')?.[1] ?? FIRST_SERIES;
}

/** The code that a form proposes; nothing is taken. */
export async function nextCode(db: Executor): Promise<string> {
  const series = await currentSeries(db);
  const [row] = await db.select().from(codeSeries).where(eq(codeSeries.series, series));
  return codeIn(series, (row?.last ?? 0) + 1);
}

/** A code for a new medium, which nobody else is given. */
export async function drawCode(tx: Executor): Promise<string> {
  const series = await currentSeries(tx);
  const [row] = await tx
    .insert(codeSeries)
    .values({ series, last: 1 })
    .onConflictDoUpdate({ target: codeSeries.series, set: { last: sql`${codeSeries.last} + 1` } })
    .returning();
  return codeIn(series, row!.last);
}

/** Codes that people chose count as given. */
export async function countCodes(tx: Executor, codes: readonly string[]): Promise<void> {
  const highest = new Map<string, number>();
  for (const code of codes) {
    const [, series, number] = CODE.exec(code) ?? [];
    if (series) highest.set(series, Math.max(highest.get(series) ?? 0, Number(number)));
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
