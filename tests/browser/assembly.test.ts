/**
 * Three volumes put together in the page, returned to blanks, proved, and read again: the same
 * image, and the same files; a card, and a serial line.
 */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { BenchClient } from '@/benchlink/client';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { button, css, link } from '../support/pages';
import { unzip } from '../support/unzip';
import { loadVector, sha256Hex } from '../support/vectors';

const suite = browserSuite(200);
let { browser, driver, pages } = suite;
beforeAll(() => {
  ({ browser, driver, pages } = suite);
});

interface Docket {
  medium: { code: string };
  copy: { id: number; imageSha256: string; layout: string };
  contents: { problems: unknown[]; entries: { path: string; sha256: string; kind: string }[] }[];
}
const mediumDetail = (code: string) => pages.json<Docket>(`/api/docket/${code}`);
const row = (path: string) => By.css(`[data-testid=volume] tr[data-path="${path}"]`);
const typed = async (selector: string, text: string) => {
  const field = await pages.find(css(selector));
  await field.clear();
  await field.sendKeys(text);
  return field;
};
const onDisk = (name: string, bytes: Uint8Array) => {
  const path = join(browser.downloads, name);
  writeFileSync(path, bytes);
  return path;
};

/** Begins an assembly of a kind, and gives its number. */
async function begin(title: string, kind: string, label: string): Promise<number> {
  await pages.open('/assembly');
  await pages.press('n');
  await typed('form input[name=title]', title);
  await (await pages.find(css(`form select[name=kind] option[value=${kind}]`))).click();
  if (label) await typed('form input[name=label]', label);
  await pages.click(By.xpath('//form//button[normalize-space()="Begin"]'));
  await pages.headingLike(new RegExp(`^${title}: `));
  return Number(/\/assembly\/(\d+)/.exec(await driver.getCurrentUrl())![1]);
}

/** Goes down the files found, as far as the first that is wanted: other tests keep files too. */
async function choose(search: WebElement, wanted: string): Promise<void> {
  const found = '//*[@data-testid="files-found"]';
  const chosen = () => driver.findElements(By.xpath(`${found}${wanted}[@aria-selected="true"]`));
  await pages.find(By.xpath(found + wanted));
  for (let left = 100; left > 0 && (await chosen()).length === 0; left--)
    await search.sendKeys(Key.ARROW_DOWN);
}

async function settle(): Promise<Docket> {
  await pages.press('k');
  await until('the docket', async () => /\/media\/SKP-\d+/.test(await driver.getCurrentUrl()));
  return mediumDetail(/\/media\/(SKP-\d+)/.exec(await driver.getCurrentUrl())![1]!);
}

/**
 * Returns an image by searching for it, waits for its proof, and reads the disk with a fresh
 * sitting.
 */
async function roundTrip(image: Docket, blank: string, station: number): Promise<Docket> {
  await pages.post(`/api/stations/${station}`, { action: 'remove' });
  expect(
    (await pages.post(`/api/stations/${station}`, { action: 'place', code: blank })).status,
  ).toBe(200);
  await pages.open('/write-back');
  await (await pages.find(css('[data-testid=image-choice]'))).sendKeys(image.medium.code);
  await pages.find(By.xpath(`//li[@role="option" and contains(., "${image.medium.code}")]`));
  await (await driver.findElement(css('[data-testid=image-choice]'))).sendKeys(Key.ENTER);
  await pages.click(button(`Write to ${blank} in station ${station} and prove it`));
  await pages.find(
    By.xpath(
      `//article[@data-state="proved" and contains(., "${blank}") and contains(., "It was blank before")]`,
    ),
  );
  const { answer } = await pages.post(`/api/stations/${station}`, {
    action: 'start',
    unattended: true,
  });
  await until(
    'the sitting to end',
    async () =>
      (await pages.json<{ state: string }>(`/api/sittings/${String(answer.sittingId)}`)).state ===
      'done',
  );
  return mediumDetail(blank);
}

const isTheSame = (read: Docket, made: Docket) => {
  expect([read.copy.imageSha256, read.copy.layout]).toEqual([
    made.copy.imageSha256,
    made.copy.layout,
  ]);
  expect(read.contents[0]!.problems).toEqual([]);
  expect(read.contents[0]!.entries.map(({ path, sha256 }) => [path, sha256])).toEqual(
    made.contents[0]!.entries.map(({ path, sha256 }) => [path, sha256]),
  );
};

test('files of other disks and of this computer on a new volume, by keys; undone and done again; returned, and tried', async () => {
  const id = await begin('For the reading room', 'fat12-720', 'READING');
  await pages.press('/');
  const search = await pages.find(css('[data-testid=source]'));
  await search.sendKeys('buoys');
  await pages.find(By.xpath('//*[@data-testid="files-found"]//li[contains(., "BUOYS.TXT")]'));
  await choose(search, '//li[span[@title="BUOYS.TXT"]]');
  await search.sendKeys(Key.ENTER);
  await pages.find(row('BUOYS.TXT'));
  // The same once more: two of a name can't be.
  await search.sendKeys(Key.ENTER, Key.ESCAPE);
  await pages.find(row('BUOYS2.TXT'));
  expect(await (await pages.find(css('[data-testid=outcome]'))).getText()).toContain(
    'BUOYS.TXT became BUOYS2.TXT. There is a BUOYS.TXT already.',
  );
  await pages.press('f');
  await (await pages.find(css('[data-testid=new-name]'))).sendKeys('OWN', Key.ENTER);
  await pages.click(row('OWN'));
  await pages.click(button('Put files in here'));
  const notes = new TextEncoder().encode('Put on this disk in the reading room.\r\n');
  await (
    await driver.findElement(css('[data-testid=from-desktop]'))
  ).sendKeys(onDisk('Notizen für alle.text', notes));
  await pages.find(row('OWN/NOTIZENF.TEX'));
  await pages.click(row('BUOYS2.TXT'));
  await pages.press('n');
  await typed('[data-testid=new-name]', 'bad name!.txt').then((field) => field.sendKeys(Key.ENTER));
  await pages.find(By.xpath('//*[@role="alert" and contains(., "Nothing was changed")]'));
  await pages.press('n');
  await typed('[data-testid=new-name]', 'SEAMARKS.TXT').then((field) => field.sendKeys(Key.ENTER));
  await pages.find(row('SEAMARKS.TXT'));
  await pages.press('u');
  await pages.find(row('BUOYS2.TXT'));
  await driver.findElement(css('h1')).click();
  await driver.actions().keyDown(Key.SHIFT).sendKeys('u').keyUp(Key.SHIFT).perform();
  await pages.find(row('SEAMARKS.TXT'));
  await pages.press('a');
  await typed('[data-testid=new-name]', '14 March').then((field) => field.sendKeys(Key.ENTER));
  await pages.find(By.xpath('//*[@role="alert" and contains(., "A date is written 1987-03-14")]'));
  await pages.press('a');
  await typed('[data-testid=new-name]', '1987-03-14 09:26:00').then((field) =>
    field.sendKeys(Key.ENTER),
  );
  await pages.find(
    By.xpath(
      '//*[@data-testid="volume"]//tr[@data-path="SEAMARKS.TXT"]/td[contains(., "1987-03-14")]',
    ),
  );
  const used = Number(
    await (await pages.find(css('[data-testid=capacity]'))).getAttribute('data-used'),
  );
  expect(used).toBeGreaterThan(3 * 1024);
  expect(await (await pages.find(css('[data-testid=target]'))).getText()).toContain(
    'It will read it',
  );
  const made = await settle();
  expect(made.contents[0]!.entries.find(({ path }) => path === 'OWN/NOTIZENF.TEX')!.sha256).toBe(
    sha256Hex(notes),
  );
  await pages.find(
    By.xpath(
      '//*[@data-testid="lineage" and contains(., "Made from a blank volume by 6 changes")]',
    ),
  );
  isTheSame(await roundTrip(made, 'BLK-0001', 2), made);
  await pages.open('/write-back');
  await pages.headingLike(/(\d+) of \1 write-backs proved, \d+ not tried yet/);
  await typed('[data-testid=trial] input', 'lists both folders');
  await pages.click(button('It works'));
  await pages.find(
    By.xpath('//*[@data-testid="trial" and contains(., "It works: lists both folders")]'),
  );
  const all = await pages.json<{ id: number; source: string }[]>('/api/writebacks');
  const writeback = all.find(({ source }) => source === made.medium.code)!.id;
  await pages.click(
    By.xpath(`//*[@data-testid="writeback-${writeback}"]//a[contains(., "as JSON")]`),
  );
  expect(
    JSON.parse(
      (
        await pages.downloaded(`writeback-${writeback}-${made.medium.code}-to-BLK-0001.json`)
      ).toString(),
    ),
  ).toMatchObject({
    format: 'frail-spindle-certificate',
    outcome: 'proved',
    // Sealed with the proof: what was told since stands in an edition of its own.
    trial: null,
    tracks: { written: 160, proved: 160 },
  });
  expect(
    await pages.json(`/api/writebacks/${writeback}/certificate?as=json&edition=latest`),
  ).toMatchObject({
    trial: { outcome: 'works', note: 'lists both folders' },
  });
  await pages.open(`/assembly/${id}`);
  await pages.find(link(`Settled as ${made.medium.code}`));
});

test('whole disks gathered on a volume without folders, what finds no room told; returned to another kind of disk', async () => {
  await begin('Programs for the school', 'd64', 'SCHOOL');
  await (await pages.find(css('[data-testid=source]'))).sendKeys('0104');
  await pages.click(
    By.xpath('//*[@data-testid="disks-found"]//li[contains(., "SKP-0104")]//input'),
  );
  await pages.click(button('Gather 1 with prefixes'));
  await pages.find(By.xpath('//*[@data-testid="volume"]//tr[starts-with(@data-path, "SKP-")]'));
  await pages.headingLike(/of 664 blocks/);
  const made = await settle();
  expect(made.copy.layout).toBe('gcr45-525-35');
  isTheSame(await roundTrip(made, 'BLK-0004', 4), made);
});

test('an 8-inch volume; the blank that is too small a kind is refused by name', async () => {
  await begin('Tide tables again', 'cpm-8', '');
  const table = new TextEncoder().encode('HW 04:12 3.9 M\r\n'.repeat(64));
  await (await pages.find(css('[data-testid=from-desktop]'))).sendKeys(onDisk('tides.txt', table));
  await pages.find(row('TIDES.TXT'));
  const made = await settle();
  await pages.post('/api/stations/4', { action: 'place', code: 'BLK-0004' });
  const refused = await pages.post('/api/writebacks', { fairCopyId: made.copy.id, stationId: 4 });
  await pages.post('/api/stations/4', { action: 'remove' });
  expect([refused.status, refused.answer.error]).toEqual([
    409,
    expect.stringContaining('goes on 8-inch disks; BLK-0004 is 5¼-inch'),
  ]);
  isTheSame(await roundTrip(made, 'BLK-0005', 5), made);
});

test('a sound goes into a bank of a blank floppy, is heard before it is kept, returned, and read again', async () => {
  await begin('Fog signals to play', 'wavesample', '');
  await pages.click(row('upper-1'));
  await pages.click(button('Put files in here'));
  const wav = loadVector('sound/put-8bit.wav');
  await (
    await driver.findElement(css('[data-testid=from-desktop]'))
  ).sendKeys(onDisk('Low horn.wav', wav));
  await pages.click(row('upper-1/wave-1'));
  await pages.find(css('[data-testid=hear]'));
  // It sounds for less than a busy machine may take from one look to the next.
  await driver.executeScript(`
    new MutationObserver(() => {
      const isPlaying = document.querySelector('[data-testid=hear][data-playing=true]');
      if (isPlaying && !document.body.dataset.heard) document.body.dataset.heard = 'yes';
    }).observe(document.body, { subtree: true, attributes: true, childList: true });`);
  await pages.press(' ');
  await pages.find(css('body[data-heard=yes]'));
  // It is over by itself.
  await pages.find(css('[data-testid=hear][data-playing=false]'));
  expect(await (await pages.find(css('[data-testid=target]'))).getText()).toContain(
    'It will read it',
  );
  const made = await settle();
  const wave = made.contents[0]!.entries.find(({ path }) => path === 'upper-1/wave-1')!;
  // The case's own digest of what it is in a bank.
  expect(wave.sha256).toBe('8059dca8c65f013ac0ebb1b62647d355820a06b80ce94b90484614fdfcd943a1');
  isTheSame(await roundTrip(made, 'BLK-0002', 2), made);
});

test('blank images are made here, or the reason why not is told here', async () => {
  await pages.open('/assembly');
  await typed('section[aria-label="Blank images"] input[inputmode=numeric]', '50');
  await pages.click(button('Make 50 as one ZIP'));
  expect((await pages.downloaded('fat12-720 _ 50.zip')).length).toBeGreaterThan(10_000);
});

test('a card for a device that stands in for a drive; when it comes back, what changed is found and taken in', async () => {
  await pages.open('/write-back/memory-cards');
  await (await pages.find(css('[data-testid=card-search]'))).sendKeys('skp-010');
  await pages.click(By.xpath('//*[@data-testid="card-found"]//button[contains(., "SKP-0104")]'));
  await pages.click(By.xpath('//*[@data-testid="card-found"]//button[contains(., "SKP-0103")]'));
  await typed('[data-testid=card-title]', 'For the school');
  await pages.click(button('Make the card'));
  await pages.find(
    By.xpath('//*[@data-testid="card-1" and contains(., "For the school: 2 images")]'),
  );
  await pages.click(link('The card, as a ZIP'));
  const files = unzip(new Uint8Array(await pages.downloaded('For the school.zip')));
  expect([...files.keys()]).toEqual(['001HARBO.IMG', '002LAMPR.IMG', 'CONTENTS.TXT']);
  const back = join(browser.downloads, 'card');
  mkdirSync(back);
  for (const [name, bytes] of files) writeFileSync(join(back, name), bytes);
  const changed = files.get('002LAMPR.IMG')!.slice();
  changed[700_000]! ^= 1;
  writeFileSync(join(back, '002LAMPR.IMG'), changed);
  await (await driver.findElement(css('[data-testid=come-back-1]'))).sendKeys(back);
  await pages.find(
    By.xpath(
      '//*[@data-testid="compared-1" and contains(., "1 as they were, 1 not") and contains(., "002LAMPR.IMG changed (SKP-0103)")]',
    ),
  );
  await pages.click(button('Take it in'));
  const said = await pages.find(
    By.xpath('//*[@role="status" and contains(., "is taken in as SKP-")]'),
  );
  const code = /SKP-\d+/.exec((await said.getText()).split('taken in as')[1]!)![0];
  expect((await mediumDetail(code)).copy.imageSha256).toBe(sha256Hex(changed));
});

test('an image over the serial line, and a way of two steps', async () => {
  const client = await BenchClient.connect(suite.application.bench);
  await client
    .hand({ op: 'hand-line', line: 'L1', receive: { crc: true, large: true } })
    .finally(() => client.close());
  await pages.open('/write-back/lines');
  const choice = await pages.find(css('[data-testid=image-choice]'));
  await choice.sendKeys('SKP-0104');
  await pages.find(By.xpath('//li[@role="option" and contains(., "SKP-0104")]'));
  await choice.sendKeys(Key.ENTER);
  await pages.click(button('Plan both steps'));
  await pages.find(By.xpath('//*[@data-testid="steps"]//b[normalize-space()="SKP0104.IMG"]'));
  await pages.click(By.xpath('//label[contains(., "Blocks of 1\u2009024 bytes")]/input'));
  await pages.click(button('Send SKP-0104 over line L1'));
  await pages.find(
    By.xpath(
      '//article[@data-state="done" and contains(., "All 737\u2009280 bytes were acknowledged")]',
    ),
  );
  const there = readFileSync(join(suite.application.folder, 'shelf', 'written', 'line-L1-1.bin'));
  expect(sha256Hex(there)).toBe((await mediumDetail('SKP-0104')).copy.imageSha256);
});
