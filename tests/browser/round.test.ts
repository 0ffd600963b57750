/** The whole round through a real browser: registered, read, looked into, taken out, written back, proved. */
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { By, Key, until as seleniumUntil, type WebDriver, type WebElement } from 'selenium-webdriver';
import { scenario } from '../../demo/scenario';
import { Application, until, type Program } from '../support/application';
import { startBrowser, type Browser } from '../support/browser';
import { loadVector, sha256Hex } from '../support/vectors';

jest.setTimeout(180_000);

let application: Application;
let browser: Browser;
let driver: WebDriver;
let pages: Program;
let worker: Program;

const css = (selector: string) => By.css(selector);
const button = (text: string) => By.xpath(`//button[contains(normalize-space(.), ${JSON.stringify(text)})]`);
const link = (text: string) => By.xpath(`//a[contains(normalize-space(.), ${JSON.stringify(text)})]`);
const find = (by: By, seconds = 15): Promise<WebElement> => driver.wait(seleniumUntil.elementLocated(by), seconds * 1000);
const click = async (by: By) => (await find(by)).click();
const heading = () => until('a heading', async () => (await driver.findElements(css('h1'))).length > 0 && (await driver.findElement(css('h1'))).getText());
const headingLike = (pattern: RegExp, seconds = 25) => until(`heading ${pattern}`, async () => pattern.test(await heading().catch(() => '')), seconds);
const press = (...keys: string[]) => driver.actions().sendKeys(...keys).perform();
const tally = async () => Object.fromEntries(await Promise.all((await driver.findElements(css('[data-testid=tally] [data-grade]'))).map(async (each) =>
  [await each.getAttribute('data-grade'), Number(await each.getAttribute('data-count'))] as const)));
const json = async <T>(path: string) => (await (await fetch(application.url + path)).json()) as T;

/** The bytes of a link's download, as the browser saved them. */
async function downloaded(name: string): Promise<Buffer> {
  return until(`the download ${name}`, async () => readdirSync(browser.downloads).includes(name) && readFileSync(join(browser.downloads, name)));
}

beforeAll(async () => {
  application = await Application.prepare();
  await application.startBench(25);
  await application.fill();
  worker = application.startWorker();
  pages = await application.startPages();
  browser = await startBrowser();
  driver = browser.driver;
});

afterAll(async () => {
  await browser?.close();
  await application?.stop();
});

test('the first visit asks who is at work', async () => {
  await driver.get(`${application.url}/arrivals`);
  await click(button('Tam Okoro'));
  await find(By.xpath('//nav//button[contains(., "Tam Okoro")]'));
  expect(await heading()).toBe('3 media wait to be read');
});

test('wrong form input is answered in the form, and what was typed stays', async () => {
  await press('r');
  const code = await find(css('input[name=code]'));
  expect(await code.getAttribute('value')).toBe('SKP-0129');
  await code.clear();
  await code.sendKeys('skp 1');
  await click(css('form button[type=submit]'));
  await find(By.xpath('//*[@id="code-error" and contains(., "such as SKP-0131")]'));
  await find(By.xpath('//*[@id="title-error" and contains(., "Say what it is")]'));
  await code.clear();
  await code.sendKeys('SKP-0117');
  await (await find(css('input[name=title]'))).sendKeys('Dues of the outer harbour');
  await click(css('form button[type=submit]'));
  await find(By.xpath('//*[@id="code-error" and contains(., "registered already")]'));
  expect(await driver.findElement(css('input[name=title]')).getAttribute('value')).toBe('Dues of the outer harbour');
  await code.clear();
  await code.sendKeys('SKP-0140', Key.ENTER);
  await find(link('SKP-0140'));
  await headingLike(/^4 media wait/);
});

test('a registered medium is put on a station; the shelf is asked which disk it is', async () => {
  await (await find(By.xpath('//tr[contains(., "SKP-0140")]/td[2]'))).click();
  await press(Key.ENTER);
  await find(By.xpath('//h2[contains(., "Which disk is SKP-0140?")]'));
  await click(button('SKP-0128'));
  await headingLike(/^SKP-0140 is in the drive/);
});

test('tracks fill in live, without the page being asked', async () => {
  await press(Key.ENTER);
  await headingLike(/^Reading cylinder/);
  await until('some tracks on the page', async () => (await tally()).firm! > 90);
  const [station] = await json<{ sitting: { id: number } }[]>('/api/stations');
  const { tracks } = await json<{ tracks: unknown[] }>(`/api/sittings/${station!.sitting.id}`);
  await until('the page to show what the database has', async () => (await tally()).firm! >= tracks.length * 9, 5);
});

test('the sitting goes on while the web server is killed, and the page takes up again', async () => {
  await pages.kill();
  await sleep(600);
  await pages.restart();
  await headingLike(/^SKP-0140 is in the drive/, 90);
});

test('the docket shows surface, contents and digests, and reads a text in place', async () => {
  await driver.get(`${application.url}/media/SKP-0140`);
  await headingLike(/^Every sector is sound; 5 files/);
  expect(await tally()).toEqual({ firm: 1440, mended: 0, doubtful: 0, lost: 0, unread: 0 });
  await click(By.xpath('//section[@id="contents"]//button[contains(., "LETTER.TXT")]'));
  const reading = await find(css('[data-testid=reading]'));
  expect(await reading.getText()).toContain('To the Harbour Master, Skerrow Point');
  await press('b');
  await until('bytes', async () => (await driver.findElement(css('[data-testid=reading]')).getText()).startsWith('0000  54 6F 20 74'));
  const image = scenario().find(({ code }) => code === 'SKP-0128')!.image!;
  await find(By.xpath(`//section[@id="copies"]//*[@title="${sha256Hex(image)}"]`));
});

test('a file, the image, the card and the capture come out as they are', async () => {
  await click(By.xpath('//section[@id="contents"]//tr[contains(., "LETTER.TXT")]//a[contains(., "Extract")]'));
  expect((await downloaded('LETTER.TXT')).toString()).toContain('Kittiwake for March were entered twice');
  const part = (name: string) => By.xpath(`//section[@id="copies"]//tr[contains(., "${name}")]//a`);
  for (const name of ['SKP-0140.img', 'SKP-0140.card.json', 'SKP-0140.fsflux']) await click(part(name));
  expect(sha256Hex(await downloaded('SKP-0140.img'))).toBe(sha256Hex(scenario().find(({ code }) => code === 'SKP-0128')!.image!));
  expect(JSON.parse((await downloaded('SKP-0140.card.json')).toString())).toMatchObject({ format: 'frail-spindle-card', layout: 'mfm-35-9x512', tally: { firm: 1440 } });
  expect((await downloaded('SKP-0140.fsflux')).subarray(9, 27).toString()).toBe('frail-spindle-flux');
});

test('it is noticed that the same image is held already', async () => {
  // SKP-0104 has a sector in doubt, so its image differs; a file of ours that is the same does not.
  await driver.get(`${application.url}/holdings`);
  const image = join(browser.downloads, 'SKP-0140.img');
  await (await driver.findElement(css('[data-testid=intake]'))).sendKeys(image);
  await headingLike(/^Taken in as a flat image; 5 files/);
  await driver.get(`${application.url}/holdings`);
  await find(By.xpath('//tr[contains(., "SKP-0140.img")]//a[contains(., "SKP-0140")]'));
});

test('a capture made elsewhere is taken in; what is neither is refused with a sentence', async () => {
  const { writeFileSync } = await import('node:fs');
  const capture = join(browser.downloads, 'made-elsewhere.fsflux');
  const noise = join(browser.downloads, 'notes.bin');
  writeFileSync(capture, loadVector('flux/light-mfm-35-18x512.fsflux'));
  writeFileSync(noise, Buffer.from('no disk at all'));
  await driver.get(`${application.url}/holdings`);
  await (await find(css('[data-testid=intake]'))).sendKeys(noise);
  await find(By.xpath('//li[contains(., "notes.bin") and contains(., "refused") and contains(., "Nothing was taken in")]'));
  await (await driver.findElement(css('[data-testid=intake]'))).sendKeys(capture);
  await headingLike(/sectors are in doubt/);
  expect(await tally()).toMatchObject({ firm: 69, doubtful: 1, lost: 2, unread: 2808 });
});

test('an upload over the limit is refused before it is swallowed', async () => {
  const response = await fetch(`${application.url}/api/intake?name=huge.img`, { method: 'POST', headers: { cookie: 'spindle-operator=Tam%20Okoro' }, body: new Uint8Array(65 * 1024 * 1024) }).catch(() => null);
  // The server may close the connection while the rest is still being sent.
  if (response) expect(response.status).toBe(413);
  expect((await json<{ copies: unknown[] }>('/api/holdings?q=huge')).copies).toEqual([]);
});

test('search finds files by name on every disk', async () => {
  await driver.get(`${application.url}/holdings`);
  await (await find(css('input[type=search]'))).sendKeys('buoys.txt');
  await headingLike(/4 media and 4 files answer/);
});

test('the image goes to a blank, through a kill -9 of the worker, and is proved', async () => {
  await driver.get(`${application.url}/bench?station=1`);
  await headingLike(/is in the drive/);
  await press('o');
  await headingLike(/^Station 1 is empty/);
  await driver.get(`${application.url}/arrivals`);
  await (await find(By.xpath('//tr[contains(., "BLK-0001")]/td[2]'))).click();
  await press(Key.ENTER);
  await headingLike(/^BLK-0001 is in the drive/);
  await driver.get(`${application.url}/media/SKP-0140`);
  await click(button('Write to BLK-0001 in station 1 and prove it'));
  await headingLike(/^1 under way/);
  await until('some tracks', async () => (await json<{ tracks: unknown[] }[]>('/api/returns'))[0]!.tracks.length > 8);
  await worker.kill();
  await worker.restart();
  await find(By.xpath('//article[@data-state="proved" and contains(., "every sector is what was written")]'), 120);
});

test('the ledger has all of it, with who', async () => {
  await driver.get(`${application.url}/ledger`);
  const text = await (await find(css('table'))).getText();
  for (const part of ['SKP-0140 registered: Dues of the outer harbour', 'Sitting started: SKP-0140 at station 1', 'Fair copy settled', 'Return to BLK-0001: Proved', 'Tam Okoro']) expect(text).toContain(part);
});

test('an unknown medium and a strange name are answered, not failed', async () => {
  await driver.get(`${application.url}/media/NOPE-1`);
  expect(await heading()).toBe('There is nothing by that name here');
  await driver.get(`${application.url}/media/%3Cscript%3E`);
  expect(await heading()).toBe('There is nothing by that name here');
});

test('requests from another site, and without a name, change nothing', async () => {
  const post = (headers: Record<string, string>) => fetch(`${application.url}/api/stations/1`, { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body: '{"action":"remove"}' });
  expect((await post({ origin: 'http://elsewhere.example', cookie: 'spindle-operator=Tam' })).status).toBe(403);
  expect((await post({})).status).toBe(401);
});
