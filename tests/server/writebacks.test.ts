/**
 * Returns on the real bench: round trips of every layout and file system, what is on a target,
 * faults in the middle, queues, devices of blocks, certificates.
 */
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { desc, eq } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { Certificate } from '@/core/assembly/certificate';
import { seededRandom } from '@/core/bits/random';
import { BLANK_KINDS } from '@/core/identify/writable-volume';
import { bytesOf } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import type { MediumForm } from '@/core/medium-form';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { fairCopies } from '@/server/features/copies/tables';
import { media } from '@/server/features/media/tables';
import { sittings } from '@/server/features/sittings/tables';
import { writebackQueue, writebacks } from '@/server/features/writebacks/tables';
import { actOnAssembly, addUpload, startAssembly } from '@/server/features/assemblies/assemblies';
import { blankStock } from '@/server/features/assemblies/blanks';
import { certificateDownload, buildCertificate } from '@/server/features/writebacks/certificates';
import { contentsOf } from '@/server/features/copies/queries';
import { fileBytes } from '@/server/features/copies/downloads';
import { takeIn } from '@/server/features/intake/intake';
import { registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { checkWriteback } from '@/server/features/writebacks/writeback-check';
import {
  confirmOverwrite,
  giveUpWriteback,
  startWriteback,
  tellOutcome,
} from '@/server/features/writebacks/writebacks';
import { queueWritebacks } from '@/server/features/writebacks/writeback-queue';
import { startSitting } from '@/server/features/sittings/sittings';
import { listStations } from '@/server/features/stations/stations';
import { placeMedium, removeMedium } from '@/server/features/stations/placing';
import { deviceScenario } from '../../demo/devices';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';

jest.setTimeout(300_000);

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;
const sha = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

let blanks = 100;
/** A blank of ours on the shelf and in the register. */
async function blank(
  form: MediumForm,
  {
    ageing = {},
    device,
    density = null,
  }: { ageing?: object; device?: object; density?: 'double' | 'high' | null } = {},
): Promise<string> {
  const code = `BLK-0${blanks++}`;
  const shelf = join(suite.application.folder, 'shelf');
  if (device)
    writeFileSync(
      join(shelf, `${code}.device.json`),
      JSON.stringify({
        label: code,
        form,
        describes: 'a blank',
        writeProtected: false,
        image: null,
        seed: '',
        faults: {},
        ...device,
      }),
    );
  else
    writeFileSync(
      join(shelf, `${code}.medium.json`),
      JSON.stringify({
        label: code,
        form,
        describes: 'a blank',
        writeProtected: false,
        recorded: null,
        ageing: {
          seed: code,
          jitterNs: 40,
          innerFactor: 1.5,
          peakShiftNs: 60,
          weak: [],
          dropouts: [],
          shedding: 0,
          ...ageing,
        },
      }),
    );
  await registerMedium(
    db(),
    who,
    NewMedium.parse({ code, form, title: 'a blank', isBlank: true, density }),
  );
  return code;
}

const noise = (seed: string, length: number) => {
  const random = seededRandom(seed);
  return Uint8Array.from({ length }, () => random.below(256));
};
const returned = async (id: number) =>
  (await db().select().from(writebacks).where(eq(writebacks.id, id)))[0]!;
const inState = (id: number, ...states: string[]) =>
  until(
    `write-back ${id} to be ${states.join(' or ')}`,
    async () => {
      const row = await returned(id);
      return states.includes(row.state) && row;
    },
    200,
  );
const copyOf = async (code: string) => {
  const [medium] = await db().select().from(media).where(eq(media.code, code));
  const [copy] = await db()
    .select()
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, medium!.id))
    .orderBy(desc(fairCopies.id))
    .limit(1);
  return copy!;
};
const empty = (station: number) => removeMedium(db(), who, station).catch(() => undefined);
/** Read with a fresh sitting, from the drive that it is in. */
async function readAgain(code: string, station: number) {
  const id = await startSitting(db(), who, station);
  const row = await until(
    `sitting ${id} to end`,
    async () => {
      const [sitting] = await db().select().from(sittings).where(eq(sittings.id, id));
      return (sitting!.state === 'done' || sitting!.state === 'failed') && sitting!;
    },
    200,
  );
  expect([code, row.state]).toEqual([code, 'done']);
  return copyOf(code);
}

const STATIONS: Record<string, number> = {
  'mfm-525-9x512': 4,
  'mfm-525-15x512': 3,
  'mfm-525-18x256': 4,
  'gcr45-525-35': 4,
  'gcr62-525-16x256': 4,
  'fm-8-26x128': 5,
  'mixed-8-26x256': 5,
  'mfm-8-8x1024': 5,
};

test.each(
  BLANK_KINDS.filter(({ layout }) => layout !== null).map(
    ({ id, layout }) => [id, layout!] as const,
  ),
)(
  '%s: put together, returned, read with a fresh sitting: the same image, a clean volume, the same files',
  async (kind, layoutId) => {
    const blankKind = BLANK_KINDS.find(({ id }) => id === kind)!;
    const { id: assembly } = await startAssembly(db(), who, {
      title: `Round trip of ${kind}`,
      kind,
      label: blankKind.mostLabel > 0 ? 'ROUND' : '',
    });
    const wanted = new Map<string, Uint8Array>();
    for (const [i, bytes] of [
      noise(`${kind}/a`, 3000),
      noise(`${kind}/b`, 17_001),
      new TextEncoder().encode('Fog at the mole.\r\n'.repeat(40)),
    ].entries()) {
      const { put, left } = await addUpload(db(), assembly, `F${i}.DAT`, '', bytes);
      expect(left).toEqual([]);
      wanted.set(put[0]!.path, bytes);
    }
    const { code } = (await actOnAssembly(db(), who, assembly, { do: 'settle' })) as {
      code: string;
    };
    const made = await copyOf(code);
    const form = shippedLayout(layoutId)!.forms[0]!;
    const station = STATIONS[layoutId] ?? 2;
    const target = await blank(form);
    await empty(station);
    await placeMedium(db(), who, station, target);
    const id = await startWriteback(db(), who, { fairCopyId: made.id, stationId: station });
    expect((await inState(id, 'proved', 'unproved', 'failed', 'asks')).now).toMatch(
      /^Proved: all \d+ tracks/,
    );
    expect((await returned(id)).found).toMatchObject({ state: 'blank' });
    const read = await readAgain(target, station);
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
    const copy = await copyOf(code);
    await db().update(fairCopies).set({ layout: layoutId }).where(eq(fairCopies.id, copy.id));
    const station = STATIONS[layoutId] ?? 2;
    const target = await blank(layout.forms[0]!);
    await empty(station);
    await placeMedium(db(), who, station, target);
    const id = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: station });
    expect((await inState(id, 'proved', 'unproved', 'failed')).state).toBe('proved');
    expect((await readAgain(target, station)).imageSha256).toBe(sha(image));
  },
);

test('a 40-cylinder disk made in an 80-cylinder drive lies under every second step', async () => {
  const copy = await copyOf(
    (
      await db()
        .select({ code: media.code })
        .from(media)
        .where(eq(media.title, 'Round trip of fat12-360'))
    )[0]!.code,
  );
  const target = await blank('5.25');
  await empty(3);
  await placeMedium(db(), who, 3, target);
  expect(
    (await checkWriteback(db(), copy.id, 3, null)).findings.map(({ weight, sentence }) => [
      weight,
      sentence.slice(0, 28),
    ]),
  ).toEqual([
    ['beware', 'The drive has twice the cylin'.slice(0, 28)],
    ['beware', 'The drive turns 360 times a '.slice(0, 28)],
  ]);
  const id = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 3 });
  expect((await inState(id, 'proved', 'unproved', 'failed')).state).toBe('proved');
  await removeMedium(db(), who, 3);
  await empty(3);
  await placeMedium(db(), who, 3, target);
  const read = await readAgain(target, 3);
  expect([read.layout, read.imageSha256]).toEqual(['mfm-525-9x512', copy.imageSha256]);
  const [sitting] = await db().select().from(sittings).orderBy(desc(sittings.id)).limit(1);
  expect(sitting!.stepping).toBe(2);
  // In a drive of its own kind, which has half the cylinders, the last cylinder is under position
  // 39: here under 78.
  const client = await BenchClient.connect({
    host: '127.0.0.1',
    port: suite.application.benchPort,
  });
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

test('the wrong machine and the wrong blank are refused with the reason, and nothing is written', async () => {
  const copy = await copyOf('SKP-0104');
  const high = await blank('3.5', { density: 'high' });
  await empty(2);
  await placeMedium(db(), who, 2, high);
  const { findings } = await checkWriteback(db(), copy.id, 2, 'gcr45');
  expect(findings.map(({ weight }) => weight)).toContain('stops');
  // One sector of this image is lost.
  expect(findings.map(({ sentence }) => sentence)).toContainEqual(
    expect.stringMatching(/^\d+ sectors? of this image (is|are) in doubt/),
  );
  await expect(
    startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2, machine: 'gcr45' }),
  ).rejects.toThrow(/Its drives take gcr45-525-35, not .*Nothing was written/);
  const wrong = await copyOf(
    (
      await db()
        .select({ code: media.code })
        .from(media)
        .where(eq(media.title, 'Round trip of d64'))
    )[0]!.code,
  );
  await expect(startWriteback(db(), who, { fairCopyId: wrong.id, stationId: 2 })).rejects.toThrow(
    'goes on 5¼-inch disks',
  );
});

test('what is on the target: kept already, it may go; not kept, its code is asked for', async () => {
  const target = await blank('3.5');
  const copy = await copyOf('SKP-0104');
  await empty(2);
  await placeMedium(db(), who, 2, target);
  const first = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
  await inState(first, 'proved');
  const again = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
  await inState(again, 'proved');
  expect((await returned(again)).found).toMatchObject({ state: 'held', heldAs: 'SKP-0104' });

  // The same but for one track that the first look does not take: what is there is asked about.
  const almost = (await readBlob(db(), copy.imageBlob)).slice();
  almost.set(noise('only here', 512), 25 * 2 * 9 * 512);
  const { code: changed } = await takeIn(db(), who, { name: 'changed.img' }, almost);
  const differing = await copyOf(changed);
  await inState(
    await startWriteback(db(), who, { fairCopyId: differing.id, stationId: 2 }),
    'proved',
  );
  await db().execute(`delete from track_digests where fair_copy_id = ${differing.id}`);
  const looked = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
  expect((await inState(looked, 'asks', 'proved')).state).toBe('asks');
  await confirmOverwrite(db(), who, looked, target);
  await inState(looked, 'proved');

  const { id: assembly } = await startAssembly(db(), who, { title: 'Not kept', kind: 'fat12-720' });
  await addUpload(
    db(),
    assembly,
    'SECRET.TXT',
    '',
    new TextEncoder().encode('somebody wrote this at home'),
  );
  const { code } = (await actOnAssembly(db(), who, assembly, { do: 'settle' })) as { code: string };
  const other = await copyOf(code);
  await inState(await startWriteback(db(), who, { fairCopyId: other.id, stationId: 2 }), 'proved');
  // Gone from the holdings: now the disk has the only one.
  await db().execute(`delete from track_digests where fair_copy_id = ${other.id}`);
  const asks = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
  const row = await inState(asks, 'asks');
  expect([row.found!.state, row.found!.files, row.now]).toEqual([
    'data',
    ['SECRET.TXT'],
    expect.stringMatching(/with SECRET\.TXT, which are not kept here\. Nothing was written/),
  ]);
  await expect(confirmOverwrite(db(), who, asks, 'yes')).rejects.toThrow(`Type ${target}`);
  await confirmOverwrite(db(), who, asks, target.toLowerCase());
  await inState(asks, 'proved');
  expect((await buildCertificate(db(), asks)).target.found).toContain('data that was not kept');
});

test('a bad spot on the blank: nothing is claimed, the certificate says where, what it came from is as it was', async () => {
  const copy = await copyOf('SKP-0104');
  const before = sha(await readBlob(db(), copy.imageBlob));
  const target = await blank('3.5', {
    ageing: { dropouts: [{ cylinder: 12, head: 1, from: 0.3, to: 0.36 }] },
  });
  await empty(2);
  await placeMedium(db(), who, 2, target);
  const id = await startWriteback(db(), who, {
    fairCopyId: copy.id,
    stationId: 2,
    machine: 'fat-double-density',
  });
  expect((await inState(id, 'unproved')).now).toMatch(
    /^Not proved: 1 of 160 tracks .*12\/1.*fresh blank/,
  );
  const certificate = Certificate.parse(
    JSON.parse(await (await certificateDownload(db(), id, 'json')).text()),
  );
  expect(certificate).toMatchObject({
    outcome: 'not proved',
    machine: 'FAT system, double-density drives',
    tracks: { written: 160, proved: 159, failed: [{ cylinder: 12, head: 1, tries: 3 }] },
    trial: null,
    precompensated: true,
  });
  expect(certificate.source.inDoubt).toBeGreaterThan(0);
  expect(certificate.margin!.meanSpread).toBeGreaterThan(0.005);
  expect(certificate.margin!.worstSpread).toBeLessThan(0.5);
  await expect(tellOutcome(db(), who, id, { outcome: 'works', note: '' })).rejects.toThrow(
    'Only a write-back that was proved',
  );
  expect(sha(await readBlob(db(), copy.imageBlob))).toBe(before);
  const pdf = new Uint8Array(await (await certificateDownload(db(), id, 'pdf')).arrayBuffer());
  expect(new TextDecoder('latin1').decode(pdf.subarray(0, 5))).toBe('%PDF-');
});

test('target taken away in the middle: it waits and says what to check; given up, nothing is claimed', async () => {
  const copy = await copyOf('SKP-0098');
  const target = await blank('3.5');
  await empty(2);
  await placeMedium(db(), who, 2, target);
  const client = await BenchClient.connect({
    host: '127.0.0.1',
    port: suite.application.benchPort,
  });
  try {
    const [, drive] = await client.drives();
    await client.hand({ op: 'hand-fault', drive: drive!.id, fault: 'medium-gone', after: 60 });
    const id = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
    expect((await inState(id, 'held')).now).toMatch(
      /Put the same disk back|Check that the disk is in/,
    );
    await giveUpWriteback(db(), who, id);
    expect((await inState(id, 'failed')).now).toMatch(
      /^Given up: \d+ tracks? (was|were) written\. Nothing is claimed/,
    );
    expect((await buildCertificate(db(), id)).outcome).toBe('failed');
    await client.hand({ op: 'hand-insert', drive: drive!.id, label: target });
    const fresh = await blank('3.5');
    await removeMedium(db(), who, 2);
    await placeMedium(db(), who, 2, fresh);
    await client.hand({ op: 'hand-fault', drive: drive!.id, fault: 'write-protected', after: 40 });
    const next = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
    expect((await inState(next, 'held', 'proved')).now).toContain('Take the write protection off');
    await inState(next, 'proved');
  } finally {
    client.close();
  }
});

test("three disks in a row: each next blank begins by itself; what a blank can't take waits with the reason", async () => {
  const copy = await copyOf('SKP-0104');
  const targets = [await blank('3.5'), await blank('3.5', { density: 'high' }), await blank('3.5')];
  await empty(1);
  await placeMedium(db(), who, 1, targets[0]!);
  const hd = await copyOf('SKP-0098');
  await inState(
    await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 1, count: 2 }),
    'proved',
  );
  expect(await db().select().from(writebackQueue)).toHaveLength(1);
  expect((await listStations(db())).find(({ id }) => id === 1)!.nextWriteback).toMatchObject({
    code: 'SKP-0104',
    trouble: null,
  });
  await removeMedium(db(), who, 1);
  await placeMedium(db(), who, 1, targets[2]!);
  const second = await until(
    'the next one',
    async () =>
      (await db().select().from(writebacks).orderBy(desc(writebacks.id)).limit(1)).find(
        ({ state }) => state === 'proved' || state === 'writing' || state === 'waiting',
      ) ?? null,
  );
  await inState(second.id, 'proved');
  expect(await db().select().from(writebackQueue)).toHaveLength(0);
  await tellOutcome(db(), who, second.id, { outcome: 'works', note: 'lists its directory' });
  expect((await buildCertificate(db(), second.id)).trial).toMatchObject({
    outcome: 'works',
    note: 'lists its directory',
  });
  // A double-density blank does not take a high-density image.
  await queueWritebacks(db(), who, { fairCopyId: hd.id, stationId: 1 });
  const double = await blank('3.5', { density: 'double' });
  await removeMedium(db(), who, 1);
  await placeMedium(db(), who, 1, double);
  expect((await db().select().from(writebackQueue))[0]!.trouble).toContain('double-density blank');
  await removeMedium(db(), who, 1);
  await placeMedium(db(), who, 1, targets[1]!);
  const last = await until(
    'it to begin',
    async () =>
      (await db().select().from(writebacks).orderBy(desc(writebacks.id)).limit(1))[0]!
        .fairCopyId === hd.id &&
      (await db().select().from(writebacks).orderBy(desc(writebacks.id)).limit(1))[0]!,
  );
  await inState(last.id, 'proved');
  expect((await blankStock(db())).reduce((sum, { left }) => sum + left, 0)).toBeGreaterThan(0);
});

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
    const target = await blank('hard-disk', { device: disk });
    await empty(7);
    await placeMedium(db(), who, 7, target);
    const id = await startWriteback(db(), who, {
      fairCopyId: (await copyOf(code)).id,
      stationId: 7,
    });
    await until('some of it', async () => ((await returned(id)).blocks?.written ?? 0) > 2000);
    await suite.worker.kill();
    await suite.worker.restart();
    const row = await inState(id, 'proved', 'unproved', 'failed');
    expect(row.now).toBe(
      `Proved: all ${(image.length / 512).toLocaleString('en')} blocks were read back and are what was written. The last ${(30_000 - image.length / 512).toLocaleString('en')} blocks of ${target} were not touched.`,
    );
    const read = await readAgain(target, 7);
    expect(sha((await readBlob(db(), read.imageBlob)).subarray(0, image.length))).toBe(sha(image));
    // Now it holds something.
    const again = await startWriteback(db(), who, {
      fairCopyId: (await copyOf(code)).id,
      stationId: 7,
    });
    expect((await inState(again, 'asks', 'proved')).state).toBe('asks');
    await giveUpWriteback(db(), who, again);
    expect((await buildCertificate(db(), id)).blocks).toEqual({
      blockBytes: 512,
      written: image.length / 512,
      proved: image.length / 512,
      failed: [],
    });
  });

  test('bad blocks are told by their places; one that is too small is refused before a byte goes', async () => {
    const bad = await blank('hard-disk', {
      device: { ...disk, faults: { bad: [{ from: 4000, count: 3 }] } },
    });
    await empty(7);
    await placeMedium(db(), who, 7, bad);
    const id = await startWriteback(db(), who, {
      fairCopyId: (await copyOf(code)).id,
      stationId: 7,
    });
    expect((await inState(id, 'proved', 'unproved', 'failed')).now).toMatch(
      /^Not proved: 3 of .* \(block 4,000 to 4,002\)/,
    );
    const tiny = await blank('hard-disk', { device: { medium: { ...disk.medium, blocks: 1000 } } });
    await empty(7);
    await placeMedium(db(), who, 7, tiny);
    const other = await startWriteback(db(), who, {
      fairCopyId: (await copyOf(code)).id,
      stationId: 7,
    });
    expect((await inState(other, 'failed')).now).toMatch(/^The image needs .* Nothing was written/);
    await empty(7);
  });

  test('a disc', async () => {
    const charts = deviceScenario().find(({ code: own }) => own === 'SKP-0113')!.image;
    const { code: iso } = await takeIn(
      db(),
      who,
      { name: 'charts.iso' },
      charts.subarray(0, charts.length - (charts.length % 2048)),
    );
    const target = await blank('optical-disc', {
      device: { medium: { kind: 'dvd', blockBytes: 2048, blocks: 40_000, layers: [40_000] } },
    });
    await empty(8);
    await placeMedium(db(), who, 8, target);
    const id = await startWriteback(db(), who, {
      fairCopyId: (await copyOf(iso)).id,
      stationId: 8,
    });
    expect((await inState(id, 'proved', 'unproved', 'failed')).state).toBe('proved');
  });
});
