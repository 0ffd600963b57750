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

/** What is told of bytes that leave: how they are called, how many, and their digest where it is known. */
interface HandedOut {
  name: string;
  bytes: number | null;
  sha256: string;
}

function whatOf(answer: Response): HandedOut {
  const { headers } = answer;
  const [, all] = /\/(\d+)$/.exec(headers.get('content-range') ?? '') ?? [];
  const bytes = all ?? headers.get('content-length');
  const sha256 = /^"([0-9a-f]{64})"$/.exec(headers.get('etag') ?? '')?.[1] ?? '';
  return { name: nameOfDownload(answer), bytes: bytes === null ? null : Number(bytes), sha256 };
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
  { chosen, ...what }: HandedOut & { chosen: string },
): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext('handed-out'), ${operatorId})`);
    const recipients = await recipientsOf(tx, mediumIds, operatorId);
    const isNoted = await notedJustNow(tx, operatorId, mediumIds);
    const entries = mediumIds.map((mediumId) => ({
      ...{ operatorId, kind: 'handed-out' as const, mediumId },
      what: said('rights.handedOut', { ...what, recipient: recipients.get(mediumId) ?? chosen }),
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
    await noteAll(db, operatorId, mediumIds, {
      ...whatOf(answer),
      chosen: recipientIn(request.headers.get('cookie')),
    });
  return answer;
}

/** What leaves by another way than a route: refused where it is held, and noted. Throws UserError, 403. */
export async function noteHandedOut(
  db: Database,
  operatorId: number,
  mediumIds: readonly number[],
  what: HandedOut,
): Promise<void> {
  await refuseHeld(db, mediumIds, operatorId);
  await noteAll(db, operatorId, mediumIds, { ...what, chosen: '' });
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
