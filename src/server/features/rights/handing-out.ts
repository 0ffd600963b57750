/**
 * Bytes that leave the house through a route: refused where the medium is held, and in the ledger
 * with who took them, for whom, and what they were.
 */
import { and, eq, gt, sql } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import type { RouteContext } from '@/server/platform/http/respond';
import { note } from '../ledger/ledger';
import { ledger } from '../ledger/tables';
import { refuseHeld } from './holds';
import { permitOf } from './permits';
import { recipientIn } from './recipient';

type Asking = Pick<RouteContext<unknown>, 'db' | 'request' | 'operator'>;

/** What of an answer is told: how it is called, how long it is, and its digest where it is known. */
function handedOut(answer: Response, recipient: string): Said {
  const { headers } = answer;
  const [, name = ''] =
    /filename\*=UTF-8''([^;]+)/.exec(headers.get('content-disposition') ?? '') ?? [];
  const [, all] = /\/(\d+)$/.exec(headers.get('content-range') ?? '') ?? [];
  const bytes = all ?? headers.get('content-length');
  const sha256 = /^"([0-9a-f]{64})"$/.exec(headers.get('etag') ?? '')?.[1] ?? '';
  return said('rights.handedOut', {
    ...{ name: decodeURIComponent(name), recipient, sha256 },
    bytes: bytes === null ? null : Number(bytes),
  });
}

interface Entry {
  operatorId: number;
  mediumId: number;
  what: Said;
}

/** Ranges of one download, and what is fetched again at once, are one entry. */
async function noteOnce(db: Executor, { operatorId, mediumId, what }: Entry): Promise<void> {
  const [noted] = await db
    .select({ id: ledger.id })
    .from(ledger)
    .where(
      and(
        eq(ledger.mediumId, mediumId),
        eq(ledger.kind, 'handed-out'),
        eq(ledger.operatorId, operatorId),
        eq(ledger.what, what),
        gt(ledger.at, sql`now() - interval '10 minutes'`),
      ),
    )
    .limit(1);
  if (!noted) await note(db, { operatorId, kind: 'handed-out', mediumId, what });
}

async function noteAll(
  db: Database,
  operatorId: number,
  mediumIds: readonly number[],
  { answer, request }: { answer: Response; request: Request },
): Promise<void> {
  const chosen = recipientIn(request.headers.get('cookie'));
  await db.transaction(async (tx) => {
    for (const mediumId of mediumIds) {
      const recipient = (await permitOf(tx, mediumId, operatorId)) ?? chosen;
      await noteOnce(tx, { operatorId, mediumId, what: handedOut(answer, recipient) });
    }
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
  if (answer.ok) await noteAll(db, operatorId, mediumIds, { answer, request });
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
