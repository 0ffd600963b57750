/**
 * Hard disks, discs and large files through a real browser: how far to read, surface at any zoom,
 * what lost blocks cost, sound out, an upload that breaks off, packing, a passphrase.
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { deviceScenario } from '../../demo/devices';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { button, css, link } from '../support/pages';

const suite = browserSuite(300);
let { application, driver, pages, server } = suite;
beforeAll(() => {
  ({ application, driver, pages, server } = suite);
});

/** Thin spaces between groups of digits count as spaces. */
const plain = (text: string) => text.replaceAll('\u2009', ' ');
const text = async (selector: string) => plain(await (await pages.find(css(selector))).getText());
const said = (what: RegExp, selector: string, seconds = 300) =>
  until(
    `${selector} to say ${what}`,
    async () => what.test(await text(selector).catch(() => '')),
    seconds,
  );
const ended = (code: string) =>
  until(`${code} to be settled`, async () => {
    const { copy } = await pages.json<{ copy: { id: number } | null }>(`/api/docket/${code}`);
    return copy;
  });

test('a hard disk: what its tables show, how far, read with loss in mind, what the lost blocks cost; its surface by keyboard', async () => {
  expect((await pages.post('/api/stations/7', { action: 'place', code: 'SKP-0111' })).status).toBe(
    200,
  );
  await pages.open('/bench?station=7');
  // What to try when it is not seen stands where it is needed.
  await said(/One master and one slave on a cable/, '[data-testid=drive]');
  await pages.click(button('Look at its tables'));
  await pages.headingLike(/^Hard disk, 820 × 6 × 17; 1 partition, FAT16: how far\?$/);
  await said(/83 640 blocks, 40\.8 MiB of 40\.8 MiB/, '[data-testid=block-range]');
  await pages.click(button('in use,'));
  await until(
    'less to read',
    async () => !/83 640 blocks/.test(await text('[data-testid=block-range]')),
  );
  await pages.click(button('everything,'));
  await pages.click(button('Read this much at station 7'));
  await pages.find(css('[data-testid=block-surface]'));
  await ended('SKP-0111');
  await pages.open('/media/SKP-0111');
  await pages.headingLike(/^320 blocks are in doubt; \d+ files, \d+ of them hurt$/);
  expect(await pages.tally()).toMatchObject({ lost: 320, unread: 0, doubtful: 0 });
  expect(await text('[data-testid=lost-ranges]')).toMatch(/1 260\s+60\s+lost\s+4\s+1\/\S+/);
  expect(await text('[data-testid=health]')).toMatch(/sectors waiting to be set aside\s+0\s+\d+/);
  expect(await text('[data-testid=origin]')).toContain('master, alone');
  await surfaceByKeyboard();
  await originNoted();
});

/** The surface of a device by keyboard: to what is not firm, closer, and back. */
async function surfaceByKeyboard(): Promise<void> {
  const chart = await pages.find(css('[data-testid=block-surface]'));
  await driver.executeScript(
    'arguments[0].scrollIntoView({ block: "center" }); arguments[0].focus()',
    chart,
  );
  // Where the pointer lies the cursor would follow it.
  await driver.actions().move({ x: 4, y: 4 }).perform();
  await pages.press(Key.ARROW_RIGHT);
  const caption = By.xpath('//canvas[@data-testid="block-surface"]/ancestor::figure//figcaption');
  const says = (what: RegExp) =>
    until(`the caption to say ${what}`, async () =>
      what.test(plain(await (await pages.find(caption)).getText())),
    );
  await says(/^Block 1 260: lost, asked 4 times.*; so are 60 from 1 260; 1\//);
  const band = async () =>
    /a band is ([\d\s]+) blocks/.exec(
      await (
        await pages.find(By.xpath('//canvas[@data-testid="block-surface"]/ancestor::figure'))
      ).getText(),
    )![1]!;
  const whole = await band();
  await pages.press(Key.ENTER);
  await until('a closer look', async () => (await band()) !== whole);
  await pages.press('0');
  await until('all of it', async () => (await band()) === whole);
  await pages.click(button('as a table'));
  expect(await text('[data-testid=block-table]')).toMatch(/41 300\s+260\s+lost\s+4/);
}

/** Where a drive came from is noted in its docket. */
async function originNoted(): Promise<void> {
  await pages.click(button('Note where it came from'));
  const field = await pages.find(css('input[name=jumpers]'));
  await field.clear();
  await field.sendKeys('slave, with another');
  await pages.click(button('Keep it'));
  await said(/slave, with another/, '[data-testid=origin]');
  const { answer } = await pages.post('/api/media/SKP-0111', {
    origin: { jumpers: 'x'.repeat(300), notes: '' },
  });
  expect(answer.fields ?? answer.error).toBeDefined();
}

test('a mixed-mode disc is read unattended, and a track of sound comes out as WAV; it is packed, and taken under a passphrase', async () => {
  await pages.post('/api/stations/8', { action: 'place', code: 'SKP-0112' });
  await pages.open('/bench?station=8');
  await pages.click(button('Read it all, unattended'));
  await ended('SKP-0112');
  await pages.open('/media/SKP-0112');
  expect(await text('[data-testid=disc-tracks]')).toMatch(/2\s+sound\s+\d+\s+300\s+0:04\s+WAV/);
  await driver.executeScript(
    'arguments[0].click()',
    await pages.find(By.xpath('//*[@data-testid="disc-tracks"]//tr[contains(., "0:03")]//a')),
  );
  const wav = await pages.downloaded('SKP-0112-track-03.wav');
  expect([wav.toString('latin1', 0, 4), wav.length]).toEqual(['RIFF', 44 + 225 * 2352]);
  await takenUnderPassphrase();
  await packedAsOne();
});

/** Under a passphrase: twice the same, and long enough. */
async function takenUnderPassphrase(): Promise<void> {
  await driver.executeScript(
    'arguments[0].click()',
    await pages.find(
      By.xpath('//tr[contains(., "SKP-0112.iso")]//button[contains(., "passphrase")]'),
    ),
  );
  const [first, second] = [
    await pages.find(css('input[name=passphrase]')),
    await pages.find(By.xpath('//label[contains(., "Once more")]/input')),
  ];
  await first.sendKeys('horn');
  await said(/At least 8 characters/, '[role=dialog] [role=alert]');
  await first.sendKeys(' over the water');
  await second.sendKeys('horn over the wader');
  await said(/not the same/, '[role=dialog] [role=alert]');
  expect(await (await pages.find(button('Download it protected'))).isEnabled()).toBe(false);
  await second.clear();
  await second.sendKeys('horn over the water');
  await pages.click(button('Download it protected'));
  const secret = await pages.downloaded('SKP-0112.iso.age');
  expect(secret.toString('latin1', 0, 21)).toBe('age-encryption.org/v1');
}

test('a large file goes in parts; the server dies meanwhile, and nothing of it is sent or stored twice', async () => {
  const path = join(application.folder, 'log house.img');
  const { image } = deviceScenario()[0]!;
  writeFileSync(path, image);
  await pages.open('/holdings');
  await (await pages.find(css('[data-testid=intake]'))).sendKeys(path);
  await until('some of it', async () =>
    /\d+ %/.test(await text('[data-testid=intakes]').catch(() => '')),
  );
  await server.kill();
  await server.restart();
  const codeOfPage = async () => /\/media\/([^/?#]+)/.exec(await driver.getCurrentUrl())?.[1];
  await until('its docket', async () => (await codeOfPage()) !== undefined);
  await pages.headingLike(/\d+ files$/);
  const code = decodeURIComponent((await codeOfPage())!);
  const { copy, medium } = await pages.json<{
    copy: { imageBytes: number };
    medium: { form: string; title: string };
  }>(`/api/docket/${code}`);
  expect([copy.imageBytes, medium.form, medium.title]).toEqual([
    image.length,
    'hard-disk',
    'log house.img',
  ]);
});

/** What packing would save is said before it is done, and the packed images wait as one ZIP. */
async function packedAsOne(): Promise<void> {
  await pages.open('/holdings');
  await pages.find(By.xpath('//td[contains(., "SKP-0112")]'));
  await pages.click(button('Take them out'));
  await pages.click(By.xpath('//label[contains(., "packed so that")]'));
  await said(
    /^Packed, [\d.]+ MiB would be about [\d.]+ [KM]iB \(\d+ %\)/,
    '[data-testid=packing-trial]',
  );
  await pages.click(By.xpath('//*[@role="dialog"]//button[normalize-space(.) = "Take them out"]'));
  await until(
    'the ZIP',
    async () => (await driver.findElements(css('[data-extract=done]'))).length > 0,
  );
  expect(await text('[data-testid=extracts]')).toMatch(/images packed/);
  await pages.find(link('Download the ZIP'));
}
