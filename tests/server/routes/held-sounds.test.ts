/** The sounds of everything kept: found by what they are called and are, and where they are held again. */
import { readFileSync } from 'node:fs';
import { eq, sql } from 'drizzle-orm';
import { takeIn } from '@/server/features/intake/intake';
import { heldSounds, SoundsQuestion } from '@/server/features/sounds/held-sounds';
import { sounds } from '@/server/features/sounds/tables';
import { jobs } from '@/server/platform/jobs/tables';
import { wakeWorkers } from '@/server/platform/jobs/queue';
import { until } from '../../support/application';
import { serverSuite } from '../../support/server-suite';
import { loadVector } from '../../support/vectors';

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;
const ask = (asked: object) => heldSounds(db(), SoundsQuestion.parse(asked));
const namesOf = ({ rows }: Awaited<ReturnType<typeof ask>>) => rows.map(({ name }) => name);

interface Expected {
  samples: { path: string; name: string; pcmSha256: string }[];
}
const expected = (name: string) =>
  (JSON.parse(readFileSync(`tests/vectors/sound/${name}.expect.json`, 'utf8')) as Expected).samples;

/** Takes an image in and waits for its sounds to be found. */
async function kept(image: string, name = image): Promise<string> {
  const { code } = await takeIn(
    db(),
    who,
    { name: `${name}.img` },
    loadVector(`sound/${image}.img`),
  );
  await until(`the sounds of ${code}`, async () => (await ask({ q: code })).rows.length > 0);
  return code;
}

test('each sample is held with the digest of its frames, once for each medium that has it', async () => {
  const [first, second] = [await kept('s-tuning'), await kept('s-tuning', 'again')];
  const wanted = expected('s-tuning');
  const { rows, total } = await ask({ q: first });
  expect(rows.map(({ folder, name }) => `${folder.replace(' / ', '/')}/${name}`)).toEqual(
    wanted.map(({ path }) => path),
  );
  expect(rows.map(({ pcmSha256 }) => pcmSha256)).toEqual(wanted.map(({ pcmSha256 }) => pcmSha256));
  expect(total).toEqual({ sounds: wanted.length, media: 1 });
  // The samples of this case are alike but for their pitch: each is held on both media.
  const { pcmSha256, held } = rows[0]!;
  const twins = await ask({ pcm: pcmSha256! });
  expect(twins.total.sounds).toBe(held);
  expect(new Set(twins.rows.map(({ code }) => code))).toEqual(new Set([first, second]));
});

test('sounds are found by words, by length, by rate, by root note', async () => {
  const code = await kept('s-loops-several');
  const wave = await kept('w-gaps');
  const both = `${code} ${wave}`;
  expect((await ask({ q: both })).rows).toEqual([]);
  expect(namesOf(await ask({ q: `${code} eight` }))).toEqual(['EIGHT']);
  expect(namesOf(await ask({ q: `${code} loops EIGHT` }))).toEqual(['EIGHT']);
  expect((await ask({ q: `${code} 100%` })).rows).toEqual([]);
  const waves = await ask({ q: wave });
  const long = waves.rows.filter(({ seconds }) => seconds >= 0.1);
  expect(long.length).toBeGreaterThan(0);
  expect(long.length).toBeLessThan(waves.rows.length + 1);
  expect(namesOf(await ask({ q: wave, atLeast: '0.1' }))).toEqual(long.map(({ name }) => name));
  expect(namesOf(await ask({ q: wave, atMost: '0.01' }))).toEqual(
    waves.rows.filter(({ sample }) => sample!.frames <= 294).map(({ name }) => name),
  );
  expect((await ask({ q: wave, rate: '29411' })).rows).toHaveLength(waves.rows.length);
  expect((await ask({ q: wave, rate: '22050' })).rows).toEqual([]);
  expect((await ask({ q: code, root: '60' })).rows.length).toBeGreaterThan(0);
  expect((await ask({ q: wave, root: '61' })).rows).toEqual([]);
  const rates = (await ask({})).rates.map(({ rateHz }) => rateHz);
  expect(rates).toEqual(expect.arrayContaining([22_050, 29_411]));
});

test('what is held once is left out where only that is asked for that is held twice', async () => {
  const code = await kept('s-start-end');
  const once = await ask({ q: code });
  expect(once.rows.map(({ held }) => held)).toEqual(once.rows.map(() => 1));
  expect((await ask({ q: code, twice: 'yes' })).rows).toEqual([]);
  await kept('s-start-end', 'another');
  expect((await ask({ q: code, twice: 'yes' })).rows).toHaveLength(once.rows.length);
});

test('copies that were kept before are gone through as the migration asks for it', async () => {
  const code = await kept('p-missing');
  const before = await ask({ q: code });
  await db().delete(sounds);
  await db().delete(jobs).where(eq(jobs.kind, 'sounds'));
  const migration = readFileSync('drizzle/0030_sounds-of-holdings.sql', 'utf8');
  await db().execute(sql.raw(migration.split('--> statement-breakpoint').at(-1)!));
  await db().transaction((tx) => wakeWorkers(tx));
  await until('the sounds', async () => (await ask({ q: code })).rows.length > 0);
  expect(namesOf(await ask({ q: code }))).toEqual(namesOf(before));
});

test.each([{ rate: 'fast' }, { root: '128' }, { atLeast: '-1' }, { pcm: 'f00' }, { more: '101' }])(
  '%j is refused',
  (asked) => {
    expect(SoundsQuestion.safeParse(asked).success).toBe(false);
  },
);
