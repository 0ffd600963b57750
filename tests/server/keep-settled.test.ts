/** A copy is made of everything that is known when it is stored, and of an image nothing else. */
import { desc, eq } from 'drizzle-orm';
import { NO_DOUBTS } from '@/core/block/image-doubts';
import { memorySource } from '@/core/bits/byte-source';
import { examineVolumes } from '@/server/features/copies/keeping/examine-volumes';
import type { NewFairCopy } from '@/server/features/copies/keeping/fair-copies';
import { keepSettled } from '@/server/features/copies/keeping/keep-settled';
import { giveVerdict } from '@/server/features/copies/settling/said-of-copy';
import {
  askToSettle,
  hurrySettling,
  settleByAllTurns,
} from '@/server/features/copies/settling/settlings';
import { fairCopies, settlings } from '@/server/features/copies/tables';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { takeIn } from '@/server/features/intake/intake';
import { blobChunks } from '@/server/platform/blobs/tables';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';
import { loadVector } from '../support/vectors';

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;
const detail = (code: string) => mediumDetail(db(), code);

test('where another copy came while one was worked out, it is worked out once more', async () => {
  const { code } = await takeIn(db(), who, { name: 'first.img' }, new Uint8Array(368_640));
  const { medium } = await detail(code);
  const copyOf = (fill: number): NewFairCopy => ({
    operatorId: who,
    mediumId: medium.id,
    source: 'upload',
    sourceName: 'settled.img',
    image: new Uint8Array(368_640).fill(fill),
    settled: null,
    captureBlob: null,
    problems: [],
  });
  let settled = 0;
  const ended: (number | null)[] = [];
  await keepSettled(
    { db: db(), commit: (work) => db().transaction(work) },
    medium.id,
    async () => {
      // Somebody else is faster, once.
      if (++settled === 1)
        await takeIn(db(), who, { name: 'between.img', code }, new Uint8Array(368_640).fill(9));
      return copyOf(settled);
    },
    async (_, copy) => void ended.push((copy?.image as Uint8Array)[0] ?? null),
  );
  expect([settled, ended]).toEqual([2, [2]]);
  const [newest] = await db()
    .select({ sourceName: fairCopies.sourceName })
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, medium.id))
    .orderBy(desc(fairCopies.id));
  expect(newest!.sourceName).toBe('settled.img');
});

test('what can not be settled says why; the copy before stays, and what was said is kept', async () => {
  const { copy } = await detail('SKP-0103');
  await db().delete(blobChunks).where(eq(blobChunks.blobId, copy!.captureBlob!));
  const verdict = { cylinder: 3, head: 0, r: 1, verdict: 'damage', what: 'a fold' } as const;
  await giveVerdict(db(), who, 'SKP-0103', verdict);
  const { settling, ...after } = await until('the settling to end', async () => {
    const now = await detail('SKP-0103');
    return now.settling?.state === 'failed' && now;
  });
  expect(settling!.trouble).toMatch(/^The stored capture of SKP-0103 is damaged/);
  expect(after.copy!.id).toBe(copy!.id);
  expect(after.verdicts).toMatchObject([{ cylinder: 3, head: 0, r: 1, verdict: 'damage' }]);
});

/** The copy may have been looked for before it was stored: it is looked for again. */
async function settled(code: string) {
  await until('the settling to end', async () => (await detail(code)).settling?.state === 'done');
  return detail(code);
}

test('who will not wait has it settled by single turns, told so, and by all turns later', async () => {
  const { medium } = await detail('SKP-0102');
  await db().transaction(async (tx) => {
    await askToSettle(tx, { operatorId: who, mediumId: medium.id, cause: 'all-turns' });
    await tx.update(settlings).set({ isHurried: true }).where(eq(settlings.mediumId, medium.id));
  });
  const hurried = await settled('SKP-0102');
  const kindsOf = ({ copy }: typeof hurried) => copy!.problems.map(({ kind }) => kind);
  expect(kindsOf(hurried)).toContain('turns-not-weighed');
  await expect(hurrySettling(db(), who, 'SKP-0102')).rejects.toMatchObject({ status: 409 });
  await expect(hurrySettling(db(), who, 'SKP-9999')).rejects.toMatchObject({ status: 404 });
  await settleByAllTurns(db(), who, 'SKP-0102');
  const whole = await settled('SKP-0102');
  expect(whole.copy!.id).toBeGreaterThan(hurried.copy!.id);
  expect(kindsOf(whole)).not.toContain('turns-not-weighed');
});

test('a flat image has nothing that could be settled anew, and nothing is kept of the verdict', async () => {
  const { code } = await takeIn(db(), who, { name: 'flat.img' }, new Uint8Array(737_280));
  const verdict = { cylinder: 3, head: 0, r: 1, verdict: 'damage', what: 'a fold' } as const;
  await expect(giveVerdict(db(), who, code, verdict)).rejects.toThrow("can't be settled anew");
  const { settling, verdicts } = await detail(code);
  expect([settling, verdicts]).toEqual([null, []]);
});

test.each(['volumes/prodos-280.po', 'volumes/prodos-1600.po', 'volumes/cpm-8inch.img'])(
  '%s: what is in use lies within the image, holes of files do not',
  async (name) => {
    const image = loadVector(name);
    const { inUse, fileCount } = await examineVolumes(
      memorySource(image),
      NO_DOUBTS,
      async () => undefined,
    );
    expect(fileCount).toBeGreaterThan(0);
    expect(inUse.filter(({ offset }) => offset < 0)).toEqual([]);
  },
);
