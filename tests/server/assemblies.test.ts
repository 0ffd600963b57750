/**
 * Assemblies on the real database: files from the holdings and the desktop, undone and done again,
 * gathered, settled with their lineage.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { and, eq } from 'drizzle-orm';
import { tell } from '@/messages/tell';
import { fairCopies, files, trackDigests, volumes } from '@/server/features/copies/tables';
import { media } from '@/server/features/media/tables';
import {
  cardDownload,
  compareBack,
  listCards,
  makeCard,
} from '@/server/features/memory-cards/memory-cards';
import { actOnAssembly, addUpload, startAssembly } from '@/server/features/assemblies/assemblies';
import { type Outcome } from '@/server/features/assemblies/gather-files';
import { assemblies } from '@/server/features/assemblies/tables';
import { settleAssembly } from '@/server/features/assemblies/settle-assembly';
import { until } from '../support/application';
import { assemblyView, listAssemblies } from '@/server/features/assemblies/queries';
import { blankImages, BlankQuestion } from '@/server/features/assemblies/blanks';
import { blobSource, readBlob } from '@/server/platform/blobs/read-blob';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { contentsOf, latestFairCopy } from '@/server/features/copies/queries';
import { takeIn } from '@/server/features/intake/intake';
import { addRules, keepFindings, scanSource } from '@/server/features/signatures/signatures';
import { SignatureRules } from '@/core/scan/rules';
import { serverSuite } from '../support/server-suite';
import { sectorsInDoubt } from '@/server/features/writebacks/writeback-check';
import { settledAssembly } from '../support/settled-assembly';
import { unzip } from '../support/unzip';
import { loadVector, sha256Hex } from '../support/vectors';

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;
const act = (id: number, action: Parameters<typeof actOnAssembly>[3]) =>
  actOnAssembly(db(), who, id, action);
const fileNamed = async (code: string, path: string) => {
  const all = await db()
    .select({ id: files.id, path: files.path, sha256: files.sha256, code: media.code })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(files.path, path));
  return all.find((each) => each.code === code)!;
};
const copyId = async (code: string) => {
  const [medium] = await db().select().from(media).where(eq(media.code, code));
  return (await latestFairCopy(db(), medium!.id))!.id;
};

test('a new volume: files of another disk and of the desktop, a folder, names made to fit, undone and done again', async () => {
  const { id } = await startAssembly(db(), who, {
    title: 'For the reading room',
    kind: 'fat12-720',
    label: 'READING',
  });
  const letter = await fileNamed('SKP-0104', 'LETTER.TXT');
  await act(id, { do: 'edit', edit: { kind: 'folder', path: 'LETTERS' } });
  const put = (await act(id, {
    do: 'add',
    files: [letter.id, letter.id],
    folder: 'LETTERS',
  })) as Outcome;
  expect(put).toEqual({
    put: [
      { path: 'LETTERS/LETTER.TXT', was: 'LETTER.TXT', renamed: null, doubt: null },
      {
        path: 'LETTERS/LETTER2.TXT',
        was: 'LETTER.TXT',
        renamed: 'There is a LETTER.TXT already.',
        doubt: null,
      },
    ],
    left: [],
  });
  const own = await addUpload(
    db(),
    id,
    'Übersicht 1988.text',
    '',
    new TextEncoder().encode('made today'),
  );
  expect(own.put[0]).toMatchObject({
    path: 'UBERSICH.TEX',
    was: 'Übersicht 1988.text',
    renamed: expect.stringContaining('Übersicht'),
  });
  const view = await assemblyView(db(), id);
  expect(view).toMatchObject({
    filesystem: 'fat12',
    label: 'READING',
    layout: 'mfm-35-9x512',
    hasFolders: true,
    undone: [],
    gone: [],
    problems: [],
    target: { id: 'fat-double-density', findings: [{ weight: 'beware' }] },
  });
  expect(view.entries.map(({ path, change, cost }) => [path, change, cost])).toEqual([
    ['LETTERS', 'new', null],
    ['LETTERS/LETTER.TXT', 'new', expect.any(Number)],
    ['LETTERS/LETTER2.TXT', 'new', expect.any(Number)],
    ['UBERSICH.TEX', 'new', 1024],
  ]);
  expect(view.entries[1]!.digest).toBe(letter.sha256);
  for (let i = 0; i < 3; i++) await act(id, { do: 'undo' });
  expect((await assemblyView(db(), id)).entries.map(({ path }) => path)).toEqual(['LETTERS']);
  await act(id, { do: 'redo' });
  expect((await assemblyView(db(), id)).undone).toEqual([
    'LETTERS/LETTER2.TXT put in, from SKP-0104, LETTER.TXT',
    'UBERSICH.TEX put in, from the desktop',
  ]);
  // Something else done now leaves what was undone behind.
  await act(id, {
    do: 'edit',
    edit: { kind: 'attributes', path: 'LETTERS/LETTER.TXT', locked: true },
  });
  expect(await assemblyView(db(), id)).toMatchObject({
    undone: [],
    done: [
      'folder LETTERS made',
      'LETTERS/LETTER.TXT put in, from SKP-0104, LETTER.TXT',
      'LETTERS/LETTER.TXT locked',
    ],
  });
  await expect(act(id, { do: 'redo' })).rejects.toThrow('nothing to do again');
  await expect(
    act(id, { do: 'edit', edit: { kind: 'remove', path: 'NOT.THERE' } }),
  ).rejects.toThrow('Nothing was changed');
  await expect(act(id, { do: 'add', files: [letter.id], folder: 'NOWHERE' })).rejects.toThrow(
    'There is no folder NOWHERE',
  );
});

test('settled, it is an image of its own that a checker accepts, and what it came from stays as it was', async () => {
  const base = await copyId('SKP-0104');
  const [before] = await db().select().from(fairCopies).where(eq(fairCopies.id, base));
  const { id } = await startAssembly(db(), who, { title: 'Letters, put right', baseId: base });
  await act(id, { do: 'edit', edit: { kind: 'rename', path: 'LETTER.TXT', name: 'DUES.TXT' } });
  await act(id, { do: 'edit', edit: { kind: 'folder', path: 'NEW' } });
  await addUpload(
    db(),
    id,
    'NOTE.TXT',
    'NEW',
    new TextEncoder().encode('Put right in the reading room.'),
  );
  const view = await assemblyView(db(), id);
  expect(
    view.entries.filter(({ change }) => change).map(({ path, change, was }) => [path, change, was]),
  ).toEqual(
    expect.arrayContaining([
      ['DUES.TXT', 'other-name', 'LETTER.TXT'],
      ['NEW', 'new', null],
      ['NEW/NOTE.TXT', 'new', null],
    ]),
  );
  const code = await settledAssembly(db(), who, id);
  const docket = await mediumDetail(db(), code);
  expect(docket.lineage).toEqual({
    id,
    base: 'SKP-0104',
    kind: null,
    changes: [
      'LETTER.TXT renamed to DUES.TXT',
      'folder NEW made',
      'NEW/NOTE.TXT put in, from the desktop',
    ],
  });
  expect((await mediumDetail(db(), 'SKP-0104')).madeFrom).toMatchObject([
    { code, title: 'Letters, put right' },
  ]);
  const [after] = await db().select().from(fairCopies).where(eq(fairCopies.id, base));
  expect(after).toEqual(before);
  const copy = (await latestFairCopy(db(), docket.medium.id))!;
  expect([copy.layout, copy.source]).toEqual([before!.layout, 'assembly']);
  const image = await readBlob(db(), copy.imageBlob);
  const folder = mkdtempSync(join(tmpdir(), 'spindle-assembly-'));
  try {
    writeFileSync(join(folder, 'x.img'), image);
    expect(spawnSync('fsck.fat', ['-n', join(folder, 'x.img')]).status).toBe(0);
  } finally {
    rmSync(folder, { recursive: true });
  }
  const wanted = new Map(
    (await contentsOf(db(), base))[0]!.entries.map(({ path, sha256 }) => [path, sha256]),
  );
  for (const { path, sha256 } of (await contentsOf(db(), copy.id))[0]!.entries.filter(
    ({ kind, deleted }) => kind === 'file' && !deleted,
  )) {
    if (path !== 'NEW/NOTE.TXT')
      expect([path, sha256]).toEqual([path, wanted.get(path === 'DUES.TXT' ? 'LETTER.TXT' : path)]);
  }
  // What was in doubt there and was not written over is in doubt here.
  const doubts = async (of: number) => {
    const [row] = await db().select().from(fairCopies).where(eq(fairCopies.id, of));
    return sectorsInDoubt(db(), row!);
  };
  expect(await doubts(base)).toBeGreaterThan(0);
  expect(await doubts(copy.id)).toBe(await doubts(base));
  // And in what is made of that.
  const next = await startAssembly(db(), who, { title: 'Once more', baseId: copy.id });
  await act(next.id, { do: 'edit', edit: { kind: 'folder', path: 'LATER' } });
  const made = await copyId(await settledAssembly(db(), who, next.id));
  expect(await doubts(made)).toBe(await doubts(base));
  expect(
    await db()
      .select({ digest: trackDigests.digest })
      .from(trackDigests)
      .where(
        and(
          eq(trackDigests.fairCopyId, copy.id),
          eq(trackDigests.cylinder, 61),
          eq(trackDigests.head, 1),
        ),
      ),
  ).toEqual([]);
  await expect(act(id, { do: 'undo' })).rejects.toThrow('is settled');
  expect((await listAssemblies(db())).find((each) => each.id === id)).toMatchObject({
    settledAs: code,
    base: 'SKP-0104',
  });
});

test('a program keeps its kind and its address on another system', async () => {
  const { code } = await takeIn(
    db(),
    who,
    { name: 'catalogue16-plain.do' },
    loadVector('volumes/catalogue16-plain.do'),
  );
  const rows = await db()
    .select({
      id: files.id,
      path: files.path,
      type: files.type,
      address: files.address,
      bytes: files.bytes,
      sha256: files.sha256,
    })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(eq(volumes.fairCopyId, await copyId(code)));
  const program = rows.find(({ type, bytes }) => type === 'B' && bytes > 0)!;
  expect(program.address).not.toBeNull();
  const { id } = await startAssembly(db(), who, {
    title: 'Programs',
    kind: 'prodos-280',
    label: 'PROGRAMS',
  });
  const { put } = (await act(id, { do: 'add', files: [program.id], folder: '' })) as Outcome;
  const made = await settledAssembly(db(), who, id);
  const copy = (await contentsOf(db(), await copyId(made)))[0]!;
  expect(
    copy.entries.map(({ path, type, address, sha256 }) => [path, type, address, sha256]),
  ).toEqual([[put[0]!.path, '06', program.address, program.sha256]]);
});

const failedSettling = (id: number) =>
  until('the trouble to be told', async () => {
    const [now] = await db().select().from(assemblies).where(eq(assemblies.id, id));
    return now!.trouble && now!;
  });

test('what is being settled takes no more changes, and what could not be settled can be changed again', async () => {
  const { id } = await startAssembly(db(), who, { title: 'Settled badly', kind: 'fat12-720' });
  const [row] = await db()
    .update(assemblies)
    .set({ settledBy: who })
    .where(eq(assemblies.id, id))
    .returning();
  await expect(
    act(id, { do: 'edit', edit: { kind: 'folder', path: 'LATE' } }),
  ).rejects.toMatchObject({ status: 409, said: { code: 'assemblies.isBeingSettled' } });
  await expect(act(id, { do: 'discard' })).rejects.toMatchObject({ status: 409 });
  // A change that the volume refuses when all is made anew.
  const edits = [{ kind: 'remove' as const, path: 'GONE' }];
  await db()
    .update(assemblies)
    .set({ settledBy: null, edits, done: 1 })
    .where(eq(assemblies.id, row!.id));
  await act(id, { do: 'settle' });
  expect(await failedSettling(id)).toMatchObject({
    trouble: { code: 'assemblies.nothingWasChanged' },
    settledBy: null,
    copyId: null,
  });
  await act(id, { do: 'undo' });
  expect((await assemblyView(db(), id)).isSettling).toBe(false);
});

test('what breaks while it is settled is told in its own words, kept, and gone with the next change', async () => {
  const { id } = await startAssembly(db(), who, { title: 'Breaks', kind: 'fat12-720' });
  // Bytes that are nowhere: nothing refuses them, it breaks.
  const odd = [{ kind: 'put', path: 'A', source: 'blob:gone', bytes: 1, from: '', modified: null }];
  await db()
    .update(assemblies)
    .set({ edits: odd as never, done: 1 })
    .where(eq(assemblies.id, id));
  await act(id, { do: 'settle' });
  const failed = await failedSettling(id);
  expect([failed.settledBy, failed.copyId, failed.edits.length]).toEqual([null, null, 1]);
  expect(failed.trouble!.code).toBe('assemblies.itCouldNotBe');
  // In a few words, and without the statement that failed.
  expect(tell(failed.trouble!)).not.toMatch(/select|params/i);
  await act(id, { do: 'undo' });
  expect(await assemblyView(db(), id)).toMatchObject({ trouble: null, isSettling: false });
});

test('one that is thrown away just before its image is kept leaves none behind', async () => {
  const { id } = await startAssembly(db(), who, { title: 'Thrown away', kind: 'fat12-720' });
  const [row] = await db()
    .update(assemblies)
    .set({ settledBy: who })
    .where(eq(assemblies.id, id))
    .returning();
  const keep = settleAssembly(
    {
      db: db(),
      commit: async (work) => {
        await db().delete(assemblies).where(eq(assemblies.id, id));
        return db().transaction(work);
      },
    },
    row!,
    who,
  );
  await expect(keep).rejects.toMatchObject({ status: 404 });
  expect(await db().select().from(media).where(eq(media.title, 'Thrown away'))).toEqual([]);
});

test('several disks gathered on one: in folders where it has them, under prefixes where not, and what finds no room is told', async () => {
  const copies = [await copyId('SKP-0104'), await copyId('SKP-0098')];
  const { id } = await startAssembly(db(), who, { title: 'Gathered', kind: 'fat12-1440' });
  const gathered = (await act(id, { do: 'gather', copies, how: 'folders' })) as Outcome;
  expect(new Set(gathered.put.map(({ path }) => path.split('/')[0]))).toEqual(
    new Set(['SKP-0098', 'SKP-0104']),
  );
  expect((await assemblyView(db(), id)).problems).toEqual([]);
  const small = await startAssembly(db(), who, {
    title: 'Gathered small',
    kind: 'd64',
    label: 'SMALL',
  });
  const tight = (await act(small.id, { do: 'gather', copies, how: 'prefixes' })) as Outcome;
  expect(tight.put.every(({ path }) => path.startsWith('SKP'))).toBe(true);
  const counted = gathered.put.length + gathered.left.length;
  expect(tight.put.length + tight.left.length).toBe(counted);
  expect(tight.left.length).toBeGreaterThan(0);
  expect((await assemblyView(db(), small.id)).room.free).toBeGreaterThanOrEqual(0);
});

test("what can't be begun or put is said before anything is kept", async () => {
  await expect(startAssembly(db(), who, { title: 'x' })).rejects.toThrow('Choose a kind');
  await expect(
    startAssembly(db(), who, { title: 'x', kind: 'cpm-8', label: 'LABEL' }),
  ).rejects.toThrow('no label');
  await expect(
    startAssembly(db(), who, { title: 'x', kind: 'prodos-280', label: '1 bad' }),
  ).rejects.toThrow('begins with a letter');
  const { id } = await startAssembly(db(), who, { title: 'Quarantined', kind: 'fat12-360' });
  const hurt = await startAssembly(db(), who, { title: 'With a sign', kind: 'fat12-360' });
  const text = new TextEncoder().encode('Guillemot, as on no other disk.');
  await addUpload(db(), hurt.id, 'SIGN.TXT', '', text);
  const code = await settledAssembly(db(), who, hurt.id);
  const letter = await fileNamed(code, 'SIGN.TXT');
  await addRules(
    db(),
    who,
    SignatureRules.parse([
      {
        id: 'a.sign',
        name: 'A sign',
        where: 'anywhere',
        pattern: Buffer.from('Guillemot').toString('hex'),
      },
    ]),
  );
  const held = await copyId(code);
  const [copy] = await db().select().from(fairCopies).where(eq(fairCopies.id, held));
  const scan = await scanSource(db(), await blobSource(db(), copy!.imageBlob));
  await db().transaction((tx) =>
    keepFindings(tx, held, scan, { operatorId: who, mediumId: copy!.mediumId }),
  );
  const { put, left } = (await act(id, { do: 'add', files: [letter.id], folder: '' })) as Outcome;
  expect([put.length, left[0]!.why]).toEqual([0, expect.stringContaining('quarantine')]);
});

test('two people at once: every change is there', async () => {
  const { id } = await startAssembly(db(), who, { title: 'Two at once', kind: 'fat12-1440' });
  await Promise.all(
    Array.from({ length: 6 }, (_, i) =>
      addUpload(db(), id, `N${i}.TXT`, '', new Uint8Array(2000).fill(i)),
    ),
  );
  expect((await assemblyView(db(), id)).entries.map(({ path }) => path).sort()).toEqual(
    [0, 1, 2, 3, 4, 5].map((i) => `N${i}.TXT`),
  );
});

test('blank images: one, or fifty with numbered labels', async () => {
  const get = async (question: object) =>
    new Uint8Array(await (await blankImages(db(), BlankQuestion.parse(question))).arrayBuffer());
  expect((await get({ kind: 'd64', label: 'FOG' })).length).toBe(174_848);
  const fifty = unzip(await get({ kind: 'fat12-720', count: '50', label: 'LOG' }));
  expect([...fifty.keys()].slice(0, 2)).toEqual(['fat12-720-01.img', 'fat12-720-02.img']);
  expect([fifty.size, new Set([...fifty.values()].map((bytes) => sha256Hex(bytes))).size]).toEqual([
    50, 50,
  ]);
  await expect(get({ kind: 'fat12-720', count: '50', label: 'TOO LONG IT' })).rejects.toThrow(
    'at most 11',
  );
  const bare = await get({ kind: 'layout:mfm-8-8x1024' });
  expect([bare.length, new Set(bare)]).toEqual([77 * 2 * 8 * 1024, new Set([0xe5])]);
  await expect(get({ kind: 'nothing' })).rejects.toThrow('no such kind');
});

describe('cards for devices that stand in for a drive', () => {
  let d64: string;
  let prodos: string;
  beforeAll(async () => {
    d64 = (await takeIn(db(), who, { name: 'plain.d64' }, loadVector('volumes/d64-plain.d64')))
      .code;
    prodos = (
      await takeIn(db(), who, { name: 'plain.do' }, loadVector('volumes/catalogue16-plain.do'))
    ).code;
  });

  test('numbered images, a settings file from a template, a list; each image as it is, or as another kind', async () => {
    const copies = [await copyId(d64), await copyId('SKP-0098'), await copyId(prodos)];
    const { id } = await makeCard(db(), who, {
      title: 'Reading room',
      profile: 'short',
      copies,
      settingsName: 'SETUP.INI',
      template: '[{card.title}]\nslot{image.number}={image.path}',
    });
    const files = unzip(new Uint8Array(await (await cardDownload(db(), id)).arrayBuffer()));
    const [{ images }] = (await listCards(db())) as [Awaited<ReturnType<typeof listCards>>[number]];
    expect([...files.keys()]).toEqual([
      ...images.map(({ path }) => path),
      'SETUP.INI',
      'CONTENTS.TXT',
    ]);
    expect(images.map(({ path }) => path.replace(/[A-Z]*\./, '.'))).toEqual([
      '001.D64',
      '002.IMG',
      '003.DO',
    ]);
    expect(sha256Hex(files.get(images[0]!.path)!)).toBe(
      sha256Hex(loadVector('volumes/d64-plain.d64')),
    );
    for (const { path, sha256, bytes } of images)
      expect([sha256Hex(files.get(path)!), files.get(path)!.length]).toEqual([sha256, bytes]);
    expect(new TextDecoder().decode(files.get('SETUP.INI')!)).toBe(
      `[Reading room]\n${images.map(({ number, path }) => `slot${number}=${path}`).join('\n')}`,
    );
    const other = await makeCard(db(), who, {
      title: 'Other order',
      profile: 'long',
      copies: [copies[2]!],
      kind: 'po',
    });
    const [turned] = [
      ...unzip(new Uint8Array(await (await cardDownload(db(), other.id)).arrayBuffer())).values(),
    ];
    expect(sha256Hex(turned!)).not.toBe(sha256Hex(loadVector('volumes/catalogue16-plain.do')));
    // The other order is the same volume again.
    const { code } = await takeIn(db(), who, { name: 'back.po' }, turned!);
    const [a, b] = await Promise.all(
      [code, prodos].map(async (each) =>
        (await contentsOf(db(), await copyId(each)))[0]!.entries.map(({ path, sha256 }) => [
          path,
          sha256,
        ]),
      ),
    );
    expect(a).toEqual(b);
    // What comes back is held against what was put on it; the settings and the list do not count.
    const came = [...files]
      .map(([path, bytes]) => ({
        path: path.toLowerCase(),
        bytes: bytes.length,
        sha256: sha256Hex(bytes),
      }))
      .filter(({ path }) => !path.startsWith('002'));
    came[0]!.sha256 = '0'.repeat(64);
    expect(
      (await compareBack(db(), id, { files: came })).map(({ change, code: of }) => [change, of]),
    ).toEqual([
      ['changed', d64],
      ['missing', 'SKP-0098'],
      ['same', prodos],
    ]);
  });

  test("what a card can't be is said before it is made", async () => {
    await expect(
      makeCard(db(), who, {
        title: 'x',
        profile: 'short',
        copies: [await copyId('SKP-0098')],
        kind: 'd64',
      }),
    ).rejects.toThrow(/can't be written as \.d64; it can be \.img, \.dsk\. Nothing was made/);
    await expect(
      makeCard(db(), who, { title: 'x', profile: 'short', copies: [999_999] }),
    ).rejects.toThrow('There is no one of these images');
    await expect(
      makeCard(db(), who, {
        title: 'x',
        profile: 'short',
        copies: [1],
        template: '{image.colour}',
        settingsName: 'A.INI',
      }),
    ).rejects.toThrow('{image.colour}');
  });
});
