/** Keeping for good, through a real browser: what is damaged is put right, and bags of others come in. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { and, eq } from 'drizzle-orm';
import { latestFairCopy } from '@/server/features/copies/queries';
import { findByCode } from '@/server/features/media/media';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { blobChunks } from '@/server/platform/blobs/tables';
import { connectDatabase, type Connection } from '@/server/platform/db/database';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { button, css, link } from '../support/pages';
import { loadVector, sha256Hex } from '../support/vectors';

const folder = mkdtempSync(join(tmpdir(), 'keeping-'));
process.env.SPINDLE_SECOND_STORE = join(folder, 'second');
process.env.SPINDLE_SECOND_STORE_AFTER = '0';

const suite = browserSuite(30);
let { application, driver, pages } = suite;
let connection: Connection;
beforeAll(() => {
  ({ application, driver, pages } = suite);
  connection = connectDatabase(application.databaseUrl, { max: 2 });
});
afterAll(async () => {
  await connection?.close();
  delete process.env.SPINDLE_SECOND_STORE;
  delete process.env.SPINDLE_SECOND_STORE_AFTER;
  rmSync(folder, { recursive: true, force: true });
});

const care = async () =>
  (await (await pages.ask('/api/fixity')).json()) as {
    damaged: unknown[];
    second: { media: number; objects: number; behind: number };
  };

/** A byte of what is stored of a medium's image is another, as after a disk's trouble. */
async function hurt(code: string): Promise<void> {
  const { db } = connection;
  const copy = (await latestFairCopy(db, (await findByCode(db, code))!.id))!;
  const { id } = await blobOf(db, copy.imageBlob);
  const first = and(eq(blobChunks.blobId, id), eq(blobChunks.seq, 0));
  const [chunk] = await db.select().from(blobChunks).where(first);
  const bytes = Uint8Array.from(chunk!.bytes);
  bytes[700]! ^= 0x55;
  await db.update(blobChunks).set({ bytes }).where(first);
}

test('a damaged image is found by a check and put right from the second store, and all of it is told', async () => {
  const image = loadVector('volumes/fat12-720k.img');
  const code = await application.takeIn('kept-twice.img', image);
  await until('all of it to lie in the second store', async () => {
    const { second } = await care();
    return second.behind === 0 && second.objects === second.media;
  });
  await hurt(code);
  await pages.open('/fixity');
  await pages.click(button('Check everything now'));
  const history = async () => {
    const { entries } = (await (await pages.ask(`/api/ledger?medium=${code}`)).json()) as {
      entries: { what: string }[];
    };
    return entries.map(({ what }) => what);
  };
  await until('it to be put right', async () =>
    (await history()).some((what) => what.includes('second store')),
  );
  const told = await history();
  expect(told.some((what) => what.includes('damaged from byte 0'))).toBe(true);
  expect((await care()).damaged).toEqual([]);
  const copy = (await latestFairCopy(connection.db, (await findByCode(connection.db, code))!.id))!;
  const answer = await pages.ask(`/api/copies/${copy.id}/image`);
  expect(sha256Hex(new Uint8Array(await answer.arrayBuffer()))).toBe(sha256Hex(image));
  await pages.open(`/media/${code}`);
  await until('its docket to tell it', async () =>
    (await (await pages.find(css('main'))).getText()).includes('second store'),
  );
});

/** A bag as another house makes it. */
function bagOfOthers(): string {
  const bag = join(folder, 'harbour');
  mkdirSync(join(bag, 'data'), { recursive: true });
  const image = loadVector('volumes/fat12-720k.img').fill(7, 9000, 9100);
  writeFileSync(join(bag, 'data/lamp.img'), image);
  writeFileSync(join(bag, 'bagit.txt'), 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n');
  writeFileSync(join(bag, 'bag-info.txt'), 'External-Description: Lamps of the harbour\n');
  const digest = createHash('sha512').update(image).digest('hex');
  writeFileSync(join(bag, 'manifest-sha512.txt'), `${digest}  data/lamp.img\n`);
  execFileSync('tar', ['cf', 'harbour.tar', 'harbour'], { cwd: folder });
  return join(folder, 'harbour.tar');
}

test('a bag that is chosen in Holdings is checked, taken in, and told among the parcels', async () => {
  const path = bagOfOthers();
  await pages.open('/holdings');
  await (await pages.find(css('[data-testid=intake]'))).sendKeys(path);
  await until('it to be taken in', async () =>
    (await (await pages.find(css('[data-testid=intakes]'))).getText()).includes(
      'checked and taken in',
    ),
  );
  await pages.open('/parcels');
  const came = await pages.find(css('[data-testid=came-bags]'));
  const told = await came.getText();
  expect(told).toContain('Lamps of the harbour');
  const [medium] = await came.findElements(css('a'));
  const code = await medium!.getText();
  await pages.click(link(code));
  await until('its docket', async () => (await driver.getCurrentUrl()).endsWith(`/media/${code}`));
});
