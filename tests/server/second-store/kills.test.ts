/** Workers that are killed while they write the second store: nothing half written looks whole, all goes on. */
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { eq, inArray } from 'drizzle-orm';
import { seededRandom } from '@/core/bits/random';
import { describe as describeMedium } from '@/server/features/descriptions/descriptions';
import { addPaper } from '@/server/features/media/papers';
import { media } from '@/server/features/media/tables';
import { operatorNamed } from '@/server/features/operators/operators';
import { careView } from '@/server/features/second-store/care';
import { objectsIn } from '@/server/features/second-store/restore/stored-objects-in';
import { mediumObject, storeOfHouse } from '@/server/features/second-store/store-of-house';
import { jobs } from '@/server/platform/jobs/tables';
import { readConfigAnew } from '@/server/platform/config';
import { until } from '../../support/application';
import { halfWrittenIn, wrongIn } from '../../support/server/stored-object';
import { serverSuite } from '../../support/server-suite';

/** More with `SPINDLE_TEST_KILLS`. */
const KILLS = Number(process.env.SPINDLE_TEST_KILLS ?? 6);
const LONGEST_MS = 900;
const CODES = ['SKP-0098', 'SKP-0099', 'SKP-0101', 'SKP-0103', 'SKP-0104', 'SKP-0105', 'SKP-0106'];

const suite = serverSuite();
const db = () => suite.connection.db;
let folder: string;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'kills-'));
  process.env.SPINDLE_SECOND_STORE = folder;
  process.env.SPINDLE_SECOND_STORE_AFTER = '0';
  readConfigAnew();
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
  delete process.env.SPINDLE_SECOND_STORE;
  delete process.env.SPINDLE_SECOND_STORE_AFTER;
  readConfigAnew();
});

/** Whether a version is being put together, or was when its worker died. */
const isAtWork = (of: string): boolean => {
  const staging = join(of, 'on-its-way');
  return existsSync(staging) && readdirSync(staging).length > 0;
};
const isJob = eq(jobs.kind, 'second-store');

test(
  `${KILLS} workers are killed at any moment of it`,
  async () => {
    const who = await operatorNamed(db(), 'Tam Okoro');
    const random = seededRandom('kills');
    let struck = 0;
    const store = (await storeOfHouse(db()))!;
    const rows = await db().select().from(media).where(inArray(media.code, CODES));
    const objects = rows.map(({ id }) => store.root.folderOf(mediumObject(store, id)));
    for (let kill = 0; kill < KILLS; kill++) {
      for (const code of CODES)
        await describeMedium(db(), who, 'media', code, { elements: { notes: [`before ${kill}`] } });
      const noise = Buffer.from(`%PDF-${kill} ${'x'.repeat(random.below(4_000_000))}`);
      await addPaper(db(), who, { code: CODES[kill % CODES.length]! }, `${kill}.pdf`, noise);
      rmSync(join(folder, 'on-its-way'), { recursive: true, force: true });
      const worker = suite.application.startWorker();
      await until('it to be at work', async () => isAtWork(folder));
      await sleep(random.below(LONGEST_MS));
      await worker.kill();
      struck += Number(isAtWork(folder));
      // As after the time in which nothing was heard of it.
      await db().update(jobs).set({ state: 'waiting', workerId: null }).where(isJob);
      expect(objects.flatMap(halfWrittenIn)).toEqual([]);
    }
    // Most of them in the middle of it.
    expect(struck).toBeGreaterThanOrEqual(KILLS / 3);
    suite.application.startWorker();
    await until('all of it to be written', async () => {
      const { second } = await careView(db());
      return second!.behind === 0 && second!.objects === second!.media;
    });
    expect((await careView(db())).second!.troubles).toEqual([]);
    expect(objects.map(wrongIn)).toEqual(objects.map(() => []));
    expect((await objectsIn(folder)).unreadable).toEqual([]);
  },
  KILLS * 10_000 + 120_000,
);
