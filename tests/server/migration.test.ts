/** A database of the version before comes up migrated, with everything in it readable. */
import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { and, eq, gt, isNotNull, sql } from 'drizzle-orm';
import pg from 'pg';
import { codeAt } from '@/core/medium-code';
import { Certificate } from '@/core/assembly/certificate';
import { fairCopies, files, volumes } from '@/server/features/copies/tables';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { lenders, machines, media } from '@/server/features/media/tables';
import { nextCode } from '@/server/features/media/codes';
import { sittings } from '@/server/features/sittings/tables';
import { certificateDownload } from '@/server/features/writebacks/certificates';
import { listLedger } from '@/server/features/ledger/entries';
import { listWritebacks } from '@/server/features/writebacks/queries';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { connectDatabase, type Connection } from '@/server/platform/db/database';
import { jobs } from '@/server/platform/jobs/tables';
import { sha256Hex } from '../support/vectors';

const ROOT = join(__dirname, '..', '..');
const base = process.env.SPINDLE_TEST_DATABASE!;
const addressOf = (database: string) => base.replace(/\/[^/]*$/, `/${database}`);

/** The client program of PostgreSQL that Debian's packages brought. */
function psqlPath(): string {
  const folder = '/usr/lib/postgresql';
  const [newest] = readdirSync(folder).sort((a, b) => Number(b) - Number(a));
  return join(folder, newest!, 'bin', 'psql');
}

async function withServer<T>(work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: base });
  await client.connect();
  return work(client).finally(() => client.end());
}

const migrate = (database: string, more: Record<string, string> = {}) =>
  execFileSync(process.execPath, ['build/migrate.js'], {
    cwd: ROOT,
    env: { ...process.env, DATABASE_URL: addressOf(database), ...more },
  });

/** What the catalogue says of tables, columns, constraints and indexes. */
async function shapeOf(database: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: addressOf(database) });
  await client.connect();
  const { rows } = await client.query<{ line: string }>(`
    select table_name || '.' || column_name || ' ' || data_type || ' ' || is_nullable || ' '
      || coalesce(column_default, '') as line
      from information_schema.columns where table_schema = 'public'
    union all select conrelid::regclass || ' ' || conname || ' ' || pg_get_constraintdef(oid)
      from pg_constraint where connamespace = 'public'::regnamespace
    union all select indexdef from pg_indexes where schemaname = 'public' order by 1`);
  await client.end();
  return rows.map(({ line }) => line);
}

const names = { landed: '', fresh: '' };
let connection: Connection;

beforeAll(async () => {
  for (const name of ['landed', 'fresh'] as const)
    names[name] = `test_${name}_${randomBytes(6).toString('hex')}`;
  await withServer(async (client) => {
    for (const name of Object.values(names)) await client.query(`create database ${name}`);
  });
  const dump = gunzipSync(readFileSync(join(__dirname, '../vectors/database/landed.sql.gz')));
  execFileSync(psqlPath(), ['-q', '-v', 'ON_ERROR_STOP=1', addressOf(names.landed)], {
    input: dump,
    stdio: ['pipe', 'ignore', 'inherit'],
  });
  for (const name of Object.values(names)) migrate(name);
  connection = connectDatabase(addressOf(names.landed), { max: 3 });
});

afterAll(async () => {
  await connection?.close();
  await withServer(async (client) => {
    for (const name of Object.values(names))
      await client.query(`drop database if exists ${name} with (force)`);
  });
});

test('a database that was there before has the same shape as a new one', async () => {
  expect(await shapeOf(names.landed)).toEqual(await shapeOf(names.fresh));
});

interface Journal {
  entries: { idx: number; when: number; tag: string }[];
}

const journal = () =>
  JSON.parse(readFileSync(join(ROOT, 'drizzle/meta/_journal.json'), 'utf8')) as Journal;

test('each migration is younger than the one before: by that it is known that it is to be applied', () => {
  const times = journal().entries.map(({ when }) => when);
  expect(times).toEqual([...new Set(times)].sort((a, b) => a - b));
  expect(times.at(-1)).toBeLessThanOrEqual(Date.now());
});

/** The migrations as they landed once: the first 29, five of which had times that lay ahead. */
function asTheyLanded(): string {
  const folder = mkdtempSync(join(tmpdir(), 'spindle-migrations-'));
  const ahead = new Map([
    [15, 1_795_942_024_792],
    [16, 1_796_028_424_792],
    [17, 1_796_114_824_792],
    [18, 1_796_201_224_792],
    [19, 1_796_201_324_792],
  ]);
  const { entries, ...rest } = journal();
  const landed = entries
    .slice(0, 29)
    .map((entry) => ({ ...entry, when: ahead.get(entry.idx) ?? entry.when }));
  mkdirSync(join(folder, 'meta'));
  writeFileSync(join(folder, 'meta/_journal.json'), JSON.stringify({ ...rest, entries: landed }));
  for (const { tag } of landed)
    copyFileSync(join(ROOT, `drizzle/${tag}.sql`), join(folder, `${tag}.sql`));
  return folder;
}

test('one that has migrations of times that lay ahead gets those that came since', async () => {
  const name = `test_ahead_${randomBytes(6).toString('hex')}`;
  const folder = asTheyLanded();
  try {
    await withServer((client) => client.query(`create database ${name}`));
    migrate(name, { SPINDLE_MIGRATIONS: folder });
    expect(await shapeOf(name)).not.toEqual(await shapeOf(names.fresh));
    migrate(name);
    expect(await shapeOf(name)).toEqual(await shapeOf(names.fresh));
  } finally {
    rmSync(folder, { recursive: true });
    await withServer((client) => client.query(`drop database if exists ${name} with (force)`));
  }
});

test('every row with JSON says of which shape it is', async () => {
  const { rows } = await connection.db.execute<{ name: string }>(sql`
    select distinct table_name as name from information_schema.columns
    where table_schema = 'public' and data_type = 'jsonb'
    except select table_name from information_schema.columns
    where table_schema = 'public' and column_name = 'json_shape'`);
  expect(rows).toEqual([]);
  const { rows: shapes } = await connection.db.execute(
    sql`select distinct json_shape from fair_copies union select distinct json_shape from files`,
  );
  expect(shapes).toEqual([{ json_shape: 1 }]);
});

test('every medium, sitting and copy is readable', async () => {
  const { db } = connection;
  const all = await db.select({ code: media.code }).from(media);
  expect(all.length).toBe(27);
  const details = new Map(
    await Promise.all(all.map(async ({ code }) => [code, await mediumDetail(db, code)] as const)),
  );
  expect(details.get('SKP-0117')!.sittings).toMatchObject([{ state: 'done' }]);
  expect(details.get('SKP-0104')!.copy).not.toBeNull();
  for (const { policy } of await db.select({ policy: sittings.policy }).from(sittings)) {
    expect(Object.keys(policy)).toContain('range');
    expect(Object.keys(policy)).not.toContain('reach');
  }
  for (const copy of await db.select().from(fairCopies)) {
    if (copy.blocks) continue;
    expect(sha256Hex(await readBlob(db, copy.imageBlob))).toBe(copy.imageSha256);
    if (copy.sidecarBlob)
      expect(
        JSON.parse(new TextDecoder().decode(await readBlob(db, copy.sidecarBlob))),
      ).toMatchObject({ format: 'frail-spindle-card', image: { sha256: copy.imageSha256 } });
  }
});

test('of a device that was read block by block, blocks in doubt are counted and no stretches of them', async () => {
  const { db } = connection;
  const rows = await db
    .select({ doubts: files.doubts, sectors: files.sectorsInDoubt, blocks: fairCopies.blocks })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
    .where(and(isNotNull(fairCopies.blocks), gt(files.sectorsInDoubt, 0)));
  expect(rows.length).toBeGreaterThan(0);
  for (const { doubts, sectors, blocks } of rows)
    expect(sectors).toBe(
      doubts.reduce((sum, { length }) => sum + Math.ceil(length / blocks!.blockBytes), 0),
    );
});

test('what was said before there were codes is told as it was written', async () => {
  const { db } = connection;
  const { rows } = await db.execute<{ kind: string }>(
    sql`select distinct jsonb_typeof(what) as kind from ledger`,
  );
  expect(rows).toEqual([{ kind: 'string' }]);
  const { entries: lines } = await listLedger(db);
  expect(lines.length).toBeGreaterThan(40);
  expect(lines.filter(({ what }) => !/[a-z]{3}/.test(what) || /object/.test(what))).toEqual([]);
  const { rows: problems } = await db.execute<{ problem: object }>(
    sql`select p as problem from volumes, jsonb_array_elements(problems) p
      union all select p from fair_copies, jsonb_array_elements(problems) p`,
  );
  expect(problems.length).toBeGreaterThan(0);
  for (const { problem } of problems)
    expect(problem).toMatchObject({ kind: expect.any(String), said: expect.any(String) });
});

test('write-backs keep what was proved of them, and their certificates are sealed once', async () => {
  const { db } = connection;
  const rows = await listWritebacks(db);
  expect(rows.map(({ id, state, outcome }) => [id, state, outcome])).toEqual([
    [2, 'unproved', null],
    [1, 'proved', 'works'],
  ]);
  const read = async (edition: 'first' | 'latest') =>
    (await certificateDownload(db, 1, 'json', edition)).text();
  const [first, latest] = [await read('first'), await read('latest')];
  expect(Certificate.parse(JSON.parse(first))).toMatchObject({ outcome: 'proved', trial: null });
  expect(Certificate.parse(JSON.parse(latest)).trial).toMatchObject({ outcome: 'works' });
  await db.update(media).set({ title: 'another title' });
  expect([await read('first'), await read('latest')]).toEqual([first, latest]);
});

test('jobs carry what they were asked with, and codes go on where they were', async () => {
  const { db } = connection;
  const rows = await db.select().from(jobs);
  expect(rows.map(({ kind, payload, state }) => [kind, payload, state])).toEqual(
    expect.arrayContaining([
      ['sitting', { sittingId: 1 }, 'done'],
      ['writeback', { writebackId: 2 }, 'done'],
      ['scan', { operatorId: 1 }, 'done'],
    ]),
  );
  const { numbering, number } = await nextCode(db);
  expect(codeAt(numbering, number)).toBe('SKP-0130');
});

test('whoever lent something then has a record, and so has each machine', async () => {
  const { db } = connection;
  const lent = await db.selectDistinct({ name: media.lender }).from(media);
  const lenderNames = (await db.select().from(lenders)).map(({ name }) => name);
  expect(lenderNames).toEqual(
    expect.arrayContaining(lent.map(({ name }) => name).filter((name) => name !== '')),
  );
  expect(lenderNames.length).toBeGreaterThan(0);
  const [device] = await db.select().from(media).where(isNotNull(media.origin)).limit(1);
  expect(device?.origin).not.toHaveProperty('machine');
  expect(device?.machine).not.toBe('');
  const machineNames = (await db.select().from(machines)).map(({ name }) => name);
  expect(machineNames).toContain(device?.machine);
});
