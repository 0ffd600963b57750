/** What is kept takes room: how much, of which lots, how fast it grows, and how long that goes on. */
import { sql } from 'drizzle-orm';
import { storeRoom } from '@/server/platform/blobs/store-room';
import type { Executor } from '@/server/platform/db/database';

/** Lots told one by one, the largest first. */
const MAX_LOTS = 20;
const MONTHS = 12;
/** What came in so many days says how fast it grows. */
const GROWTH_DAYS = 90;
const MONTHS_OF_GROWTH = 3;

/** Every blob of a medium, once: what several share is counted with each of their lots. */
const OF_LOTS = sql`
  with held as (
    select medium_id, image_blob as blob from fair_copies
    union select medium_id, sidecar_blob from fair_copies where sidecar_blob is not null
    union select medium_id, capture_blob from fair_copies where capture_blob is not null
    union select medium_id, capture_blob from sittings where capture_blob is not null
    union select medium_id, blob_id from attachments where medium_id is not null),
  own as (select distinct m.lot, coalesce(b.same_as, b.id) as id from held
    join media m on m.id = held.medium_id join blobs b on b.id = held.blob)
  select own.lot, sum(b.size)::float8 as bytes, count(*) over ()::int as lots
    from own join blobs b on b.id = own.id
    group by own.lot order by sum(b.size) desc, own.lot limit ${MAX_LOTS}`;

/** The newest first, this one as far as it has come. */
const BY_MONTH = sql`select to_char(date_trunc('month', created_at), 'YYYY-MM') as month,
    sum(size)::float8 as bytes
  from blobs where same_as is null and state = 'sealed'
    and created_at >= date_trunc('month', now()) - make_interval(months => ${MONTHS - 1})
  group by 1 order by 1 desc`;

const IN_ALL = sql`select coalesce(sum(size), 0)::float8 as bytes,
    coalesce(sum(size) filter (where created_at > now() - make_interval(days => ${GROWTH_DAYS})), 0)::float8
      / ${MONTHS_OF_GROWTH} as "aMonth"
  from blobs where same_as is null and state = 'sealed'`;

/** Until only what is kept free is left; null where nothing says, or nothing grows. */
function monthsLeft(free: number | null, reserve: number, aMonth: number): number | null {
  if (free === null || aMonth <= 0) return null;
  return Math.max(0, free - reserve) / aMonth;
}

export async function roomView(db: Executor) {
  const [lots, months, all, { free, reserve }] = await Promise.all([
    db.execute<{ lot: string; bytes: number; lots: number }>(OF_LOTS),
    db.execute<{ month: string; bytes: number }>(BY_MONTH),
    db.execute<{ bytes: number; aMonth: number }>(IN_ALL),
    storeRoom(),
  ]);
  const { bytes, aMonth } = all.rows[0]!;
  return {
    ...{ bytes, aMonth, free, reserve },
    monthsLeft: monthsLeft(free, reserve, aMonth),
    months: months.rows,
    lots: lots.rows.map(({ lot, bytes: size }) => ({ lot, bytes: size })),
    moreLots: Math.max(0, (lots.rows[0]?.lots ?? 0) - MAX_LOTS),
  };
}
