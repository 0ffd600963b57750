/**
 * Large files: in parts that break off, packed, raw discs with their sheets, out in ranges and
 * under a passphrase.
 */
import { spawnSync } from 'node:child_process';
import { gunzipSync } from 'node:zlib';
import { eq, ne, sql } from 'drizzle-orm';
import { memorySource } from '@/core/bits/byte-source';
import { packSource } from '@/core/packing/pack-source';
import { packedSource, readIndex } from '@/core/packing/packed';
import { collect } from '@/core/volume/volume';
import { nodeDeflater, nodeInflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import {
  appendBlob,
  createBlob,
  createSparseBlob,
  sealBlob,
  writeBlob,
} from '@/server/platform/blobs/blob-store';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { readBlob, streamBlob } from '@/server/platform/blobs/read-blob';
import { extracts } from '@/server/features/extracts/tables';
import { uploads } from '@/server/features/intake/tables';
import { fairCopies } from '@/server/features/copies/tables';
import { media } from '@/server/features/media/tables';
import { blobChunks, blobs } from '@/server/platform/blobs/tables';
import { rangeOf } from '@/core/bits/asked-range';
import { protectedDownload } from '@/server/platform/http/protect';
import { extractBytes, startExtract } from '@/server/features/extracts/extracts';
import { contentsOf } from '@/server/features/copies/queries';
import { copyPart } from '@/server/features/copies/downloads';
import { imageBytes } from '@/server/features/copies/image-bytes';
import { packingOf } from '@/server/features/copies/image-of-copy';
import { addPaper } from '@/server/features/media/papers';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { takeIn } from '@/server/features/intake/intake';
import { appendPart } from '@/server/features/intake/append-part';
import {
  createUpload,
  giveUpUpload,
  parseMetadata,
  uploadOffset,
  uploadState,
} from '@/server/features/intake/uploads';
import { deviceScenario } from '../../demo/devices';
import { loadExpectation, loadVector, sha256Hex } from '../support/vectors';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';
import { unzip } from '../support/unzip';

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;
const devices = deviceScenario();

const stream = (parts: Uint8Array[], breaks = false) =>
  new ReadableStream<Uint8Array>({
    start(controller) {
      for (const part of parts) controller.enqueue(part);
    },
    pull(controller) {
      if (breaks) controller.error(new Error('the cable was pulled'));
      else controller.close();
    },
  });
const ended = (id: string) =>
  until('the upload to be taken in', async () => {
    const row = await uploadState(db(), id);
    return (row.state === 'done' || row.state === 'refused') && row;
  });
const whole = async (name: string, bytes: Uint8Array, about: object = {}) => {
  const id = await createUpload(db(), who, bytes.length, { filename: name, ...about });
  await appendPart(db(), id, 0, stream([bytes]));
  return ended(id);
};
const copyOf = async (code: string) => {
  const rows = await db()
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(media.code, code))
    .orderBy(fairCopies.id);
  return rows.at(-1)!;
};

/** The data disc, taken in and kept. */
const keptDisc = async () => {
  const { code } = await whole('charts.iso', devices[2]!.image);
  return (await copyOf(code!)).fair_copies;
};

test('a sparse blob is written anywhere, and what was never written is zeros', async () => {
  const size = 3 * 262_144 + 1000;
  const id = await db().transaction(async (tx) => {
    const fresh = await createSparseBlob(tx, size);
    await writeBlob(tx, fresh, 262_144 + 500, new Uint8Array(400_000).fill(7));
    await writeBlob(tx, fresh, 262_144 + 600, new Uint8Array(10).fill(9));
    await writeBlob(tx, fresh, size - 3, Uint8Array.of(1, 2, 3));
    await expect(writeBlob(tx, fresh, size - 3, new Uint8Array(4))).rejects.toThrow(RangeError);
    return fresh;
  });
  const wanted = new Uint8Array(size);
  wanted.fill(7, 262_644, 662_644);
  wanted.fill(9, 262_744, 262_754);
  wanted.set([1, 2, 3], size - 3);
  expect(Buffer.compare(await collect(streamBlob(db(), id)), wanted)).toBe(0);
  expect(
    Buffer.compare(
      await collect(streamBlob(db(), id, 262_000, 700_001)),
      wanted.subarray(262_000, 700_001),
    ),
  ).toBe(0);
  expect((await db().transaction((tx) => sealBlob(tx, id))).sha256).toBe(sha256Hex(wanted));
  // The first quarter was never written: no row holds it.
  expect(
    (
      await db()
        .select({ seq: blobChunks.seq })
        .from(blobChunks)
        .where(eq(blobChunks.blobId, id))
        .orderBy(blobChunks.seq)
    ).map(({ seq }) => seq),
  ).toEqual([1, 2, 3]);
  await expect(db().transaction((tx) => writeBlob(tx, id, 0, new Uint8Array(1)))).rejects.toThrow(
    "can't be written into",
  );
});

test('a missing chunk of a blob that has no holes is damage', async () => {
  const id = await db().transaction(async (tx) => {
    const [row] = await tx.insert(blobs).values({ state: 'growing' }).returning();
    await appendBlob(tx, row!.id, new Uint8Array(900_000).fill(3));
    await tx
      .delete(blobChunks)
      .where(sql`${blobChunks.blobId} = ${row!.id} and ${blobChunks.seq} = 1`);
    return row!.id;
  });
  await expect(collect(streamBlob(db(), id))).rejects.toMatchObject({
    code: 'platform.storedBytesAreDamaged',
    offset: 262_144,
  });
});

test('a chunk that is gone from a sealed blob with holes is no hole', async () => {
  const id = await db().transaction(async (tx) => {
    const made = await createSparseBlob(tx, 2_000_000);
    await writeBlob(tx, made, 300_000, new Uint8Array(600_000).fill(7));
    await sealBlob(tx, made);
    return made;
  });
  const before = await collect(streamBlob(db(), id));
  expect([before[0], before[300_000], before[1_999_999]]).toEqual([0, 7, 0]);
  await db()
    .delete(blobChunks)
    .where(sql`${blobChunks.blobId} = ${id} and ${blobChunks.seq} = 2`);
  await expect(collect(streamBlob(db(), id))).rejects.toMatchObject({
    code: 'platform.storedBytesAreDamaged',
  });
});

test('what was changed behind a growing blob is not sealed into its next digest', async () => {
  const id = await db().transaction(async (tx) => {
    const made = await createBlob(tx);
    await appendBlob(tx, made, new Uint8Array(1000).fill(1));
    return made;
  });
  await db()
    .update(blobChunks)
    .set({ bytes: sql`set_byte(${blobChunks.bytes}, 3, 9)` })
    .where(eq(blobChunks.blobId, id));
  await expect(
    db().transaction((tx) => appendBlob(tx, id, new Uint8Array(10))),
  ).rejects.toMatchObject({ code: 'platform.storedBytesAreDamaged' });
});

test('an upload goes on where it broke off, and is taken in by a worker', async () => {
  const { image } = devices[0]!;
  const bytes = image.subarray(0, 9_000_960);
  const id = await createUpload(db(), who, bytes.length, { filename: 'log house.img' });
  await expect(
    appendPart(
      db(),
      id,
      0,
      stream([bytes.subarray(0, 5_000_000), bytes.subarray(5_000_000, 5_300_000)], true),
    ),
  ).rejects.toThrow();
  const { offset } = await uploadOffset(db(), id);
  expect(offset).toBe(5_300_000);
  await expect(appendPart(db(), id, 100, stream([bytes.subarray(100, 200)]))).rejects.toThrow(
    '5300000 bytes are here',
  );
  await expect(appendPart(db(), id, offset, stream([new Uint8Array(5_000_000)]))).rejects.toThrow(
    'More bytes came',
  );
  // The part of it that fitted before the surplus was noticed is not kept either: the parts are put
  // away whole.
  const { offset: now } = await uploadOffset(db(), id);
  expect(now).toBe(offset);
  expect(await appendPart(db(), id, now, stream([bytes.subarray(now)]))).toBe(bytes.length);
  const { code } = await ended(id);
  const { fair_copies: copy, media: medium } = await copyOf(code!);
  expect([copy.imageSha256, medium.form, medium.title]).toEqual([
    sha256Hex(bytes),
    'hard-disk',
    'log house.img',
  ]);
  expect((await contentsOf(db(), copy.id))[0]).toMatchObject({
    filesystem: 'fat16',
    partition: 1,
    label: 'LOGHOUSE',
  });
  await expect(giveUpUpload(db(), id)).rejects.toThrow('come whole already');
});

test('kill -9 of the worker while it takes one in: it is taken in once', async () => {
  const { image } = devices[0]!;
  const bytes = image.slice(0, 12_000_000);
  bytes[11_999_999] = 1;
  const id = await createUpload(db(), who, bytes.length, { filename: 'killed.img' });
  await appendPart(db(), id, 0, stream([bytes]));
  await until('it to begin', async () => (await uploadState(db(), id)).state !== 'waiting');
  await suite.worker.kill();
  await suite.worker.restart();
  expect(await ended(id)).toMatchObject({ state: 'done' });
  expect(
    await db()
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.imageSha256, sha256Hex(bytes))),
  ).toHaveLength(1);
});

test('a connection that breaks after the last byte, and two requests that go on from the same place at once', async () => {
  const bytes = devices[0]!.image.slice(0, 6_000_128);
  bytes[6_000_127] = 2;
  const id = await createUpload(db(), who, bytes.length, { filename: 'broken at the end.img' });
  await appendPart(db(), id, 0, stream([bytes], true)).catch(() => undefined);
  expect((await ended(id)).state).toBe('done');
  expect(
    await db()
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.imageSha256, sha256Hex(bytes))),
  ).toHaveLength(1);

  bytes[6_000_127] = 3;
  const twice = await createUpload(db(), who, bytes.length, { filename: 'twice.img' });
  await appendPart(db(), twice, 0, stream([bytes.subarray(0, 3_000_000)]));
  const both = await Promise.allSettled([
    appendPart(db(), twice, 3_000_000, stream([bytes.subarray(3_000_000)])),
    appendPart(db(), twice, 3_000_000, stream([bytes.subarray(3_000_000)])),
  ]);
  expect(both.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  expect((await ended(twice)).state).toBe('done');
  expect(
    await db()
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.imageSha256, sha256Hex(bytes))),
  ).toHaveLength(1);
});

test('the database cut off while one is taken in: it is taken up again, not refused', async () => {
  const bytes = devices[0]!.image.slice(0, 12_000_256);
  bytes[12_000_255] = 4;
  const id = await createUpload(db(), who, bytes.length, { filename: 'cut off.img' });
  await appendPart(db(), id, 0, stream([bytes]));
  await until('it to begin', async () => (await uploadState(db(), id)).state !== 'waiting');
  await db().execute(
    sql`select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() and xact_start is not null`,
  );
  expect((await ended(id)).state).toBe('done');
  expect(
    await db()
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.imageSha256, sha256Hex(bytes))),
  ).toHaveLength(1);
});

test('what is no image is refused with a sentence, and nothing of it is kept', async () => {
  const row = await whole('letter.txt', new TextEncoder().encode('Sir, this is a letter.'));
  expect(row).toMatchObject({ state: 'refused', code: null });
  expect(row.now).toContain('neither a flux capture nor a whole number of sectors');
  const [{ blobId } = { blobId: 'x' }] = await db()
    .select({ blobId: uploads.blobId })
    .from(uploads)
    .where(eq(uploads.id, row.id));
  expect(blobId).toBeNull();
  await expect(createUpload(db(), who, 0, { filename: 'nothing' })).rejects.toThrow('is empty');
  await expect(createUpload(db(), who, Number.NaN, {})).rejects.toThrow('how long');
  await expect(createUpload(db(), who, 2 ** 50, {})).rejects.toThrow('larger than anything');
  const given = await createUpload(db(), who, 100, { filename: 'given up' });
  await giveUpUpload(db(), given);
  await expect(uploadOffset(db(), given)).rejects.toThrow('no such upload');
  expect(parseMetadata('filename bG9nLmltZw==,empty,code U0tQLTE=')).toEqual({
    filename: 'log.img',
    empty: '',
    code: 'SKP-1',
  });
});

test('a raw disc with its sheet: tracks, mended sectors, and files of its data', async () => {
  const expected = loadExpectation<{
    good: number;
    repairable: number[];
    unrepairable: number[];
    tracks: object[];
    volume?: { label: string };
  }>('optical/disc-mixed');
  const row = await whole('disc-mixed.bin', loadVector('optical/disc-mixed.bin'), {
    cue: new TextDecoder().decode(loadVector('optical/disc-mixed.cue')),
  });
  expect(row.now).toMatch(/^Taken in as /);
  const { fair_copies: copy, media: medium } = await copyOf(row.code!);
  expect(medium.form).toBe('optical-disc');
  expect(copy.blocks!.tracks).toHaveLength(expected.tracks.length);
  expect(copy.tally).toMatchObject({
    mended: expected.repairable.length,
    doubtful: expected.unrepairable.length,
  });
  expect(sha256Hex(await readBlob(db(), copy.captureBlob!))).toBe(
    sha256Hex(loadVector('optical/disc-mixed.bin')),
  );
  // In the image of its data each lost sector stands at its own place.
  const { doubts } = await imageBytes(db(), copy.id, { from: 0, length: copy.imageBytes });
  expect(doubts.map(({ offset, length }) => [offset / 2048, length])).toEqual(
    expected.unrepairable.map((lba) => [lba, 2048]),
  );
  const scrambled = await takeIn(
    db(),
    who,
    { name: 'disc-scrambled.bin' },
    loadVector('optical/disc-scrambled.bin'),
  );
  expect(scrambled.kind).toBe('disc');
  const volume = (await contentsOf(db(), (await copyOf(scrambled.code)).fair_copies.id))[0]!;
  expect(volume.entries.filter(({ kind }) => kind === 'file').length).toBeGreaterThan(5);
  const refused = await whole('x.bin', loadVector('optical/disc-mixed.bin'), {
    cue: 'not a sheet',
  });
  expect(refused.now).toContain('no cue sheet');
});

test.each([false, true])(
  'a mixed disc is taken out with its raw image, sheet and sound, and with the papers beside it; packed: %s',
  async (packed) => {
    const raw = loadVector('optical/disc-mixed.bin');
    const row = await whole('disc-mixed.bin', raw, {
      cue: new TextDecoder().decode(loadVector('optical/disc-mixed.cue')),
    });
    const code = row.code!;
    const { fair_copies: copy } = await copyOf(code);
    await addPaper(db(), who, { code }, 'sleeve.txt', Buffer.from('Kept in a tin.'));
    const { id } = await startExtract(db(), who, { copies: [copy.id], what: 'images', packed });
    await until(
      'the extract',
      async () =>
        (await db().select().from(extracts).where(eq(extracts.id, id)))[0]!.state === 'done',
    );
    const members = unzip(new Uint8Array(await (await extractBytes(db(), id)).arrayBuffer()));
    const named = (name: string) => (packed ? `${name}.gz` : name);
    const image = (name: string) => {
      const bytes = members.get(named(name))!;
      return sha256Hex(packed ? gunzipSync(bytes) : bytes);
    };
    const sound = copy.blocks!.tracks.filter(({ type }) => type === 'AUDIO');
    const wav = ({ number }: { number: number }) => `${code}-track-0${number}.wav`;
    expect([...members.keys()]).toEqual([
      named(`${code}.iso`),
      ...(copy.sidecarBlob ? [`${code}.sidecar.json`] : []),
      named(`${code}.bin`),
      `${code}.cue`,
      ...sound.map(wav),
      `papers/${code}/sleeve.txt`,
      'manifest.json',
    ]);
    expect(sound.length).toBeGreaterThan(0);
    for (const track of sound) {
      const from = track.fileSector * RAW_BYTES;
      const bytes = members.get(wav(track))!;
      expect(Buffer.compare(bytes.subarray(44), raw.subarray(from, from + bytes.length - 44))).toBe(
        0,
      );
      expect(bytes.length).toBe(44 + track.sectors * RAW_BYTES);
    }
    expect([image(`${code}.bin`), image(`${code}.iso`)]).toEqual([
      sha256Hex(raw),
      copy.imageSha256,
    ]);
    expect(new TextDecoder().decode(members.get(`${code}.cue`)!)).toContain(`FILE "${code}.bin"`);
    const [manifest] = JSON.parse(new TextDecoder().decode(members.get('manifest.json')!));
    expect(manifest.papers).toEqual([
      expect.objectContaining({ writtenAs: `papers/${code}/sleeve.txt`, of: 'medium', bytes: 14 }),
    ]);
  },
);

test('a packed image is known by what is in it', async () => {
  const { image } = devices[2]!;
  const packed = await collect(packSource(memorySource(image), nodeDeflater, nodeDigester));
  expect(packed.length).toBeLessThan(image.length);
  const { code } = await whole('charts.iso.gz', packed);
  const { fair_copies: copy } = await copyOf(code!);
  expect(copy.imageSha256).toBe(sha256Hex(image));
  const hurt = packed.slice();
  hurt[1000]! ^= 0xff;
  expect(await whole('hurt.iso.gz', hurt)).toMatchObject({ state: 'refused', code: null });
});

test('packing is tried, done in the background, and what comes out is the image for any gunzip', async () => {
  const copy = await keptDisc();
  const trial = await packingOf(db(), [copy.id]);
  expect(trial).toMatchObject({ copies: 1, bytes: devices[2]!.image.length });
  const { id } = await startExtract(db(), who, {
    copies: [copy.id],
    what: 'images',
    packed: true,
  });
  await until(
    'the extract',
    async () =>
      (await db().select().from(extracts).where(eq(extracts.id, id)))[0]!.state === 'done',
  );
  const response = await extractBytes(db(), id);
  // One image needs no ZIP around it.
  expect(response.headers.get('content-disposition')).toMatch(/filename="SKP-\d+\.iso\.gz"/);
  const packed = new Uint8Array(await response.arrayBuffer());
  expect(sha256Hex(gunzipSync(packed))).toBe(copy.imageSha256);
  const [other] = await db().select().from(fairCopies).where(ne(fairCopies.id, copy.id)).limit(1);
  const both = await startExtract(db(), who, {
    copies: [copy.id, other!.id],
    what: 'images',
    packed: true,
  });
  await until(
    'both',
    async () =>
      (await db().select().from(extracts).where(eq(extracts.id, both.id)))[0]!.state === 'done',
  );
  const members = unzip(new Uint8Array(await (await extractBytes(db(), both.id)).arrayBuffer()));
  expect([...members.keys()].filter((each) => each.endsWith('.gz'))).toHaveLength(2);
  expect(
    sha256Hex(
      gunzipSync(members.get([...members.keys()].find((each) => each.endsWith('.iso.gz'))!)!),
    ),
  ).toBe(copy.imageSha256);
  // The samples tell its size within a tenth.
  expect(Math.abs(packed.length - trial.packedBytes) / packed.length).toBeLessThan(0.1);
  const source = memorySource(packed);
  expect(
    sha256Hex(
      await packedSource(source, (await readIndex(source))!, nodeInflater).read(0, copy.imageBytes),
    ),
  ).toBe(copy.imageSha256);
});

/**
 * Opens what comes in, outside of the test's own world, where the passphrase would take minutes to
 * try; gives its digest.
 */
const OPENS = `import { createHash } from 'node:crypto'; import { Decrypter } from 'age-encryption';
const parts = []; for await (const part of process.stdin) parts.push(part);
const opens = new Decrypter(); opens.addPassphrase(process.argv[1]);
process.stdout.write(createHash('sha256').update(await opens.decrypt(new Uint8Array(Buffer.concat(parts)))).digest('hex'));`;

test('under a passphrase it opens with it, and with no other', async () => {
  const copy = await keptDisc();
  const form = new FormData();
  form.set('passphrase', 'fog over the mole');
  const secret = await protectedDownload(await copyPart(db(), copy.id, 'image'), form);
  expect(secret.headers.get('content-disposition')).toMatch(
    /^attachment; filename="SKP-\d+\.iso\.age"/,
  );
  const bytes = new Uint8Array(await secret.arrayBuffer());
  expect(new TextDecoder().decode(bytes.subarray(0, 21))).toBe('age-encryption.org/v1');
  const open = (passphrase: string) =>
    spawnSync(process.execPath, ['--input-type=module', '-e', OPENS, passphrase], {
      input: bytes,
      encoding: 'utf8',
    });
  expect(open('fog over the mole')).toMatchObject({ status: 0, stdout: copy.imageSha256 });
  expect(open('fog over the moor').status).not.toBe(0);
  form.set('passphrase', 'short');
  await expect(protectedDownload(new Response('x'), form)).rejects.toThrow('too short');
});

test.each([
  ['bytes=0-99', { start: 0, end: 100 }],
  ['bytes=900-', { start: 900, end: 1000 }],
  ['bytes=-5', { start: 995, end: 1000 }],
  ['bytes=990-2000', { start: 990, end: 1000 }],
  ['bytes=1000-', 'unsatisfiable'],
  ['bytes=-0', 'unsatisfiable'],
  ['bytes=5-2', null],
  ['bytes=0-1,5-6', null],
  ['lines=1-2', null],
  ['', null],
])('the range %s of 1,000 bytes', (header, wanted) => {
  expect(rangeOf(header, 1000)).toEqual(wanted);
});

test('a digest is that of the content, however it is stored', async () => {
  const copy = await keptDisc();
  expect((await blobOf(db(), copy.imageBlob)).sha256).toBe(copy.imageSha256);
});
