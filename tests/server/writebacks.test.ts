import { tell } from '@/messages/tell';
import { desc, eq, sql } from 'drizzle-orm';
import type { Said } from '@/core/said';
import { BenchClient } from '@/benchlink/client';
import { Certificate } from '@/core/assembly/certificate';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { blobChunks } from '@/server/platform/blobs/tables';
import { writebackQueue, writebacks } from '@/server/features/writebacks/tables';
import { blankStock } from '@/server/features/assemblies/blanks';
import { certificateDownload, buildCertificate } from '@/server/features/writebacks/certificates';
import { takeIn } from '@/server/features/intake/intake';
import { checkWriteback } from '@/server/features/writebacks/writeback-check';
import {
  confirmOverwrite,
  giveUpWriteback,
  startWriteback,
  tellOutcome,
} from '@/server/features/writebacks/writebacks';
import { queueWritebacks } from '@/server/features/writebacks/writeback-queue';
import { listStations } from '@/server/features/stations/stations';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';
import { noise, sha, who, WritebackBench } from '../support/writeback-bench';

const suite = serverSuite({ worker: true });
const bench = new WritebackBench(suite);
const db = () => suite.connection.db;

test('the wrong machine and the wrong blank are refused with the reason, and nothing is written', async () => {
  const copy = await bench.copyOf('SKP-0104');
  const high = await bench.blank('3.5', { density: 'high' });
  await bench.place(2, high);
  const { findings } = await checkWriteback(db(), copy.id, 2, 'gcr45');
  expect(findings.map(({ weight }) => weight)).toContain('stops');
  // One sector of this image is lost.
  expect(findings.map(({ sentence }) => tell(sentence))).toContainEqual(
    expect.stringMatching(/^\d+ sectors? of this image (is|are) in doubt/),
  );
  await expect(
    startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2, machine: 'gcr45' }),
  ).rejects.toThrow(/Its drives take gcr45-525-35, not .*Nothing was written/);
  const { copy: wrong } = await bench.assembled('d64', { 'F.DAT': noise('wrong', 900) });
  await expect(startWriteback(db(), who, { fairCopyId: wrong.id, stationId: 2 })).rejects.toThrow(
    'goes on 5¼-inch disks',
  );
});

test('what is on the target: kept already, it may go; not kept, its code is asked for', async () => {
  const target = await bench.blank('5.25');
  const { copy } = await bench.assembled('prodos-280', { 'KEPT.DAT': noise('kept', 40_000) });
  await bench.place(4, target);
  const first = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 4 });
  await bench.inState(first, 'proved');
  const again = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 4 });
  await bench.inState(again, 'proved');
  expect((await bench.writeback(again)).found).toMatchObject({
    state: 'held',
    heldAs: await bench.codeOf(copy.mediumId),
  });

  // The same but for one track that the first look does not take: what is there is asked about.
  const almost = (await readBlob(db(), copy.imageBlob)).slice();
  almost.set(noise('only here', 512), 13 * 16 * 256);
  const { code: changed } = await takeIn(db(), who, { name: 'changed.img' }, almost);
  const differing = await bench.copyOf(changed);
  await bench.inState(
    await startWriteback(db(), who, { fairCopyId: differing.id, stationId: 4 }),
    'proved',
  );
  await db().execute(`delete from track_digests where fair_copy_id = ${differing.id}`);
  const looked = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 4 });
  expect((await bench.inState(looked, 'asks', 'proved')).state).toBe('asks');
  await confirmOverwrite(db(), who, looked, target);
  await bench.inState(looked, 'proved');

  const { copy: other } = await bench.assembled('prodos-280', {
    'SECRET.TXT': new TextEncoder().encode('somebody wrote this at home'),
  });
  await bench.inState(
    await startWriteback(db(), who, { fairCopyId: other.id, stationId: 4 }),
    'proved',
  );
  // Gone from the holdings: now the disk has the only one.
  await db().execute(`delete from track_digests where fair_copy_id = ${other.id}`);
  const asks = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 4 });
  const row = await bench.inState(asks, 'asks');
  expect([row.found!.state, row.found!.files, tell(row.now)]).toEqual([
    'data',
    ['SECRET.TXT'],
    expect.stringMatching(/with SECRET\.TXT, which are not kept here\. Nothing was written/),
  ]);
  await expect(confirmOverwrite(db(), who, asks, 'yes')).rejects.toThrow(`Type ${target}`);
  await confirmOverwrite(db(), who, asks, target.toLowerCase());
  await bench.inState(asks, 'proved');
  expect((await buildCertificate(db(), asks)).target.found).toContain('data that was not kept');
});

test.each([
  ['bytes alone', {}],
  [
    'bytes, and what is kept to tell it by',
    { digest: sql`sha256(set_byte(${blobChunks.bytes}, 9, 77))` },
  ],
])(
  'an image that is damaged in the store, %s, fails its write-back with a certificate, and frees the station',
  async (_, more) => {
    const target = await bench.blank('5.25');
    const { copy } = await bench.assembled('prodos-280', { 'LOST.DAT': noise('lost', 30_000) });
    await bench.place(4, target);
    await db()
      .update(blobChunks)
      .set({ bytes: sql`set_byte(${blobChunks.bytes}, 9, 77)`, ...more })
      .where(eq(blobChunks.blobId, copy.imageBlob));
    const failing = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 4 });
    const row = await bench.inState(failing, 'failed');
    expect((row.now as Said).code).toBe('platform.storedBytesAreDamaged');
    const sealed = await certificateDownload(db(), failing, 'json');
    expect(Certificate.parse(await sealed.json()).target.code).toBe(target);
    const { copy: sound } = await bench.assembled('prodos-280', { 'B.DAT': noise('b', 3000) });
    const next = await startWriteback(db(), who, { fairCopyId: sound.id, stationId: 4 });
    await bench.inState(next, 'proved');
  },
);

test('a bad spot on the blank: nothing is claimed, the certificate says where, what it came from is as it was', async () => {
  const copy = await bench.copyOf('SKP-0104');
  const before = sha(await readBlob(db(), copy.imageBlob));
  const target = await bench.blank('3.5', {
    ageing: { dropouts: [{ cylinder: 12, head: 1, from: 0.3, to: 0.36 }] },
  });
  await bench.place(2, target);
  const id = await startWriteback(db(), who, {
    fairCopyId: copy.id,
    stationId: 2,
    machine: 'fat-double-density',
  });
  expect(tell((await bench.inState(id, 'unproved')).now)).toMatch(
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
  const copy = await bench.copyOf('SKP-0098');
  const target = await bench.blank('3.5');
  await bench.place(2, target);
  const client = await BenchClient.connect(suite.application.bench);
  try {
    const [, drive] = await client.drives();
    await client.hand({ op: 'hand-fault', drive: drive!.id, fault: 'medium-gone', after: 60 });
    const id = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
    expect(tell((await bench.inState(id, 'held')).now)).toMatch(
      /Put the same disk back|Check that the disk is in/,
    );
    await giveUpWriteback(db(), who, id);
    expect(tell((await bench.inState(id, 'failed')).now)).toMatch(
      /^Given up: \d+ tracks? (was|were) written\. Nothing is claimed/,
    );
    expect((await buildCertificate(db(), id)).outcome).toBe('failed');
    await client.hand({ op: 'hand-insert', drive: drive!.id, label: target });
    const fresh = await bench.blank('3.5');
    await bench.place(2, fresh);
    await client.hand({ op: 'hand-fault', drive: drive!.id, fault: 'write-protected', after: 40 });
    const next = await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 2 });
    expect(tell((await bench.inState(next, 'held', 'proved')).now)).toContain(
      'Take the write protection off',
    );
    await bench.inState(next, 'proved');
  } finally {
    client.close();
  }
});

test("three disks in a row: each next blank begins by itself; what a blank can't take waits with the reason", async () => {
  const copy = await bench.copyOf('SKP-0104');
  const targets = [
    await bench.blank('3.5'),
    await bench.blank('3.5', { density: 'high' }),
    await bench.blank('3.5'),
  ];
  await bench.place(1, targets[0]!);
  const hd = await bench.copyOf('SKP-0098');
  await bench.inState(
    await startWriteback(db(), who, { fairCopyId: copy.id, stationId: 1, count: 2 }),
    'proved',
  );
  expect(await db().select().from(writebackQueue)).toHaveLength(1);
  expect((await listStations(db())).find(({ id }) => id === 1)!.nextWriteback).toMatchObject({
    code: 'SKP-0104',
    trouble: null,
  });
  await bench.place(1, targets[2]!);
  const second = await until(
    'the next one',
    async () =>
      (await db().select().from(writebacks).orderBy(desc(writebacks.id)).limit(1)).find(
        ({ state }) => state === 'proved' || state === 'writing' || state === 'waiting',
      ) ?? null,
  );
  await bench.inState(second.id, 'proved');
  expect(await db().select().from(writebackQueue)).toHaveLength(0);
  await tellOutcome(db(), who, second.id, { outcome: 'works', note: 'lists its directory' });
  expect((await buildCertificate(db(), second.id)).trial).toMatchObject({
    outcome: 'works',
    note: 'lists its directory',
  });
  // A double-density blank does not take a high-density image.
  await queueWritebacks(db(), who, { fairCopyId: hd.id, stationId: 1 });
  const double = await bench.blank('3.5', { density: 'double' });
  await bench.place(1, double);
  expect((await db().select().from(writebackQueue))[0]!.trouble).toMatchObject({
    with: { stops: [{ code: 'assembly.isADoubleDensity' }] },
  });
  await bench.place(1, targets[1]!);
  const last = await until(
    'it to begin',
    async () =>
      (await db().select().from(writebacks).orderBy(desc(writebacks.id)).limit(1))[0]!
        .fairCopyId === hd.id &&
      (await db().select().from(writebacks).orderBy(desc(writebacks.id)).limit(1))[0]!,
  );
  await bench.inState(last.id, 'proved');
  expect((await blankStock(db())).reduce((sum, { left }) => sum + left, 0)).toBeGreaterThan(0);
});
