/**
 * Whether an image, a blank, a drive and the machine that is meant go together: asked before
 * anything is written.
 */
import { eq } from 'drizzle-orm';
import {
  checkMedium,
  checkTarget,
  TARGET_HEAD_BYTES,
  TARGET_PROFILES,
  type TargetFinding,
} from '@/core/assembly/targets';
import { sectorsIn } from '@/core/block/image-doubts';
import { readsBlocks } from '@/core/drive-abilities';
import { bytesOf, type Layout } from '@/core/layout/layout';
import { isBlockForm } from '@/core/medium-form';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies, volumes } from '../copies/tables';
import { doubtsOfCopy } from '../copies/doubts-of-copy';
import { media } from '../media/tables';
import { stations } from '../stations/tables';
import { notFound } from '@/server/platform/errors';
import { layoutOfCopy } from '../layouts/layouts';
import { said } from '@/core/said';

/**
 * 5¼-inch drives of at least so many cylinders have their tracks half as far apart as disks of at
 * most so many.
 */
const DOUBLE_FROM = 70;
const HALF_AS_MANY = 44;

/**
 * Whether the drive must step twice from one cylinder of the layout to the next, so that a drive of
 * the disk's own kind finds them.
 */
export const isDoubleStepped = (
  { forms, cylinders }: Pick<Layout, 'forms' | 'cylinders'>,
  driveCylinders: number,
): boolean => forms.includes('5.25') && cylinders <= HALF_AS_MANY && driveCylinders >= DOUBLE_FROM;

type Copy = typeof fairCopies.$inferSelect;
type Medium = typeof media.$inferSelect;
type Station = typeof stations.$inferSelect;

/**
 * Sectors or blocks that no sound reading supplied; of an image that was put together, those that
 * it took over.
 */
export async function sectorsInDoubt(db: Executor, copy: Copy): Promise<number> {
  const { tally } = copy;
  if (tally) return tally.doubtful + tally.lost + tally.unread;
  return sectorsIn(await doubtsOfCopy(db, copy));
}

/** What the machine's profile says of an image; nothing without a profile. */
export async function machineFindings(
  db: Executor,
  copy: Copy,
  machine: string | null,
): Promise<TargetFinding[]> {
  if (machine === null) return [];
  const profile = TARGET_PROFILES.find(({ id }) => id === machine);
  if (!profile) throw notFound(said('platform.suchMachine'));
  const head = await (await blobSource(db, copy.imageBlob)).read(0, TARGET_HEAD_BYTES);
  const found = await db
    .select({
      filesystem: volumes.filesystem,
      totalBytes: volumes.totalBytes,
      view: volumes.view,
      inside: volumes.inside,
    })
    .from(volumes)
    .where(eq(volumes.fairCopyId, copy.id));
  return checkTarget(profile, {
    layout: copy.layout,
    bytes: copy.imageBytes,
    volumes: found.filter(({ view, inside }) => view === null && inside === null),
    head,
  });
}

/** What blank and drive say: of devices of blocks their size is known only once they are asked. */
export async function mediumFindings(
  db: Executor,
  copy: Copy,
  blank: Medium,
  station: Station,
): Promise<TargetFinding[]> {
  if (isBlockForm(blank.form)) {
    const { blocks } = copy;
    if (blocks?.tracks.some(({ type }) => type === 'AUDIO'))
      return [
        {
          weight: 'stops',
          sentence: said('writebacks.thisDiscHasTracks'),
        },
      ];
    return blank.form === 'optical-disc' && copy.imageBytes % 2048 !== 0
      ? [
          {
            weight: 'stops',
            sentence: said('writebacks.aDiscTakesWhole', { imageBytes: copy.imageBytes }),
          },
        ]
      : [];
  }
  const layout = await layoutOfCopy(db, copy);
  const { abilities } = station;
  const drive =
    abilities && !readsBlocks(abilities)
      ? {
          form: station.form,
          cylinders: abilities.cylinders,
          heads: abilities.heads,
          rpm: abilities.rpm,
        }
      : null;
  return checkMedium({
    layout: layout && {
      id: layout.id,
      forms: layout.forms,
      cylinders: layout.cylinders,
      heads: layout.heads,
      rpm: layout.rpm,
      rateKbps: Math.max(...layout.tracks.map(({ rateKbps }) => rateKbps)),
      bytes: bytesOf(layout),
    },
    imageBytes: copy.imageBytes,
    blank: { code: blank.code, form: blank.form, density: blank.density },
    drive,
  });
}

/** Everything that is to be known before the button is pressed. */
async function doubtFindings(
  db: Executor,
  copy: typeof fairCopies.$inferSelect,
): Promise<TargetFinding[]> {
  const doubt = await sectorsInDoubt(db, copy);
  if (doubt === 0) return [];
  return [{ weight: 'beware', sentence: said('writebacks.sectorsOfThisImage', { doubt }) }];
}

export async function checkWriteback(
  db: Executor,
  fairCopyId: number,
  stationId: number,
  machine: string | null,
): Promise<{ target: string | null; findings: TargetFinding[] }> {
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, fairCopyId));
  if (!copy) throw notFound(said('platform.suchFairCopy'));
  const [row] = await db
    .select()
    .from(stations)
    .leftJoin(media, eq(media.id, stations.mediumId))
    .where(eq(stations.id, stationId));
  if (!row) throw notFound(said('writebacks.station', { stationId }));
  const own = row.media ? await mediumFindings(db, copy, row.media, row.stations) : [];
  const findings = [
    ...own,
    ...(await machineFindings(db, copy, machine)),
    ...(await doubtFindings(db, copy)),
  ];
  return {
    target: row.media?.code ?? null,
    findings: findings.sort((a, b) => (a.weight === b.weight ? 0 : a.weight === 'stops' ? -1 : 1)),
  };
}
