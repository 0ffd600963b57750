/**
 * Layouts, verdicts, differences and write-backs of flux, with the real database and the real
 * bench.
 */
import { eq } from 'drizzle-orm';
import { fairCopies } from '@/server/features/copies/tables';
import { media } from '@/server/features/media/tables';
import { writebacks } from '@/server/features/writebacks/tables';
import { compareKept } from '@/server/features/copies/differences';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { addLayout, allLayouts, layoutFile, removeLayout } from '@/server/features/layouts/layouts';
import { adoptProposal, giveVerdict } from '@/server/features/copies/settling/said-of-copy';
import { startWriteback } from '@/server/features/writebacks/writebacks';
import { placeMedium } from '@/server/features/stations/placing';
import { trackCapture } from '@/server/features/sittings/tracks/track-readings';
import { readContainer } from '@/core/flux/container-reader';
import { nodeDigester } from '@/node/digester';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';

const suite = serverSuite({ worker: true });
const who = 1;

const copyOf = async (code: string) => (await mediumDetail(suite.connection.db, code)).copy!;
const settled = (code: string) =>
  until(`${code} to be settled`, async () => {
    const { settling } = await mediumDetail(suite.connection.db, code);
    if (settling?.state === 'failed') throw new Error(settling.trouble!);
    return settling?.state === 'done';
  });
const own = {
  format: 'frail-spindle-layout',
  version: 1,
  id: 'own',
  forms: ['3.5'],
  cylinders: 80,
  heads: 1,
  rpm: 300,
  tracks: [
    { cylinders: [0, 79], encoding: 'mfm', rateKbps: 250, sectors: { count: 8, bytes: 512 } },
  ],
};

test('a layout is added, exported as it was, refused twice, and removed', async () => {
  await expect(addLayout(suite.connection.db, who, { ...own, rpm: 'fast' })).rejects.toThrow(
    /This is no usable layout; nothing was added\. rpm: /,
  );
  await addLayout(suite.connection.db, who, own);
  await expect(addLayout(suite.connection.db, who, own)).rejects.toThrow(
    'There is a layout own already',
  );
  expect(await layoutFile(suite.connection.db, 'own')).toMatchObject({
    id: 'own',
    tracks: [{ encoding: 'mfm' }],
  });
  expect((await allLayouts(suite.connection.db)).map(({ id }) => id)).toContain('own');
  await expect(removeLayout(suite.connection.db, who, 'mfm-35-9x512')).rejects.toThrow(
    'ships with the application',
  );
  await removeLayout(suite.connection.db, who, 'own');
  await expect(removeLayout(suite.connection.db, who, 'own')).rejects.toThrow('no layout own');
});

test('a proposed layout is kept, and the medium settled by it', async () => {
  const before = await copyOf('SKP-0102');
  expect(before).toMatchObject({
    layout: 'proposed',
    proposal: { cylinders: 80 },
    tally: { firm: 1120 },
  });
  await adoptProposal(suite.connection.db, who, before.id, {
    id: 'school-7x512',
    title: "The school's own",
  });
  await settled('SKP-0102');
  const after = await copyOf('SKP-0102');
  expect(after).toMatchObject({
    layout: 'school-7x512',
    proposal: null,
    imageSha256: before.imageSha256,
  });
  await expect(removeLayout(suite.connection.db, who, 'school-7x512')).rejects.toThrow(
    'is the layout of SKP-0102 and stays',
  );
});

test('a verdict is kept and told, and the copy before it stays', async () => {
  const before = await copyOf('SKP-0101');
  await giveVerdict(suite.connection.db, who, 'SKP-0101', {
    cylinder: 40,
    head: 0,
    r: 3,
    verdict: 'as-made',
    what: 'a wrong check',
  });
  await settled('SKP-0101');
  const { copy, verdicts } = await mediumDetail(suite.connection.db, 'SKP-0101');
  expect(verdicts).toMatchObject([{ cylinder: 40, head: 0, r: 3, verdict: 'as-made' }]);
  expect(copy!.id).toBeGreaterThan(before.id);
  expect(copy!.imageSha256).toBe(before.imageSha256);
  expect(
    await suite.connection.db.select().from(fairCopies).where(eq(fairCopies.id, before.id)),
  ).toHaveLength(1);
});

test('media of two kinds are not compared; of one kind they are', async () => {
  await expect(compareKept(suite.connection.db, 'SKP-0098', 'SKP-0104')).rejects.toThrow(
    'two kinds',
  );
  await expect(compareKept(suite.connection.db, 'SKP-0098', 'SKP-0117')).rejects.toThrow(
    'SKP-0117 has no fair copy yet',
  );
  const { tally, listed, more } = await compareKept(suite.connection.db, 'SKP-0101', 'SKP-0104');
  expect(
    tally.same + tally.differ + tally['first-only'] + tally['second-only'] + tally.neither,
  ).toBe(1440);
  expect(listed.length + more).toBe(1440 - tally.same);
});

test('the readings of one track come as a capture of their own', async () => {
  const { id } = await copyOf('SKP-0101');
  const container = readContainer(await trackCapture(suite.connection.db, id, 40, 0), nodeDigester);
  expect(container).toMatchObject({
    complete: true,
    readings: 1,
    problems: [],
    header: { tickHz: 24_000_000 },
  });
  expect(container.tracks[0]).toMatchObject({ cylinder: 40, head: 0 });
  await expect(trackCapture(suite.connection.db, id, 81, 1)).rejects.toThrow(
    'no reading of cylinder 81, head 1',
  );
});

test('what was made oddly on purpose goes back as flux, wrong checks and older tracks and all', async () => {
  await placeMedium(suite.connection.db, who, 2, 'BLK-0002');
  const { id: copy } = await copyOf('SKP-0101');
  const id = await startWriteback(suite.connection.db, who, {
    fairCopyId: copy,
    stationId: 2,
    from: 'flux',
  });
  const row = await until('the proof', async () => {
    const [each] = await suite.connection.db.select().from(writebacks).where(eq(writebacks.id, id));
    return ['proved', 'unproved', 'failed'].includes(each!.state) && each!;
  });
  expect(row).toMatchObject({
    state: 'proved',
    from: 'flux',
    now: { code: 'writebacks.provedAllTracksWere', with: { all: 160 } },
  });
  const [taken] = await suite.connection.db
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(media.code, 'SKP-0104'));
  await suite.connection.db
    .update(fairCopies)
    .set({ captureBlob: null })
    .where(eq(fairCopies.id, taken!.fair_copies.id));
  await expect(
    startWriteback(suite.connection.db, who, {
      fairCopyId: taken!.fair_copies.id,
      stationId: 2,
      from: 'flux',
    }),
  ).rejects.toThrow('no flux capture with this copy');
});
