/** The room that is taken: by lot, by month, and how long it lasts, each blob counted once. */
import { eq, sql } from 'drizzle-orm';
import { roomView } from '@/server/features/housekeeping/room';
import { takeIn } from '@/server/features/intake/intake';
import { registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { addPaper } from '@/server/features/media/papers';
import { blobs } from '@/server/platform/blobs/tables';
import { readConfigAnew } from '@/server/platform/config';
import { serverSuite } from '../../support/server-suite';
import { loadVector } from '../../support/vectors';

const suite = serverSuite();
const db = () => suite.connection.db;
const who = 1;
const image = loadVector('volumes/fat12-720k.img');

async function held(code: string, lot: string, bytes: Uint8Array): Promise<void> {
  await registerMedium(db(), who, NewMedium.parse({ code, form: '3.5', title: code, lot }));
  await takeIn(db(), who, { name: 'x.img', code }, bytes);
}
const ofLot = async (lot: string) =>
  (await roomView(db())).lots.find((each) => each.lot === lot)?.bytes;

test('a lot takes what its media take, papers too, and the same bytes once', async () => {
  const other = Uint8Array.from(image);
  other[700_000]! ^= 1;
  await held('RMA-1', 'room a', image);
  await held('RMA-2', 'room a', image);
  await held('RMA-3', 'room a', other);
  await addPaper(db(), who, { code: 'RMA-1' }, 'note.txt', Buffer.from('what lay beside it'));
  expect(await ofLot('room a')).toBe(2 * image.length + 18);
});

test('what is in all is the sum of the months of a store that is young', async () => {
  const { bytes, months } = await roomView(db());
  expect(months.reduce((sum, month) => sum + month.bytes, 0)).toBe(bytes);
  const [all] = await db()
    .select({ bytes: sql<number>`sum(${blobs.size})::float8` })
    .from(blobs)
    .where(sql`${blobs.sameAs} is null and ${eq(blobs.state, 'sealed')}`);
  expect(bytes).toBe(all!.bytes);
});

test('it lasts as long as what is free goes, beside what is kept free', async () => {
  expect((await roomView(db())).monthsLeft).toBeNull();
  process.env.SPINDLE_STORE = '/';
  readConfigAnew();
  try {
    const { free, reserve, aMonth, monthsLeft } = await roomView(db());
    expect(monthsLeft).toBeCloseTo(Math.max(0, free! - reserve) / aMonth, 3);
  } finally {
    delete process.env.SPINDLE_STORE;
    readConfigAnew();
  }
});
