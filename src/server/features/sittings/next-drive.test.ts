/** Which drive should give more of a medium, by the sittings that are there. */
import { eq, inArray, ne } from 'drizzle-orm';
import { asWritten } from '@/core/said';
import { emptyTally } from '@/core/reading/grades';
import { DEFAULT_POLICY } from '@/core/reading/plan/plan';
import { media } from '@/server/features/media/tables';
import { serverSuite } from '../../../../tests/support/server-suite';
import { stations } from '../stations/tables';
import { nextDriveOf } from './next-drive';
import { sittings, tracks } from './tables';

const suite = serverSuite();
const db = () => suite.connection.db;
const tally = (doubtful: number) => ({ ...emptyTally(), firm: 100, doubtful });

/** Two drives of 3½-inch disks, where the second turns at `rpm`; every other drive is of another form. */
async function twoDrives(rpm: number): Promise<[number, number]> {
  const [first, second] = (
    await db().select({ id: stations.id }).from(stations).orderBy(stations.id)
  ).map(({ id }) => id) as [number, number];
  await db().update(stations).set({ form: '8' }).where(ne(stations.id, first));
  for (const [id, turns] of [
    [first, 360],
    [second, rpm],
  ] as const)
    await db()
      .update(stations)
      .set({
        form: '3.5',
        abilities: { cylinders: 80, heads: 2, rpm: turns, delivers: 'flux', writes: false },
      })
      .where(eq(stations.id, id));
  return [first, second];
}

const mediumIds = async () =>
  (
    await db().select({ id: media.id }).from(media).where(eq(media.form, '3.5')).orderBy(media.id)
  ).map(({ id }) => id);

const made: number[] = [];
afterEach(async () => {
  const ids = made.splice(0);
  await db().delete(tracks).where(inArray(tracks.sittingId, ids));
  await db().delete(sittings).where(inArray(sittings.id, ids));
});

/** A sitting that is over, and what it left on one track. */
async function sat(
  mediumId: number,
  stationId: number,
  unsound: number,
  { stepping = 1, cylinder = 30 }: { stepping?: 1 | 2; cylinder?: number } = {},
): Promise<void> {
  const [{ id }] = (await db()
    .insert(sittings)
    .values({
      mediumId,
      stationId,
      stepping,
      state: 'done',
      now: asWritten('Done'),
      policy: { ...DEFAULT_POLICY, range: null },
      startedBy: 1,
      endedAt: new Date(),
    })
    .returning({ id: sittings.id })) as [{ id: number }];
  made.push(id);
  const place = { cylinder, head: 0 };
  const progress = { ...place, tries: 3, unsound, sinceBetter: 2 };
  await db()
    .insert(tracks)
    .values({ sittingId: id, ...place, progress, sectors: [] });
}

test('nothing in doubt, nothing read, or one drive alone: none is named', async () => {
  const [first, second] = await twoDrives(360);
  const [medium, unread] = await mediumIds();
  await sat(medium!, first, 5);
  expect(await nextDriveOf(db(), medium!, tally(0))).toBeNull();
  expect(await nextDriveOf(db(), medium!, null)).toBeNull();
  expect(await nextDriveOf(db(), unread!, tally(5))).toBeNull();
  await db().update(stations).set({ form: '8' }).where(eq(stations.id, second));
  expect(await nextDriveOf(db(), medium!, tally(5))).toBeNull();
});

test('another drive is named by what it gave of what others had left', async () => {
  const [first, second] = await twoDrives(300);
  const [medium, , once, twice] = await mediumIds();
  await sat(medium!, first, 5);
  const before = await nextDriveOf(db(), medium!, tally(5));
  expect(before).toMatchObject({
    station: second,
    readIn: first,
    isSlower: true,
    of: 0,
    inDoubt: 5,
  });
  await sat(once!, first, 20);
  await sat(once!, second, 3);
  await sat(twice!, first, 8);
  await sat(twice!, first, 8);
  const after = await nextDriveOf(db(), medium!, tally(5));
  expect(after).toMatchObject({ station: second, of: 20, gained: 17 });
  expect(after!.share).toBeGreaterThan(before!.share);
});

test('where the other drive gave nothing and the same did, none is named', async () => {
  const [first, second] = await twoDrives(300);
  const [medium, , , , once, twice] = await mediumIds();
  for (let i = 0; i < 6; i++) {
    await sat(once!, first, 50);
    await sat(once!, second, 50);
    await sat(twice!, first, 50 - 8 * i);
  }
  await sat(medium!, first, 5);
  expect(await nextDriveOf(db(), medium!, tally(5))).toBeNull();
});

/** The first drive has twice the cylinders of the second. */
async function withHalfTheCylinders(): Promise<[number, number]> {
  const [first, second] = await twoDrives(300);
  const abilities = { cylinders: 42, heads: 2, rpm: 300, delivers: 'flux', writes: false } as const;
  await db().update(stations).set({ abilities }).where(eq(stations.id, second));
  return [first, second];
}

test('a drive of half the cylinders is named for a disk that has so many, and for no other', async () => {
  const [first] = await withHalfTheCylinders();
  const [medium, fine] = await mediumIds();
  await sat(medium!, first, 5, { stepping: 2, cylinder: 60 });
  await sat(fine!, first, 5);
  expect(await nextDriveOf(db(), medium!, tally(5))).toMatchObject({ isSlower: true });
  expect(await nextDriveOf(db(), fine!, tally(5))).toBeNull();
});

test('tracks are held against each other by cylinder of the disk, whatever the drive’s steps', async () => {
  const [first, second] = await withHalfTheCylinders();
  const [medium, other] = await mediumIds();
  await sat(medium!, first, 5, { stepping: 2, cylinder: 60 });
  await sat(other!, first, 20, { stepping: 2, cylinder: 60 });
  await sat(other!, second, 4, { cylinder: 30 });
  expect(await nextDriveOf(db(), medium!, tally(5))).toMatchObject({ of: 20, gained: 16 });
  // Another track of the disk says nothing of that one.
  await sat(other!, second, 4, { cylinder: 31 });
  await sat(other!, first, 9, { stepping: 2, cylinder: 31 });
  expect(await nextDriveOf(db(), medium!, tally(5))).toMatchObject({ of: 20, gained: 16 });
});
