/**
 * A day at the bench through a real browser: stacks, a dirty head, a pause over a restart of
 * everything, the loupe, two drives for one disk.
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { By, Key } from 'selenium-webdriver';
import type { Driver } from 'selenium-webdriver/chrome';
import { BenchClient } from '@/benchlink/client';
import { scenario } from '../../demo/scenario';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { button, css, link } from '../support/pages';
import { sha256Hex } from '../support/vectors';

const suite = browserSuite(150);
let { application, browser, driver, pages, bench, worker, server } = suite;
beforeAll(() => {
  ({ application, browser, driver, pages, bench, worker, server } = suite);
});

interface Station {
  id: number;
  sitting: { id: number; state: string } | null;
  medium: { code: string } | null;
  stack: { next: string | null; awaits: string } | null;
  test: { state: string; result: { passed: boolean; findings: string[] } | null } | null;
  confirmedAt: string | null;
  cleaningDue: string | null;
}
const station = async (id: number) =>
  (await pages.json<Station[]>('/api/stations')).find((each) => each.id === id)!;
interface Docket {
  copy: { tally: Record<string, number>; imageSha256: string; layout: string } | null;
  sittings: { id: number; state: string; now: string }[];
  history: { what: string; who: string }[];
  set: { missing: number[] } | null;
}
const docket = (code: string) => pages.json<Docket>(`/api/docket/${code}`);
const imageOf = (code: string) =>
  sha256Hex(scenario().find((medium) => medium.code === code)!.image!);

/** In seconds: a sitting may take nearly all of a test's time where the machine is slow. */
const MOST_OF_A_TEST = 540;

/** A number waits four seconds for its letter. */
const SECONDS_OF_A_NUMBER = 4;

/** What a scan came to is shown for eight. */
const SECONDS_OF_A_SCAN = 8;

/** What the station bar says. */
const stationBarSays = (text: string) =>
  By.xpath(`//*[@data-testid="station-bar-says" and contains(., "${text}")]`);

/** A label scanned until the page that takes it shows what it came to. */
const scan = (code: string, shown: By) =>
  pages.pressFor([...`.${code}`, Key.ENTER], shown, SECONDS_OF_A_SCAN + 2);

/** Waits until a medium's newest sitting has ended. */
async function ended(
  code: string,
  meanwhile: () => Promise<void> = async () => undefined,
): Promise<void> {
  const look = async () => {
    if ((await docket(code)).sittings[0]?.state === 'done') return true;
    await meanwhile();
    return false;
  };
  await until(`the sitting of ${code} to end`, look, MOST_OF_A_TEST);
}

/**
 * What a person's hands do at the bench itself; the application only hears of it from the drive.
 */
async function byHand<T>(work: (client: BenchClient) => Promise<T>): Promise<T> {
  const client = await BenchClient.connect(application.bench);
  try {
    return await work(client);
  } finally {
    client.close();
  }
}

test('a drive is tested with the reference disk, and says that it is fit', async () => {
  await pages.post('/api/stations/2', { action: 'place', code: 'REF-0001' });
  await pages.open('/bench?station=2');
  await pages.headingLike(/^REF-0001 is in the drive/);
  await pages.press('t');
  await pages.find(By.xpath('//*[@data-testid="drive"]//dd[contains(., "Passed")]'));
  expect((await station(2)).test!.result).toMatchObject({
    passed: true,
    findings: [expect.stringContaining('every sector of 8 tracks read at once')],
  });
  const refused = await pages.post('/api/stations/2', { action: 'place', code: 'SKP-0128' });
  expect(refused.answer.error).toContain('Another medium is in station 2');
  await pages.press('o');
  await pages.headingLike(/^Station 2 is empty/);
});

test('a stack of three, named by a pattern, is read unattended: a hand only changes the disks', async () => {
  await pages.open('/bench?station=2');
  await pages.headingLike(/^Station 2 is empty/);
  await pages.press('k');
  await (await pages.find(css('input[name=title]'))).sendKeys('Harbour office, disk {n}');
  await pages.click(button('Register and read them'));
  await pages.headingLike(/^Next disk: SKP-\d{4}$/);
  const first = Number((await pages.heading()).slice(-4));
  const codes = [0, 1, 2].map((i) => `SKP-${String(first + i).padStart(4, '0')}`);
  await until(
    'the station bar to wait for a hand',
    async () =>
      (await (
        await driver.findElement(css('[data-testid=station-bar-2]'))
      ).getAttribute('data-waits')) === 'true',
  );
  await pages.open('/labels');
  const disks = ['SKP-0128', 'SKP-0104', 'SKP-0106'];
  // The third does not fit: the drive refuses it, and nothing begins.
  await expect(
    byHand((client) => client.hand({ op: 'hand-insert', drive: 'B', label: disks[2]! })),
  ).rejects.toThrow('does not fit');
  disks[2] = 'SKP-0103';
  for (const [i, disk] of disks.entries()) {
    await byHand((client) => client.hand({ op: 'hand-insert', drive: 'B', label: disk }));
    await ended(codes[i]!);
    await byHand((client) => client.hand({ op: 'hand-remove', drive: 'B' }));
    if (i < 2)
      await until(
        'the next to be asked for',
        async () => (await station(2)).stack?.awaits === 'in',
      );
  }
  expect([
    (await docket(codes[0]!)).copy!.imageSha256,
    (await docket(codes[1]!)).copy!.tally.firm,
  ]).toEqual([imageOf('SKP-0128'), 1439]);
  expect((await station(2)).stack).toBeNull();
  await pages.post('/api/stations/2', { action: 'remove' });
});

/** The surface comes out as files, and is looked at in other ways. */
async function surfaceTakenOut(): Promise<void> {
  await pages.open('/media/SKP-0126');
  await pages.click(By.xpath('//section[@id="surface"]//button[. = "SVG"]'));
  expect((await pages.downloaded('SKP-0126-surface.svg')).toString()).toMatch(
    /^<svg [\s\S]*<title>cylinder \d+, head \d, sector \d: mended<\/title>/,
  );
  await pages.click(By.xpath('//section[@id="surface"]//button[. = "PNG"]'));
  expect((await pages.downloaded('SKP-0126-surface.png')).subarray(1, 4).toString()).toBe('PNG');
  for (const overlay of ['readings it took', 'timing error', 'pass that supplied it']) {
    await pages.click(button(overlay));
    await pages.find(By.xpath(`//button[@aria-pressed="true" and contains(., "${overlay}")]`));
  }
}

test('a dirty head is noticed and heard, cleaned by a key from another page, and the read is mended', async () => {
  await pages.post('/api/stations/4', { action: 'place', code: 'SKP-0126' });
  await pages.open('/bench?station=4');
  await pages.headingLike(/^SKP-0126 is in the drive/);
  await pages.press('u');
  await pages.headingLike(/^Clean the head of station 4$/);
  expect(
    Number(await driver.executeScript('return document.documentElement.dataset.chimes ?? 0')),
  ).toBeGreaterThan(0);
  expect((await docket('SKP-0126')).history[0]!.what).toMatch(
    /looks dirty: tracks fail one after the other, and cylinder \d+, which read well before, fails now/,
  );
  await pages.open('/ledger');
  // It sheds on: the head may want cleaning more than once.
  await ended('SKP-0126', async () => {
    if ((await station(4)).sitting?.state !== 'dirty') return;
    // Pressed when the station bar asks for a hand, as a person would.
    await pages.find(
      By.xpath('//*[@data-testid="station-bar-4" and contains(., "clean the head")]'),
    );
    const keys = '//*[@data-testid="station-keys" and contains(., "Head of station 4 is clean")]';
    await pages.pressFor(['4'], By.xpath(keys), SECONDS_OF_A_NUMBER + 2);
    await pages.press('c');
    await until('it to go on', async () => (await station(4)).sitting?.state !== 'dirty');
  });
  const { copy, history } = await docket('SKP-0126');
  expect(copy).toMatchObject({
    tally: { doubtful: 0, lost: 0, unread: 0 },
    imageSha256: imageOf('SKP-0126'),
  });
  expect(copy!.tally.mended).toBeGreaterThan(8);
  expect(
    history.some(({ what }) => /Head of station 4 cleaned after \d+ readings/.test(what)),
  ).toBe(true);
  // It shed: no other medium is read there before the head is clean.
  await pages.post('/api/stations/4', { action: 'remove' });
  await pages.post('/api/stations/4', { action: 'place', code: 'SKP-0107' });
  expect((await pages.post('/api/stations/4', { action: 'start' })).answer.error).toContain(
    'clean the head of station 4',
  );
  await pages.post('/api/stations/4', { action: 'remove' });
  expect((await pages.post('/api/stations/4', { action: 'clean' })).status).toBe(200);
  expect((await station(4)).cleaningDue).toBeNull();
  await surfaceTakenOut();
});

test('a pause lasts over a restart of every process, and the sitting goes on where it was', async () => {
  await pages.post('/api/stations/2', { action: 'place', code: 'SKP-0124' });
  await pages.post('/api/stations/2', { action: 'start' });
  await pages.open('/bench?station=2');
  await until('some tracks', async () => (await pages.tally()).firm! > 400);
  await pages.press('p');
  await pages.headingLike(/^Paused with \d+ tracks kept/);
  const sitting = (await station(2)).sitting!.id;
  const before = await pages.json<{ tracks: unknown[]; readings: number }>(
    `/api/sittings/${sitting}`,
  );
  for (const program of [worker, server, bench]) await program.kill();
  for (const program of [bench, server, worker]) await program.restart();
  await until('the pages', () =>
    fetch(`${application.url}/api/operators`).then(
      ({ ok }) => ok,
      () => false,
    ),
  );
  await sleep(1500);
  const after = await pages.json<{ tracks: unknown[]; readings: number; state: string }>(
    `/api/sittings/${sitting}`,
  );
  expect([after.state, after.tracks.length, after.readings]).toEqual([
    'paused',
    before.tracks.length,
    before.readings,
  ]);
  await pages.open('/bench?station=2');
  await pages.headingLike(/^Paused with/);
  await pages.press('g');
  await pages.headingLike(/^SKP-0124 is in the drive/);
  expect((await docket('SKP-0124')).copy!.imageSha256).toBe(imageOf('SKP-0124'));
  await pages.post('/api/stations/2', { action: 'remove' });
});

test('a doubtful sector is followed from the surface to the loupe in two keys, mended by another setting, and kept with its reason', async () => {
  await pages.open('/media/SKP-0103');
  await pages.headingLike(/^1 sector is in doubt; 4 files, 1 of them hurt/);
  const surface = await pages.find(css('[data-testid=surface]'));
  await driver.executeScript('arguments[0].focus()', surface);
  await pages.press(Key.ARROW_DOWN);
  await pages.press(Key.ENTER);
  await pages.find(
    By.xpath(
      '//*[@data-testid="track-panel"]//h3[contains(., "Cylinder 1, head 0: sector 4 is doubtful")]',
    ),
  );
  await driver.executeScript('document.activeElement.blur()');
  await pages.press('l');
  await pages.headingLike(/^Sector 4 is doubtful; \d+ bytes differ/);
  await pages.find(By.xpath('//*[@data-testid="readings"]//tr[contains(., "check wrong")]'));
  await pages.press('t');
  await pages.find(
    By.xpath('//*[@data-testid="setting-outcome" and contains(., "Sector 4: doubtful → mended")]'),
  );
  await pages.headingLike(/^Sector 4 is mended/);
  await pages.find(By.xpath('//*[@data-testid="readings"]//tr[contains(., "check right")]'));
  await (
    await pages.find(css('[data-testid=setting] textarea'))
  ).sendKeys('The spindle faltered here: the cells swell by a third and come back.');
  await pages.click(button('Keep it for this track'));
  await pages.headingLike(/^Every sector is sound; 4 files/, 40);
  const { copy, history } = await docket('SKP-0103');
  expect(copy).toMatchObject({
    tally: { firm: 1439, mended: 1 },
    imageSha256: imageOf('SKP-0103'),
  });
  expect(history.map(({ what }) => what)).toContainEqual(
    expect.stringContaining('The spindle faltered here'),
  );
});

test('two sittings of one disk, in two kinds of drive, settle into one fair copy', async () => {
  const readIn = async (at: number, range: object) => {
    await pages.post(`/api/stations/${at}`, { action: 'place', code: 'SKP-0106' });
    await pages.post(`/api/stations/${at}`, { action: 'start', unattended: false });
    const sitting = await until('the question', async () => {
      const { sitting: own } = await station(at);
      return own?.state === 'asks' && own;
    });
    await pages.post(`/api/sittings/${sitting.id}`, { requestedAction: 'read', range });
    await ended('SKP-0106');
    await pages.post(`/api/stations/${at}`, { action: 'remove' });
  };
  await readIn(3, { from: 0, to: 38, heads: [0, 1], step: 2 });
  expect((await docket('SKP-0106')).copy!.tally).toMatchObject({ firm: 360, unread: 360 });
  await readIn(4, { from: 20, to: 39, heads: [0, 1], step: 1 });
  const { copy, sittings } = await docket('SKP-0106');
  expect([sittings.length, copy!.tally.unread, copy!.imageSha256]).toEqual([
    2,
    0,
    imageOf('SKP-0106'),
  ]);
  await pages.open('/media/SKP-0106');
  await pages.headingLike(/^Every sector is sound; 6 files/);
  await pages.find(By.xpath('//section[@id="surface"]//*[contains(., "720")]'));
});

test('a drive that delivers sectors is believed, and every grade says so', async () => {
  await pages.post('/api/stations/6', { action: 'place', code: 'SKP-0128' });
  await pages.post('/api/stations/6', { action: 'start' });
  await ended('SKP-0128');
  const { copy } = await docket('SKP-0128');
  expect(copy).toMatchObject({
    layout: 'mfm-35-9x512',
    tally: { firm: 1440 },
    imageSha256: imageOf('SKP-0128'),
  });
  const sidecar = await pages.json<{ sectors?: { source?: { why: string } }[] }>(
    `/api/copies/${(await pages.json<{ copies: { id: number; code: string }[] }>('/api/holdings')).copies.find(({ code }) => code === 'SKP-0128')!.id}/sidecar`,
  );
  expect(JSON.stringify(sidecar)).toContain('the drive says that its check is right');
  await pages.post('/api/stations/6', { action: 'remove' });
});

test('a scanned label confirms what is in the drive, and one that does not belong there is named', async () => {
  await pages.post('/api/stations/6', { action: 'place', code: 'SKP-0128' });
  await pages.open('/bench?station=6');
  await pages.headingLike(/^SKP-0128 is in the drive/);
  await scan(
    'SKP-0124',
    stationBarSays('Station 6 should hold SKP-0128, and the label says SKP-0124'),
  );
  expect([(await station(6)).confirmedAt, (await station(6)).sitting]).toEqual([null, null]);
  await scan('SKP-0128', stationBarSays('SKP-0128 is what is in station 6'));
  expect((await station(6)).confirmedAt).not.toBeNull();
  await pages.open('/arrivals');
  await pages.headingLike(/media wait/);
  await scan('SKP-0107', By.xpath('//tr[@aria-selected="true" and contains(., "SKP-0107")]'));
  await pages.post('/api/stations/6', { action: 'remove' });
});

test('labels carry the code that the scanner types', async () => {
  await pages.open('/labels?codes=SKP-0107,SKP-0123,NOPE-1');
  expect(await pages.heading()).toBe('2 labels to print');
  expect(
    await (await pages.find(css('svg[data-code="SKP-0107"]'))).getAttribute('aria-label'),
  ).toBe('Code 128: .SKP-0107');
  await until(
    'its bars',
    async () => (await driver.findElements(css('svg[data-code="SKP-0107"] rect'))).length > 20,
  );
});

/** A picture of one pixel. */
const PIXEL = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR4nGNg4OD7DwABfAEoRlpvPwAAAABJRU5ErkJggg==',
  'base64',
);

test('a photo is kept over a lost connection, what is no picture is refused, and a set knows what it lacks', async () => {
  await pages.open('/media/SKP-0124');
  const chrome = driver as Driver;
  const picker = await pages.find(css('[data-testid=paper-file]'));
  const photo = join(browser.downloads, 'sleeve.png');
  const notes = join(browser.downloads, 'notes.bin');
  writeFileSync(photo, PIXEL);
  writeFileSync(notes, Uint8Array.of(0, 1, 2, 3));
  await chrome.sendDevToolsCommand('Network.enable', {});
  await chrome.sendDevToolsCommand('Network.emulateNetworkConditions', {
    offline: true,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: -1,
  });
  await picker.sendKeys(photo);
  await pages.find(
    By.xpath(
      '//*[@data-testid="papers"]//li[contains(., "sleeve.png") and contains(., "kept in this browser")]',
    ),
  );
  await chrome.sendDevToolsCommand('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: -1,
  });
  await pages.find(css('[data-testid=papers] img[alt="sleeve.png"]'));
  await picker.sendKeys(notes);
  await pages.find(
    By.xpath('//*[@data-testid="papers"]//li[contains(., "notes.bin is no picture")]'),
  );
  await pages.click(button('Forget it'));
  const set = await pages.find(css('[data-testid=set]'));
  const of = await set.findElement(css('input[name=members]'));
  await of.sendKeys('4', Key.ENTER);
  await pages.find(By.xpath('//*[@data-testid="set"]//b[contains(., "Missing: 3, 4.")]'));
  await pages.open('/arrivals/to-complete');
  await pages.find(
    By.xpath('//li[contains(., "Fog signal logs") and contains(., "missing 3, 4")]'),
  );
  expect(
    (
      await pages.json<{ media: { code: string; toComplete: string[] }[] }>('/api/to-complete')
    ).media.find(({ code }) => code === 'SKP-0124')?.toComplete,
  ).not.toContain('photo');
});

test('the bench is read from afar', async () => {
  await pages.post('/api/stations/6', { action: 'place', code: 'SKP-0128' });
  await pages.open('/bench?station=6');
  await pages.headingLike(/^SKP-0128/);
  await pages.press('v');
  await pages.find(css('[data-testid=afar]'));
  await pages.press(Key.ESCAPE);
  await until(
    'the near view',
    async () => (await driver.findElements(css('[data-testid=afar]'))).length === 0,
  );
  await pages.post('/api/stations/6', { action: 'remove' });
});

test('the ledger comes out whole', async () => {
  await pages.post('/api/stations/1', { action: 'clean' });
  const csv = await (await fetch(`${application.url}/api/ledger/export`)).text();
  const lines = csv.trimEnd().split('\r\n');
  expect(lines[0]).toBe('number,at,who,kind,medium,station,sitting,event,what');
  for (const kind of ['registered', 'taken-in', 'cleaned'])
    expect(lines.some((line) => line.split(',')[3] === kind)).toBe(true);
  const json = (await (await fetch(`${application.url}/api/ledger/export?as=json`)).text())
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as { number: number });
  expect(json).toHaveLength(lines.length - 1);
  await pages.open('/ledger');
  await pages.find(link('CSV'));
});
