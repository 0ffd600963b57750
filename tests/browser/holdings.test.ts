/**
 * The holdings through a real browser: a disk looked through by keyboard, a folder taken out, a
 * file found by its text, a duplicate noticed and settled, a folder taken in.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { scenario } from '../../demo/scenario';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { button, css, link } from '../support/pages';
import { unzip } from '../support/unzip';
import { loadVector } from '../support/vectors';

const suite = browserSuite(30);
let { application, browser, driver, pages } = suite;
beforeAll(() => {
  ({ application, browser, driver, pages } = suite);
});

const text = async (selector: string) => (await pages.find(css(selector))).getText();
const reads = (what: RegExp) =>
  until(`the column to read ${what}`, async () =>
    what.test(await text('[data-testid=reading]').catch(() => '')),
  );
const chosen = async () =>
  (await driver.findElements(css('#contents tr[aria-selected=true]'))).length === 1 &&
  (await driver.findElement(css('#contents tr[aria-selected=true] button'))).getText();
const imageOf = (code: string) => scenario().find((medium) => medium.code === code)!.image!;
const take = (name: string, bytes: Uint8Array) => application.takeIn(name, bytes);

test('a disk is looked through by keyboard: texts, a listing, a picture, bytes, an image inside', async () => {
  await pages.open('/media/SKP-0099');
  await pages.find(By.xpath('//*[@data-testid="volume-inside" and contains(., "LETTERS.IMG")]'));
  await pages.press('j');
  await reads(/^WHAT WAS ON THE OLD DISKS/);
  await driver
    .findElement(css('#contents tr[aria-selected=true] button'))
    .then((row) => driver.executeScript('arguments[0].focus()', row));
  await pages.press(Key.ARROW_DOWN);
  await until('the image', async () => (await chosen()) === 'LETTERS.IMG');
  await pages.press(Key.ARROW_DOWN);
  await reads(/^10 'FOG SIGNAL TIMES, NORTH MOLE\n20 CLS:PRINT "FOG SIGNAL/);
  await pages.press('b');
  await reads(/^0000 +FF [0-9A-F ]+/);
  await pages.press('b');
  await pages.press(Key.ARROW_DOWN);
  const picture = await pages.find(css('[data-testid=picture]'));
  expect(
    await driver.executeScript(
      'const c = arguments[0]; const [r, g, b] = c.getContext("2d").getImageData(243, 71, 1, 1).data; return [c.width, c.height, r, g, b]',
      picture,
    ),
  ).toEqual([320, 200, 255, 255, 255]);
  await pages.press('b');
  await reads(/^0000 +42 4D/);
  // Down into the disk that is kept as a file.
  await pages.press(Key.ARROW_DOWN, Key.ARROW_DOWN);
  await until('a file of the inner disk', async () => (await chosen()) === 'LETTER1.TXT');
  await pages.press('k');
  await until('back', async () => (await chosen()) === 'DEPTHS86.TXT');
});

test('a text is read in another character set and with other ends of lines', async () => {
  const code = await take('petscii.d64', loadVector('volumes/d64-plain.d64'));
  await pages.open(`/media/${code}`);
  await pages.click(By.xpath('//*[@id="contents"]//button[. = "FOG LOG"]'));
  await pages.find(css('[data-testid=reading]'));
  if (/as bytes/.test(await text('[data-testid=read-as]'))) await pages.press('b');
  const before = await text('[data-testid=reading]');
  await (
    await pages.find(css('select[aria-label="Character set"]'))
  ).sendKeys('8-bit set of .d64 disks: small');
  await until(
    'another transcription',
    async () => (await text('[data-testid=reading]')) !== before,
  );
  await (await pages.find(css('select[aria-label="Line ends"]'))).sendKeys('none');
  await until(
    'one line',
    async () => (await text('[data-testid=reading]')).split('\n').length === 1,
  );
  expect(await text('[data-testid=read-as]')).toMatch(/^as text/);
});

test('one folder of a disk is taken out, with a manifest', async () => {
  await pages.open('/media/SKP-0099');
  await pages.click(
    By.xpath('//*[@id="contents"]//tr[contains(., "PLANS/")]//a[. = "Extract folder"]'),
  );
  const files = unzip(new Uint8Array(await pages.downloaded('SKP-0099 PLANS.zip')));
  expect([...files.keys()].sort()).toEqual([
    'PLANS/DEPTHS86.TXT',
    'PLANS/MOLE.BMP',
    'manifest.json',
  ]);
  expect(
    (JSON.parse(new TextDecoder().decode(files.get('manifest.json'))) as { folder: string }).folder,
  ).toBe('PLANS');
});

test('files that are marked are taken out together', async () => {
  await pages.open('/media/SKP-0099');
  await pages.find(css('[data-testid=volume-inside]'));
  await pages.press('j', 'm', 'j', 'j', 'm', 'j', 'm', 'm');
  const marked = await pages.find(
    By.xpath('//*[@data-testid="marked"]//a[. = "Extract the 2 marked"]'),
  );
  const files = unzip(
    new Uint8Array(await (await pages.ask((await marked.getAttribute('href'))!)).arrayBuffer()),
  );
  expect([...files.keys()].sort()).toEqual(['ABOUT.TXT', 'PROGRAMS/HORN.BAS', 'manifest.json']);
});

test('a program is found by what it says, and facets narrow the answer', async () => {
  await pages.open('/holdings');
  await (await pages.find(css('input[type=search]'))).sendKeys('siren seconds');
  await pages.find(
    By.xpath(
      '//*[@data-testid="texts"]//tr[contains(., "PROGRAMS/HORN.BAS") and contains(., "SKP-0099")]',
    ),
  );
  await (
    await pages.find(css('input[type=search]'))
  ).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE);
  const facet = await pages.find(
    By.xpath(
      '//*[@data-testid="facets"]//section[@aria-label="Lender"]//button[contains(., "keeper")]',
    ),
  );
  const [, many] = /(\d+)$/.exec(await facet.getText())!;
  await facet.click();
  await pages.headingLike(new RegExp(`^${many} of the media kept$`));
  await pages.click(button('Show all again'));
  await pages.headingLike(/media are kept$/);
});

test('files of many disks are taken out in the background, and fetched', async () => {
  await pages.open('/holdings');
  await pages.headingLike(/media are kept$/);
  await pages.press('x');
  await pages.click(By.xpath('//*[@role="dialog"]//input[@type="checkbox"]'));
  await pages.click(By.xpath('//*[@role="dialog"]//button[contains(., "Take them out")]'));
  await pages.find(css('[data-extract=done]'));
  await pages.click(link('Download the ZIP'));
  const files = unzip(new Uint8Array(await pages.downloaded('extract-1.zip')));
  expect([...files.keys()]).toEqual(
    expect.arrayContaining([
      'SKP-0099/PROGRAMS/HORN.BAS',
      'SKP-0099/PROGRAMS/HORN.BAS.utf-8.txt',
      'SKP-0099/LETTERS.IMG (opened)/LETTER1.TXT',
      'manifest.json',
    ]),
  );
});

test('a copy is noticed while it is read, and settled side by side', async () => {
  await pages.post('/api/stations/1', { action: 'place', code: 'SKP-0128' });
  await pages.open('/bench?station=1');
  await pages.headingLike(/^SKP-0128 is in the drive/);
  await pages.press('u');
  await pages.find(By.xpath('//*[@data-testid="likeness" and contains(., "SKP-0104")]'));
  const sitting = (await pages.json<{ sitting: { id: number } | null }[]>('/api/stations'))[0]!
    .sitting!.id;
  await until(
    'the end',
    async () => (await pages.json<{ state: string }>(`/api/sittings/${sitting}`)).state === 'done',
  );
  await pages.open('/holdings/alike');
  // What could not be read of the first lies in free space: zeros stand there on both.
  await pages.click(link('SKP-0104 and SKP-0128 side by side'));
  await pages.headingLike(/^SKP-0104 and SKP-0128 have the same image, byte for byte$/);
  await pages.press('s');
  await pages.find(
    By.xpath(
      '//*[@data-testid="settle" and contains(., "Settled: SKP-0128 is a copy of SKP-0104.")]',
    ),
  );
  await pages.open('/media/SKP-0128');
  await pages.find(
    By.xpath(
      '//*[@data-testid="related" and contains(., "A copy of") and contains(., "SKP-0104")]',
    ),
  );
  await pages.open('/holdings/alike');
  await pages.find(
    By.xpath('//li[contains(., "SKP-0128") and contains(., "(a copy of SKP-0104)")]'),
  );
});

test('a folder is taken in with what lies beside its images', async () => {
  const folder = join(browser.downloads, 'boat house');
  mkdirSync(join(folder, 'shelf'), { recursive: true });
  const lamps = imageOf('SKP-0103');
  for (const [name, byte] of [
    ['disk 1.img', 1],
    ['disk 2.img', 2],
  ] as const) {
    const image = lamps.slice();
    image[700_000] = byte;
    writeFileSync(join(folder, 'shelf', name), image);
  }
  writeFileSync(join(folder, 'shelf', 'about.txt'), 'Found in the boat house, third drawer.\r\n');
  writeFileSync(join(folder, 'shelf', 'broken.img'), Uint8Array.of(0, 1, 2));
  await pages.open('/holdings');
  await (await pages.find(css('[data-testid=intake-folder]'))).sendKeys(folder);
  await pages.find(
    By.xpath(
      '//*[@data-testid="intakes"]//li[contains(., "shelf/disk 2.img") and contains(., "taken in")]',
    ),
  );
  await pages.find(
    By.xpath(
      '//*[@data-testid="intakes"]//li[contains(., "broken.img") and contains(., "refused")]',
    ),
  );
  await pages.find(
    By.xpath(
      '//*[@data-testid="intakes"]//li[contains(., "about.txt") and contains(., "laid beside the set boat house/shelf")]',
    ),
  );
  const { copies } = await pages.json<{ copies: { code: string; title: string }[] }>(
    '/api/holdings?q=boat+house',
  );
  expect(copies.map(({ title }) => title)).toEqual(['disk 1.img', 'disk 2.img']);
  await pages.open(`/media/${copies[0]!.code}`);
  await pages.find(By.xpath('//*[@data-testid="papers"]//button[contains(., "about.txt")]'));
  // Its volume has a name of its own, which is taken as the title by one press.
  await pages.click(By.xpath('//*[@data-testid="own-names"]//button[. = "take it as the title"]'));
  await until(
    'the title',
    async () =>
      (await pages.json<{ medium: { title: string } }>(`/api/docket/${copies[0]!.code}`)).medium
        .title === 'LAMPS',
  );
});

test('an image is searched byte by byte, its strings listed, its fields named', async () => {
  await pages.open('/media/SKP-0099/bytes');
  await pages.headingLike(/^Boot sector/);
  await pages.find(
    By.xpath(
      '//*[@data-testid="fields"]//tr[contains(., "bytes a sector") and contains(., "512")]',
    ),
  );
  await (
    await pages.find(css('input[aria-label="Search the image"]'))
  ).sendKeys('"FOG SIGNAL"', Key.ENTER);
  await pages.headingLike(/^It stands twice|^It stands 2 times/);
  await driver.executeScript('document.activeElement.blur()');
  await pages.press('n');
  await pages.find(By.xpath('//aside//a[. = "PROGRAMS/HORN.BAS"]'));
  await pages.press('s');
  await pages.find(
    By.xpath(
      '//*[@data-testid="strings"]//li[contains(., "what formatted it") or contains(., "FAT12")]',
    ),
  );
  await pages.press(Key.END);
  await until('the end', async () =>
    / 167FF0|167FF0/.test(await text('[data-testid=image-bytes]')),
  );
});
