/** Takes one job: a single statement, so that of any number of workers one has it. */
import { and, eq, sql } from 'drizzle-orm';
import type { Database } from '../db/database';
import type { JobKind } from './kinds';
import { isUniqueViolation } from '../db/unique-violation';
import { jobs } from './tables';
import { SILENT_SECONDS } from './worker-row';

export interface TakenJob {
  id: string;
  kind: JobKind;
  payload: unknown;
  /** What fences this worker's commits once another has taken the job. */
  epoch: number;
  /** Workers that died while they had it. */
  crashes: number;
}

/**
 * The oldest job of these kinds that waits, or whose worker fell silent, and whose resource nobody
 * uses, of the operator who has the fewest of its kind at work: a thousand uploads of one do not make
 * the one of another wait. Also one that this worker has no longer at work (`own` are those it has) and could not say
 * so of, because the database had gone. Null where there is none.
 *
 * Whether its worker is there is asked in a subquery, not by a join: a row that another worker took
 * between the look and the lock is judged again, and a joined row would be that of before.
 */
export async function takeJob(
  db: Database,
  workerId: string,
  kinds: readonly JobKind[],
  own: readonly string[],
): Promise<TakenJob | null> {
  const list = (values: readonly string[]) =>
    sql.join(
      values.map((value) => sql`${value}`),
      sql`, `,
    );
  const notOwn = own.length === 0 ? sql`` : sql`and j.id not in (${list(own)})`;
  try {
    const { rows } = await db.execute(sql`
      update jobs set state = 'running', epoch = epoch + 1, worker_id = ${workerId},
        crashes = crashes + (state = 'running' and worker_id is distinct from ${workerId})::int
      where id = (
        select j.id from jobs j
        left join (select kind, asked_by, count(*) as jobs from jobs where state = 'running'
          group by kind, asked_by) at_work
          on at_work.kind = j.kind and at_work.asked_by is not distinct from j.asked_by
        where j.kind in (${list(kinds)}) ${notOwn}
          and (j.state = 'waiting' or (j.state = 'running' and not exists (
            select 1 from workers w where w.id = j.worker_id and w.id <> ${workerId}
              and w.heartbeat_at >= now() - make_interval(secs => ${SILENT_SECONDS}))))
          and not exists (select 1 from jobs k where k.resource = j.resource
            and k.state = 'running' and k.id <> j.id)
        order by coalesce(at_work.jobs, 0), j.created_at limit 1 for update of j skip locked)
      returning id, kind, payload, epoch, crashes`);
    return (rows[0] as TakenJob | undefined) ?? null;
  } catch (error) {
    // Another worker began with the same station in this very moment.
    if (isUniqueViolation(error)) return null;
    throw error;
  }
}

/** What a worker has at work waits for another, which fences off what this one still commits. */
export async function putBack(db: Database, workerId: string): Promise<void> {
  await db
    .update(jobs)
    .set({ state: 'waiting', workerId: null, epoch: sql`${jobs.epoch} + 1` })
    .where(and(eq(jobs.workerId, workerId), eq(jobs.state, 'running')));
}
