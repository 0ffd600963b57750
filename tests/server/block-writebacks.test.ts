import { grouped } from '@/core/text/grouped';
import { tell } from '@/messages/tell';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { buildCertificate } from '@/server/features/writebacks/certificates';
import { takeIn } from '@/server/features/intake/intake';
import { giveUpWriteback, startWriteback } from '@/server/features/writebacks/writebacks';
import { deviceScenario } from '../../demo/devices';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';
import { noise, sha, who, WritebackBench } from '../support/writeback-bench';

const suite = serverSuite({ worker: true });
const bench = new WritebackBench(suite);
const db = () => suite.connection.db;

describe('devices of blocks', () => {
  const disk = {
    medium: {
      kind: 'hard-disk',
      model: 'blank',
      serial: 'B-1',
      blockBytes: 512,
      blocks: 30_000,
      geometry: null,
      layers: [],
      tracks: [],
    },
  };
  const image = noise('disk image', 9_000_000 - (9_000_000 % 512));
  let code: string;
  beforeAll(async () => {
    code = (await takeIn(db(), who, { name: 'disk.img' }, image)).code;
  });

  test('a hard disk is written, every block read back, through kill -9; what is left over is said', async () => {
    const target = await bench.blank('hard-disk', { device: disk });
    await bench.place(7, target);
    const id = await startWriteback(db(), who, {
      fairCopyId: (await bench.copyOf(code)).id,
      stationId: 7,
    });
    await until(
      'some of it',
      async () => ((await bench.writeback(id)).blocks?.written ?? 0) > 2000,
    );
    await suite.worker.kill();
    await suite.worker.restart();
    const row = await bench.inState(id, 'proved', 'unproved', 'failed');
    expect(tell(row.now)).toBe(
      `Proved: all ${grouped(image.length / 512)} blocks were read back and are what was written. The last ${grouped(30_000 - image.length / 512)} blocks of ${target} were not touched.`,
    );
    const read = await bench.readAgain(target, 7);
    expect(sha((await readBlob(db(), read.imageBlob)).subarray(0, image.length))).toBe(sha(image));
    // Now it holds something.
    const again = await startWriteback(db(), who, {
      fairCopyId: (await bench.copyOf(code)).id,
      stationId: 7,
    });
    expect((await bench.inState(again, 'asks', 'proved')).state).toBe('asks');
    await giveUpWriteback(db(), who, again);
    expect((await buildCertificate(db(), id)).blocks).toEqual({
      blockBytes: 512,
      written: image.length / 512,
      proved: image.length / 512,
      failed: [],
    });
  });

  test('bad blocks are told by their places; one that is too small is refused before a byte goes', async () => {
    const bad = await bench.blank('hard-disk', {
      device: { ...disk, faults: { bad: [{ from: 4000, count: 3 }] } },
    });
    await bench.place(7, bad);
    const id = await startWriteback(db(), who, {
      fairCopyId: (await bench.copyOf(code)).id,
      stationId: 7,
    });
    expect(tell((await bench.inState(id, 'proved', 'unproved', 'failed')).now)).toMatch(
      /^Not proved: 3 of .* \(block 4\u2009000 to 4\u2009002\)/,
    );
    const tiny = await bench.blank('hard-disk', {
      device: { medium: { ...disk.medium, blocks: 1000 } },
    });
    await bench.place(7, tiny);
    const other = await startWriteback(db(), who, {
      fairCopyId: (await bench.copyOf(code)).id,
      stationId: 7,
    });
    expect(tell((await bench.inState(other, 'failed')).now)).toMatch(
      /^The image needs .* Nothing was written/,
    );
  });

  test('a disc', async () => {
    const charts = deviceScenario().find(({ code: own }) => own === 'SKP-0113')!.image;
    const { code: iso } = await takeIn(
      db(),
      who,
      { name: 'charts.iso' },
      charts.subarray(0, charts.length - (charts.length % 2048)),
    );
    const target = await bench.blank('optical-disc', {
      device: { medium: { kind: 'dvd', blockBytes: 2048, blocks: 40_000, layers: [40_000] } },
    });
    await bench.place(8, target);
    const id = await startWriteback(db(), who, {
      fairCopyId: (await bench.copyOf(iso)).id,
      stationId: 8,
    });
    expect((await bench.inState(id, 'proved', 'unproved', 'failed')).state).toBe('proved');
  });
});
