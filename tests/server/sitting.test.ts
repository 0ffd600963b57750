/**
 * Sittings and write-backs with the real database, the real bench and real workers: killed,
 * unplugged,
 * gone on with.
 */
import { tell } from '@/messages/tell';
import { asWritten } from '@/core/said';
import { and, eq } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { readContainer } from '@/core/flux/container-reader';
import { nodeDigester } from '@/node/digester';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { fairCopies } from '@/server/features/copies/tables';
import { ledger } from '@/server/features/ledger/tables';
import { media } from '@/server/features/media/tables';
import { sittings, trackReadings, tracks } from '@/server/features/sittings/tables';
import { writebacks } from '@/server/features/writebacks/tables';
import { jobs } from '@/server/platform/jobs/tables';
import { startWriteback } from '@/server/features/writebacks/writebacks';
import {
  answerPreview,
  askSitting,
  hurrySitting,
  startSitting,
} from '@/server/features/sittings/sittings';
import { sittingsOfMedium, sittingView } from '@/server/features/sittings/queries';
import { cleanHead } from '@/server/features/stations/head-cleaning';
import { placeMedium, removeMedium } from '@/server/features/stations/placing';
import { scenario } from '../../demo/scenario';
import { wakeJob } from '@/server/platform/jobs/enqueue';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';

const suite = serverSuite({ speed: 60, worker: true });
const who = 1;

const stateOf = async (id: number) =>
  (await suite.connection.db.select().from(sittings).where(eq(sittings.id, id)))[0]!;
const readingsOf = async (id: number) =>
  (await suite.connection.db.select().from(trackReadings).where(eq(trackReadings.sittingId, id)))
    .length;
/** A disk that sheds may leave its head dirty: it is cleaned, as a person would. */
const done = (id: number) => {
  let seen = '';
  return until(
    () => `sitting ${id} to end; it was: ${seen}`,
    async () => {
      const row = await stateOf(id);
      seen = `${row.state} ${JSON.stringify(row.now)}`;
      if (row.state === 'dirty') await cleanHead(suite.connection.db, who, row.stationId);
      return (row.state === 'done' || row.state === 'failed') && row;
    },
    300,
  );
};

async function hand(work: (bench: BenchClient) => Promise<void>): Promise<void> {
  const client = await BenchClient.connect(suite.application.bench);
  await work(client).finally(() => client.close());
}

/** Puts a disk into station 1, whatever is in it, with a clean head. */
async function place(code: string): Promise<void> {
  await removeMedium(suite.connection.db, who, 1).catch(() => undefined);
  await cleanHead(suite.connection.db, who, 1);
  await placeMedium(suite.connection.db, who, 1, code);
}

test('a sitting survives kill -9 of its worker and goes on from the last committed track; its copy is the disk', async () => {
  await place('SKP-0128');
  const id = await startSitting(suite.connection.db, who, 1);
  await until('twenty tracks', async () => (await readingsOf(id)) >= 20);
  await suite.worker.kill();
  const kept = await readingsOf(id);
  expect(kept).toBeLessThan(160);
  expect((await stateOf(id)).state).toBe('reading');
  await suite.worker.restart();
  expect(await done(id)).toMatchObject({
    state: 'done',
    now: { code: 'plan.nothingMoreToRead', with: { left: 0 } },
  });
  // No track was read twice: what was committed was believed.
  expect(await readingsOf(id)).toBe(160);
  const [job] = await suite.connection.db
    .select()
    .from(jobs)
    .where(and(eq(jobs.kind, 'sitting'), eq(jobs.subject, id)));
  expect(job).toMatchObject({ state: 'done', epoch: 2 });
  // It is a copy of a disk that is kept, of which one track was not read in full: seen while it was
  // read.
  const [sitting] = await suite.connection.db.select().from(sittings).where(eq(sittings.id, id));
  expect(sitting!.duplicateMatch).toMatchObject({ code: 'SKP-0104' });
  expect(sitting!.duplicateMatch!.same).toBe(sitting!.duplicateMatch!.of);

  // Its fair copy is the disk, byte for byte, and its capture is whole.
  const [medium] = await suite.connection.db.select().from(media).where(eq(media.code, 'SKP-0128'));
  const [copy] = await suite.connection.db
    .select()
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, medium!.id));
  const wanted = scenario().find(({ code }) => code === 'SKP-0128')!.image!;
  expect(Buffer.compare(await readBlob(suite.connection.db, copy!.imageBlob), wanted)).toBe(0);
  expect(copy!.tally).toEqual({ firm: 1440, mended: 0, doubtful: 0, lost: 0, unread: 0 });
  const container = readContainer(
    await readBlob(suite.connection.db, copy!.captureBlob!),
    nodeDigester,
  );
  expect(container).toMatchObject({ complete: true, readings: 160, problems: [] });
  expect(await sittingsOfMedium(suite.connection.db, medium!.id)).toMatchObject([
    { readings: 160, layout: 'mfm-35-9x512' },
  ]);
});

test('a bench that is unplugged holds the sitting with its reason; it goes on by itself', async () => {
  await place('SKP-0124');
  const id = await startSitting(suite.connection.db, who, 1);
  await until('ten tracks', async () => (await readingsOf(id)) >= 10);
  await suite.bench.kill();
  const held = await until('the sitting to be held', async () => {
    const row = await stateOf(id);
    return row.state === 'held' && row;
  });
  expect(tell(held.now)).toMatch(/bench at 127\.0\.0\.1:\d+ .*goes on by itself when it is back/);
  const kept = await readingsOf(id);
  await suite.bench.restart();
  // A bench that was switched off has an empty drive: the same disk goes back in.
  await until('the bench', () =>
    hand((client) => client.hand({ op: 'hand-insert', drive: 'A', label: 'SKP-0124' })).then(
      () => true,
      () => false,
    ),
  );
  await until('it to have gone on', async () => (await readingsOf(id)) >= kept + 10);
  await askSitting(suite.connection.db, who, id, 'stop');
  expect((await done(id)).state).toBe('done');
  const lines = (
    await suite.connection.db.select().from(ledger).where(eq(ledger.sittingId, id))
  ).map(({ kind }) => kind);
  expect(lines).toEqual(
    expect.arrayContaining(['sitting-started', 'sitting-held', 'sitting-resumed', 'fair-copy']),
  );
});

test('a time-out is tried again on its own, without a hand', async () => {
  await place('SKP-0124');
  await hand((client) =>
    client.hand({ op: 'hand-fault', drive: 'A', fault: 'time-out', after: 5 }),
  );
  const id = await startSitting(suite.connection.db, who, 1);
  await until('tracks behind the time-out', async () => (await readingsOf(id)) >= 12);
  await askSitting(suite.connection.db, who, id, 'stop');
  expect((await done(id)).state).toBe('done');
  const lines = (
    await suite.connection.db.select().from(ledger).where(eq(ledger.sittingId, id))
  ).map(({ kind }) => kind);
  expect(lines).not.toContain('sitting-held');
});

test('pause keeps what is read, going on adds to it, stop settles it', async () => {
  await place('SKP-0124');
  const before = await startSitting(suite.connection.db, who, 1);
  await until('thirty tracks', async () => (await readingsOf(before)) >= 30);
  await askSitting(suite.connection.db, who, before, 'stop');
  const { tracks: readBefore } = await done(before).then(() =>
    sittingView(suite.connection.db, before),
  );
  const id = await startSitting(suite.connection.db, who, 1);
  await until('five tracks', async () => (await readingsOf(id)) >= 5);
  await askSitting(suite.connection.db, who, id, 'pause');
  await until('the pause', async () => (await stateOf(id)).state === 'paused');
  const kept = await readingsOf(id);
  await expect(startSitting(suite.connection.db, who, 1)).rejects.toThrow('has a sitting already');
  await askSitting(suite.connection.db, who, id, 'go-on');
  await until('more tracks', async () => (await readingsOf(id)) > kept + 5);
  await askSitting(suite.connection.db, who, id, 'stop');
  expect(tell((await done(id)).now)).toBe('Stopped by hand.');
  const view = await sittingView(suite.connection.db, id);
  expect(view.tally.unread).toBe((160 - view.tracks.length) * 18);
  // Stopped early, it still settles with the sittings before it: nothing of them is lost.
  const copies = await suite.connection.db
    .select()
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, view.medium.id));
  const ofBoth = new Set(
    [...readBefore, ...view.tracks].map(({ cylinder, head }) => `${cylinder}/${head}`),
  );
  expect(copies[copies.length - 1]!.tally!.unread).toBeLessThanOrEqual((160 - ofBoth.size) * 18);
});

test('a worker that dies while it settles leaves a sealed capture: the next one settles, and reads nothing', async () => {
  await place('SKP-0124');
  const id = await startSitting(suite.connection.db, who, 1);
  await until('five tracks', async () => (await readingsOf(id)) >= 5);
  await askSitting(suite.connection.db, who, id, 'stop');
  const { endedWhy, mediumId } = await done(id);
  expect(endedWhy).toEqual({ code: 'sittings.stoppedByHand' });
  const copies = async () =>
    (await suite.connection.db.select().from(fairCopies).where(eq(fairCopies.mediumId, mediumId)))
      .length;
  const before = [await readingsOf(id), await copies()] as const;
  // As the first worker left it: sealed, and its copy not stored; then the disk is taken out.
  await removeMedium(suite.connection.db, who, 1);
  await suite.connection.db
    .update(sittings)
    .set({ state: 'settling', now: asWritten('Settling'), endedAt: null, requestedAction: 'pause' })
    .where(eq(sittings.id, id));
  await suite.connection.db.transaction((tx) => wakeJob(tx, 'sitting', { sittingId: id }));
  expect(await done(id)).toMatchObject({ state: 'done', now: { code: 'sittings.stoppedByHand' } });
  expect([await readingsOf(id), await copies()]).toEqual([before[0], before[1] + 1]);
});

test('sectors that only later passes read are mended, with no wrong byte called sound', async () => {
  await place('SKP-0117');
  const id = await startSitting(suite.connection.db, who, 1);
  expect((await done(id)).state).toBe('done');
  const rows = await suite.connection.db.select().from(tracks).where(eq(tracks.sittingId, id));
  const marks = rows.flatMap(({ sectors }) => sectors);
  expect(marks.some(({ grade }) => grade === 'doubtful' || grade === 'lost')).toBe(true);
  const [copy] = await suite.connection.db
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(media.code, 'SKP-0117'));
  const { imageBlob, sidecarBlob } = copy!.fair_copies;
  const image = await readBlob(suite.connection.db, imageBlob);
  const sidecar = JSON.parse(
    new TextDecoder().decode(await readBlob(suite.connection.db, sidecarBlob!)),
  ) as { filledIn: { offset: number; length: number }[] };
  const wanted = scenario()
    .find(({ code }) => code === 'SKP-0117')!
    .image!.slice();
  for (const { offset, length } of sidecar.filledIn) wanted.fill(0, offset, offset + length);
  expect(Buffer.compare(image, wanted)).toBe(0);
});

test('who will not wait while it is settled gets it by single turns, and is told so', async () => {
  await place('SKP-0117');
  const id = await startSitting(suite.connection.db, who, 1);
  // Beyond cylinder 12, which has a weak spot: read once, it is hurt.
  await until('forty tracks', async () => (await readingsOf(id)) >= 40);
  await askSitting(suite.connection.db, who, id, 'stop');
  const { mediumId } = await done(id);
  // Nothing is settled then: neither that, nor a second stop, is taken.
  await expect(hurrySitting(suite.connection.db, who, id)).rejects.toMatchObject({ status: 409 });
  // As it stands while it settles, and a person asked.
  await suite.connection.db
    .update(sittings)
    .set({ state: 'settling', now: asWritten('Settling'), endedAt: null })
    .where(eq(sittings.id, id));
  await expect(askSitting(suite.connection.db, who, id, 'stop')).rejects.toThrow('has ended');
  await hurrySitting(suite.connection.db, who, id);
  await suite.connection.db.transaction((tx) => wakeJob(tx, 'sitting', { sittingId: id }));
  expect((await done(id)).state).toBe('done');
  const copies = await suite.connection.db
    .select({ problems: fairCopies.problems })
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, mediumId))
    .orderBy(fairCopies.id);
  const kinds = copies.slice(-2).map(({ problems }) => problems.map(({ kind }) => kind));
  expect(kinds).toEqual([[], ['turns-not-weighed']]);
});

describe('writebacks', () => {
  test('an original is never a target', async () => {
    await place('SKP-0104');
    const [copy] = await suite.connection.db.select().from(fairCopies);
    await expect(
      startWriteback(suite.connection.db, who, { fairCopyId: copy!.id, stationId: 1 }),
    ).rejects.toThrow('is an original: it is never written');
  });

  test('a write-back survives kill -9 of its worker and is proved', async () => {
    await placeMedium(suite.connection.db, who, 2, 'BLK-0001');
    const [copy] = await suite.connection.db
      .select()
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(media.code, 'SKP-0104'));
    const id = await startWriteback(suite.connection.db, who, {
      fairCopyId: copy!.fair_copies.id,
      stationId: 2,
    });
    const row = async () =>
      (await suite.connection.db.select().from(writebacks).where(eq(writebacks.id, id)))[0]!;
    await until('the writing', async () => (await row()).state === 'writing');
    await suite.worker.kill();
    await suite.worker.restart();
    await until('the proof', async () => (await row()).state === 'proved');
    expect(tell((await row()).now)).toBe(
      'Proved: all 160 tracks were read back and every sector is what was written.',
    );
  });
});

describe('how far to read', () => {
  test('a 40-cylinder disk in an 80-cylinder drive: the first tracks show it, a person says go, every second step is read', async () => {
    await placeMedium(suite.connection.db, who, 3, 'SKP-0106');
    const id = await startSitting(suite.connection.db, who, 3, { unattended: false });
    const asked = await until('the question', async () => {
      const row = await stateOf(id);
      return row.state === 'asks' && row;
    });
    expect(tell(asked.now)).toBe(
      '5¼-inch, 40 cylinders, two heads, MFM, 250 kbit/s, 9 × 512, two steps a cylinder: go?',
    );
    expect(asked.preview).toMatchObject({
      layout: 'mfm-525-9x512',
      range: { from: 0, to: 78, heads: [0, 1], step: 2 },
      landmarks: [
        { name: { code: 'plan.inUse' } },
        { name: { code: 'plan.endOfTheLayout' }, to: 78 },
        { name: { code: 'plan.everything' }, to: 81 },
      ],
    });
    await expect(
      answerPreview(suite.connection.db, who, id, { ...asked.preview!.range, from: 90 }),
    ).rejects.toThrow('leave nothing to read');
    await expect(
      answerPreview(suite.connection.db, who, id, { ...asked.preview!.range, to: 200 }),
    ).rejects.toThrow('The drive reaches position 81, not 200.');
    await answerPreview(suite.connection.db, who, id, asked.preview!.range);
    expect(await done(id)).toMatchObject({
      state: 'done',
      now: { code: 'plan.nothingMoreToRead', with: { left: 0 } },
      stepping: 2,
    });
    const view = await sittingView(suite.connection.db, id);
    expect(view.tally).toEqual({ firm: 720, mended: 0, doubtful: 0, lost: 0, unread: 0 });
    const [copy] = await suite.connection.db
      .select()
      .from(fairCopies)
      .where(eq(fairCopies.mediumId, view.medium.id));
    expect(
      Buffer.compare(
        await readBlob(suite.connection.db, copy!.imageBlob),
        scenario().find(({ code }) => code === 'SKP-0106')!.image!,
      ),
    ).toBe(0);
  });

  test.each([
    ['SKP-0105', 5, 'fm-8-26x128', 2002],
    ['SKP-0107', 4, 'gcr45-525-35', 683],
  ])(
    '%s in station %i reads whole by itself, in its own code',
    async (code, station, layout, sectors) => {
      await placeMedium(suite.connection.db, who, station, code);
      const id = await startSitting(suite.connection.db, who, station);
      expect(await done(id)).toMatchObject({ state: 'done', layout });
      const view = await sittingView(suite.connection.db, id);
      expect(view.tally).toEqual({ firm: sectors, mended: 0, doubtful: 0, lost: 0, unread: 0 });
      const [copy] = await suite.connection.db
        .select()
        .from(fairCopies)
        .where(eq(fairCopies.mediumId, view.medium.id));
      expect(
        Buffer.compare(
          await readBlob(suite.connection.db, copy!.imageBlob),
          scenario().find((each) => each.code === code)!.image!,
        ),
      ).toBe(0);
    },
  );
});
