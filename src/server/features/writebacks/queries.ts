/** What is known of write-backs. */
import { tell } from '@/messages/tell';
import { asc, desc, eq, inArray } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { writebackTracks, writebacks } from './tables';

export async function listWritebacks(db: Executor, mediumId?: number) {
  const rows = await db
    .select()
    .from(writebacks)
    .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(mediumId === undefined ? undefined : eq(media.id, mediumId))
    .orderBy(desc(writebacks.id))
    .limit(100);
  if (rows.length === 0) return [];
  const targets = await db
    .select()
    .from(media)
    .where(
      inArray(
        media.id,
        rows.map(({ writebacks: { targetId } }) => targetId),
      ),
    );
  const done = await tracksOf(db, rows);
  return rows.map(({ writebacks: row, media: source, fair_copies: copy }) => ({
    id: row.id,
    from: row.from,
    state: row.state,
    now: tell(row.now),
    stationId: row.stationId,
    startedAt: row.startedAt,
    endedAt: row.endedAt,
    source: source.code,
    sourceTitle: source.title,
    target: targets.find(({ id }) => id === row.targetId)!.code,
    layout: copy.layout,
    sha256: copy.imageSha256,
    fairCopyId: copy.id,
    machine: row.machine,
    found: row.found,
    blocks: row.blocks,
    cancelled: row.cancelled,
    outcome: row.outcome,
    outcomeNote: row.outcomeNote,
    tracks: done.filter(({ writebackId }) => writebackId === row.id),
  }));
}

export type WritebackView = Awaited<ReturnType<typeof listWritebacks>>[number];

async function tracksOf(db: Executor, rows: readonly { writebacks: { id: number } }[]) {
  return await db
    .select({
      writebackId: writebackTracks.writebackId,
      cylinder: writebackTracks.cylinder,
      head: writebackTracks.head,
      proved: writebackTracks.proved,
      tries: writebackTracks.tries,
      spread: writebackTracks.spread,
    })
    .from(writebackTracks)
    .where(
      inArray(
        writebackTracks.writebackId,
        rows.map(({ writebacks: { id } }) => id),
      ),
    )
    .orderBy(asc(writebackTracks.cylinder), asc(writebackTracks.head));
}
