/**
 * Bytes that leave the house through a route: refused where the medium is held, and in the ledger
 * with who took them, for whom, and what they were.
 */
import { isDeepStrictEqual } from 'node:util';
import { and, eq, gt, inArray, sql } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { storableSaid } from '@/server/platform/db/said-column';
import { nameOfDownload, type RouteContext } from '@/server/platform/http/respond';
import { noteMany } from '../ledger/ledger';
import { ledger } from '../ledger/tables';
import { refuseHeld } from './holds';
import { recipientsOf } from './permits';
import { recipientIn } from './recipient';

type Asking = Pick<RouteContext<unknown>, 'db' | 'request' | 'operator'>;

/** What of an answer is told: how it is called, how long it is, and its digest where it is known. */
function handedOut(answer: Response, recipient: string): Said {
  const { headers } = answer;
  const [, all] = /\/(\d+)$/.exec(headers.get('content-range') ?? '') ?? [];
  const bytes = all ?? headers.get('content-length');
  const sha256 = /^"([0-9a-f]{64})"$/.exec(headers.get('etag') ?? '')?.[1] ?? '';
  return said('rights.handedOut', {
    ...{ name: nameOfDownload(answer), recipient, sha256 },
    bytes: bytes === null ? null : Number(bytes),
  });
}

/** Media of which the same was handed out by the same person just now. */
async function notedJustNow(
  tx: Executor,
  operatorId: number,
  mediumIds: readonly number[],
): Promise<(mediumId: number, what: Said) => boolean> {
  const rows = await tx
    .select({ mediumId: ledger.mediumId, what: ledger.what })
    .from(ledger)
    .where(
      and(
        inArray(ledger.mediumId, [...mediumIds]),
        eq(ledger.kind, 'handed-out'),
        eq(ledger.operatorId, operatorId),
        gt(ledger.at, sql`now() - interval '10 minutes'`),
      ),
    );
  return (mediumId, what) =>
    rows.some(
      (row) => row.mediumId === mediumId && isDeepStrictEqual(row.what, storableSaid(what)),
    );
}

/**
 * Ranges of one download, and what is fetched again at once, are one entry, also where two come at
 * the same time.
 */
async function noteAll(
  db: Database,
  operatorId: number,
  mediumIds: readonly number[],
  { answer, request }: { answer: Response; request: Request },
): Promise<void> {
  const chosen = recipientIn(request.headers.get('cookie'));
  await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext('handed-out'), ${operatorId})`);
    const recipients = await recipientsOf(tx, mediumIds, operatorId);
    const isNoted = await notedJustNow(tx, operatorId, mediumIds);
    const entries = mediumIds.map((mediumId) => ({
      ...{ operatorId, kind: 'handed-out' as const, mediumId },
      what: handedOut(answer, recipients.get(mediumId) ?? chosen),
    }));
    await noteMany(
      tx,
      entries.filter(({ mediumId, what }) => !isNoted(mediumId, what)),
    );
  });
}

/**
 * What `make` answers, which holds bytes of these media. Throws UserError, 401, where nobody said who
 * is at work, and 403 where one of them is held.
 */
export async function handOut(
  { db, request, operator }: Asking,
  mediumIds: readonly number[],
  make: () => Promise<Response>,
): Promise<Response> {
  const operatorId = await operator();
  await refuseHeld(db, mediumIds, operatorId);
  const answer = await make();
  if (answer.ok && request.method !== 'HEAD')
    await noteAll(db, operatorId, mediumIds, { answer, request });
  return answer;
}

/** The same without an entry: of what is only heard in place, or written down once it went. */
export async function unlessHeld(
  { db, operator }: Asking,
  mediumIds: readonly number[],
  make: () => Promise<Response>,
): Promise<Response> {
  await refuseHeld(db, mediumIds, await operator());
  return make();
}
