/** What a disk holds that is to be written over, by a few of its tracks, and whether it is kept. */
import { eq, sql } from 'drizzle-orm';
import { judgeTarget, tracksToLookAt } from '@/core/assembly/target-look';
import { sameBytes } from '@/core/bits/same-bytes';
import type { TrackReading } from '@/core/flux/reading';
import type { TrackDigest } from '@/core/image/track-digests';
import { tracksOfImage, type Layout } from '@/core/layout/layout';
import { decodeCapture } from '@/core/reading/decode/decode-capture';
import { said, type Said } from '@/core/said';
import type { DeviceLink } from '@/benchlink/device-link';
import type { TrackDriveDescription } from '@/benchlink/messages';
import { nodeDigester } from '@/node/digester';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { decodeWorkers } from '@/server/platform/threads/decode-workers';
import type { TargetFound } from '@/server/states';
import { fairCopies, trackDigests } from '../copies/tables';
import { allLayouts } from '../layouts/layouts';
import { media } from '../media/tables';

interface Place {
  cylinder: number;
  head: number;
}

interface Looking {
  db: Database;
  signal: AbortSignal;
  link: DeviceLink;
  drive: TrackDriveDescription & { id: string };
  /** Told before all of it is read. */
  onAll(code: string): Promise<void>;
}

/** A disk whose every track is kept here already is named by the image that holds it. */
export async function lookAtTracks(looking: Looking): Promise<TargetFound> {
  const places = tracksToLookAt(looking.drive);
  const readings: TrackReading[] = [];
  const few = await readMore(looking, places, readings);
  const like =
    few.look.state === 'data' && few.look.unsound === 0
      ? await heldIn(looking.db, few.look.digests)
      : null;
  const { layout, stepping } = few.decoded;
  if (!like || !layout) return foundBy(few.look, null);
  // A few tracks that are kept say little of the rest: before it may go without a question, all of
  // it is read.
  await looking.onAll(like.code);
  const { look } = await readMore(looking, restOf(layout, stepping, places), readings);
  const kept = await readBlob(looking.db, like.imageBlob);
  const isHeld = look.unsound === 0 && look.image !== null && sameBytes(look.image, kept);
  return foundBy(look, isHeld ? like.code : null);
}

type Look = Awaited<ReturnType<typeof judgeTarget>>;

const foundBy = ({ state, sectors, layout, label, files }: Look, heldAs: string | null) => ({
  state: heldAs ? ('held' as const) : state,
  sectors,
  layout,
  label,
  files,
  heldAs,
});

/** Reads some more tracks, and judges all that were read. */
async function readMore(
  { db, signal, link, drive }: Looking,
  places: readonly Place[],
  readings: TrackReading[],
) {
  for (const { cylinder, head } of places)
    readings.push(
      await link.readTrack(
        drive.id,
        { cylinder, head, pass: 0, revolutions: 2, approach: 'plain' },
        signal,
      ),
    );
  const { form, rpm, tickHz } = drive;
  const layouts = await allLayouts(db);
  const decoded = await decodeCapture({ form, rpm, tickHz }, readings, {
    layouts,
    workers: decodeWorkers(),
    effort: 'by-turns',
  });
  return { decoded, look: await judgeTarget(decoded, nodeDigester) };
}

const restOf = (layout: Layout, stepping: number, read: readonly Place[]): Place[] =>
  tracksOfImage(layout)
    .map(({ cylinder, head }) => ({ cylinder: cylinder * stepping, head }))
    .filter((track) => !read.some((each) => isAt(each, track)));

const isAt = (one: Place, other: Place) =>
  one.cylinder === other.cylinder && one.head === other.head;

/** The image that all of these tracks are kept in. */
async function heldIn(
  db: Database,
  digests: readonly TrackDigest[],
): Promise<{ code: string; imageBlob: string } | null> {
  if (digests.length === 0) return null;
  const place = sql`(${trackDigests.cylinder}, ${trackDigests.head}, ${trackDigests.digest})`;
  const same = sql.join(
    digests.map((each) => sql`${place} = (${each.cylinder}, ${each.head}, ${each.digest})`),
    sql` or `,
  );
  const [found] = await db
    .select({
      code: media.code,
      imageBlob: fairCopies.imageBlob,
      count: sql<number>`count(*)::int`,
    })
    .from(trackDigests)
    .innerJoin(fairCopies, eq(fairCopies.id, trackDigests.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(same)
    .groupBy(fairCopies.id, fairCopies.imageBlob, media.code)
    .orderBy(sql`count(*) desc`)
    .limit(1);
  return found?.count === digests.length ? found : null;
}

/** What was found, as it is told before anything is written. */
export function describeFound({ sectors, label, files }: TargetFound): Said {
  return said('writebacks.theTracksLookedAt', {
    sectors,
    label: label ?? '',
    files: files.slice(0, 3),
    more: files.length > 3,
  });
}
