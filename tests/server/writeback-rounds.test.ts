import { tell } from '@/messages/tell';
import { desc, eq } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { bytesOf } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import { fairCopies } from '@/server/features/copies/tables';
import { sittings } from '@/server/features/sittings/tables';
import { contentsOf } from '@/server/features/copies/queries';
import { fileBytes } from '@/server/features/copies/downloads';
import { takeIn } from '@/server/features/intake/intake';
import { checkWriteback } from '@/server/features/writebacks/writeback-check';
import { startWriteback } from '@/server/features/writebacks/writebacks';
import { serverSuite } from '../support/server-suite';
import { noise, sha, STATIONS, who, WritebackBench } from '../support/writeback-bench';

const suite = serverSuite({ worker: true });
const bench = new WritebackBench(suite);
const db = () => suite.connection.db;

test.each(
  // Waves into banks: tests/browser/assembly.test.ts.
  BLANK_KINDS.filter(({ id, layout }) => layout !== null && id !== 'wavesample').map(
    ({ id, layout }) => [id, layout!] as const,
  ),
)(
  '%s: put together, returned, read with a fresh sitting: the same image, a clean volume, the same files',
  async (kind, layoutId) => {
    const { copy: made, paths: wanted } = await bench.assembled(kind, {
      'F0.DAT': noise(`${kind}/a`, 3000),
      'F1.DAT': noise(`${kind}/b`, 17_001),
      'F2.DAT': new TextEncoder().encode('Fog at the mole.\r\n'.repeat(40)),
    });
    const form = shippedLayout(layoutId)!.forms[0]!;
    const station = STATIONS[layoutId] ?? 2;
    // What jitter does to a disk is tried elsewhere: here it would only take its time.
    const target = await bench.blank(form, { ageing: { jitterNs: 0 } });
    await bench.place(station, target);
    const id = await startWriteback(db(), who, { fairCopyId: made.id, stationId: station });
    expect(tell((await bench.inState(id, 'proved', 'unproved', 'failed', 'asks')).now)).toMatch(
      /^Proved: all \d+ tracks/,
    );
    expect((await bench.writeback(id)).found).toMatchObject({ state: 'blank' });
    const read = await bench.readAgain(target, station);
    expect([read.layout, read.imageSha256]).toEqual([layoutId, made.imageSha256]);
    const [volume] = await contentsOf(db(), read.id);
    expect(volume!.problems).toEqual([]);
    // CP/M keeps whole records: what lies behind the end of a file is not its own.
    const files = volume!.entries.filter(({ kind: own, deleted }) => own === 'file' && !deleted);
    expect(files.map(({ path }) => path).sort()).toEqual([...wanted.keys()].sort());
    for (const { id: file, path, sha256 } of files) {
      const put = wanted.get(path)!;
      if (kind !== 'cpm-8') expect([path, sha256]).toEqual([path, sha(put)]);
      else
        expect([
          path,
          sha(
            new Uint8Array(await (await fileBytes(db(), file)).arrayBuffer()).subarray(
              0,
              put.length,
            ),
          ),
        ]).toEqual([path, sha(put)]);
    }
  },
);

test.each(['mixed-8-26x256', 'mfm-8-8x1024', 'mfm-35-5x1024+512'])(
  '%s without a file system: the image goes there and comes back',
  async (layoutId) => {
    const layout = shippedLayout(layoutId)!;
    const image = noise(layoutId, bytesOf(layout));
    const { code } = await takeIn(db(), who, { name: `${layoutId}.img` }, image);
    const copy = await bench.copyOf(code);
    await db().update(fairCopies).set({ layout: layoutId }).where(eq(fairCopies.id, copy.id));
    const station = STATIONS[layoutId] ?? 2;
    const target = await bench.blank(layout.forms[0]!, { ageing: { jitterNs: 0 } });
    await bench.place(station, target);
    const id = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: station });
    expect((await bench.inState(id, 'proved', 'unproved', 'failed')).state).toBe('proved');
    expect((await bench.readAgain(target, station)).imageSha256).toBe(sha(image));
  },
);

test('a 40-cylinder disk made in an 80-cylinder drive lies under every second step', async () => {
  const { copy } = await bench.assembled('fat12-360', { 'F.DAT': noise('forty', 9000) });
  const target = await bench.blank('5.25', { ageing: { jitterNs: 0 } });
  await bench.place(3, target);
  expect(
    (await checkWriteback(db(), copy.id, 3, null)).findings.map(({ weight, sentence }) => [
      weight,
      sentence.code,
    ]),
  ).toEqual([
    ['beware', 'assembly.theDriveHasTwice'],
    ['beware', 'assembly.theDriveTurnsTimes'],
  ]);
  const id = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 3 });
  expect((await bench.inState(id, 'proved', 'unproved', 'failed')).state).toBe('proved');
  await bench.place(3, target);
  const read = await bench.readAgain(target, 3);
  expect([read.layout, read.imageSha256]).toEqual(['mfm-525-9x512', copy.imageSha256]);
  const [sitting] = await db().select().from(sittings).orderBy(desc(sittings.id)).limit(1);
  expect(sitting!.stepping).toBe(2);
  // In a drive of its own kind, which has half the cylinders, the last cylinder is under position
  // 39: here under 78.
  const client = await BenchClient.connect(suite.application.bench);
  const sectorsAt = async (cylinder: number) =>
    (await client.readSectors('C', { cylinder, head: 0, pass: 0, approach: 'plain' })).sectors.map(
      ({ c, status }) => [c, status],
    );
  const [last, between] = [await sectorsAt(78), await sectorsAt(39)];
  client.close();
  expect([last.length, new Set(last.map(String)), between.length]).toEqual([
    9,
    new Set(['39,right']),
    0,
  ]);
});
