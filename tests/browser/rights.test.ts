/** What leaves the house and what stays in it, through a real browser: an embargo, a permit, a parcel. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { dayOf } from '@/core/description/day';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { button, css, link } from '../support/pages';
import { loadVector, sha256Hex } from '../support/vectors';

const suite = browserSuite(30);
let { application, driver, pages } = suite;
beforeAll(() => {
  ({ application, driver, pages } = suite);
});

const DAY_MS = 86_400_000;
const inDays = (days: number): string => dayOf(new Date(Date.now() + days * DAY_MS));
const image = loadVector('volumes/fat12-720k.img');
const download = By.xpath('//section[@id="copies"]//tr[.//td[1][contains(., ".img")]]//a');
const HELD = css('[data-testid=held]');
const field = (name: string) => css(`[role=dialog] [name=${name}]`);
const send = css('[role=dialog] button[type=submit]');

/** A day as the browser's own field of days takes it, whatever its language. */
const setDay = async (day: string): Promise<void> => {
  await driver.executeScript(
    `const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
     set.call(arguments[0], arguments[1]);
     arguments[0].dispatchEvent(new Event('input', { bubbles: true }));
     arguments[0].dispatchEvent(new Event('change', { bubbles: true }));`,
    await pages.find(field('opensOn')),
    day,
  );
};
const closed = () =>
  until(
    'the dialog to close',
    async () => (await driver.findElements(css('[role=dialog]'))).length === 0,
  );

test('an embargo refuses a download, and opens on its day', async () => {
  const code = await application.takeIn('embargo.img', image);
  await pages.open(`/media/${code}`);
  const href = new URL((await (await pages.find(download)).getAttribute('href'))!).pathname;
  expect((await pages.ask(href)).status).toBe(200);
  await pages.click(button('Set its rights'));
  await pages.click(field('isRestricted'));
  await (await pages.find(field('reason'))).sendKeys('as the giver asked');
  await setDay(inDays(2));
  await pages.click(send);
  await closed();
  expect(await (await pages.find(HELD)).getText()).toContain(inDays(2));
  const refused = await pages.ask(href);
  expect([refused.status, await refused.json()]).toMatchObject([403, { code: 'rights.isHeld' }]);
  // Pressed, it asks to whom and why, and leaves nothing.
  await pages.click(download);
  await pages.find(field('recipient'));
  await pages.click(button('Not now'));
  // The day comes: as if it had been said to open today.
  await pages.click(button('Set its rights'));
  await setDay(inDays(0));
  await pages.click(send);
  await closed();
  await until('it to open', async () => (await driver.findElements(HELD)).length === 0);
  const opened = await pages.ask(href);
  expect(sha256Hex(new Uint8Array(await opened.arrayBuffer()))).toBe(sha256Hex(image));
});

test('what is held is handed out all the same to somebody, and the ledger says to whom', async () => {
  const code = await application.takeIn('held.img', image);
  await pages.post(`/api/rights/media/${code}`, {
    ...{ statement: '', words: '', isPersonal: true, restriction: null },
  });
  await pages.open(`/media/${code}`);
  await pages.find(HELD);
  await pages.click(download);
  await (await pages.find(field('recipient'))).sendKeys('R. Heron');
  await (await pages.find(field('reason'))).sendKeys('the family agreed');
  await pages.click(send);
  expect(sha256Hex(new Uint8Array(await pages.downloaded(`${code}.img`)))).toBe(sha256Hex(image));
  await pages.open('/ledger');
  const line = await pages.find(
    By.xpath(`//tr[contains(., "${code}.img handed out to R. Heron")]`),
  );
  expect(await line.getText()).toContain(sha256Hex(image));
});

test('for whom things are taken out is seen beside who is at work, and goes into the ledger', async () => {
  const code = await application.takeIn('asked.img', image);
  await pages.open(`/media/${code}`);
  await pages.click(By.xpath('//nav//button[contains(., "Tam Okoro")]'));
  await (await pages.find(field('recipient'))).sendKeys('L. Grebe');
  await pages.click(By.xpath('//*[@role="dialog"]//button[normalize-space(.) = "Keep"]'));
  await pages.find(By.xpath('//nav//button[contains(., "L. Grebe")]'));
  await pages.click(download);
  await pages.downloaded(`${code}.img`);
  await pages.open('/ledger');
  await pages.find(By.xpath(`//tr[contains(., "${code}.img handed out to L. Grebe")]`));
});

test('a parcel is made of a lot, goes, checks out by its own manifests, and is written down', async () => {
  for (const code of ['BRP-1', 'BRP-2']) {
    const about = { code, form: '3.5', title: `Disk ${code}`, lot: 'browser parcel' };
    expect((await pages.post('/api/media', about)).status).toBe(200);
  }
  await pages.open('/lots/browser%20parcel');
  await pages.press('p');
  await (await pages.find(field('title'))).sendKeys('What the harbour lent');
  await (await pages.find(field('recipient'))).sendKeys('Harbour museum');
  await pages.click(send);
  const entry = await pages.find(
    By.xpath('//*[@data-testid="parcels"]/li[contains(., "What the harbour lent")]'),
  );
  const href = await (
    await entry.findElement(css('a[href^="/api/parcels/"]'))
  ).getAttribute('href');
  const id = href!.split('/').pop()!;
  await entry.findElement(link('Download')).click();
  const tar = await pages.downloaded(`parcel-${id}.tar`);
  const folder = mkdtempSync(join(tmpdir(), 'parcel-'));
  try {
    writeFileSync(join(folder, 'bag.tar'), tar);
    execFileSync('tar', ['xf', 'bag.tar'], { cwd: folder });
    const bag = { cwd: join(folder, `parcel-${id}`) };
    for (const manifest of ['manifest-sha256.txt', 'tagmanifest-sha256.txt'])
      execFileSync('sha256sum', ['--strict', '-c', manifest], bag);
    expect(readdirSync(join(bag.cwd, 'data')).sort()).toEqual(['BRP-1', 'BRP-2', 'index.html']);
    const digest = sha256Hex(readFileSync(join(bag.cwd, 'manifest-sha256.txt')));
    await pages.find(By.xpath(`//*[@data-testid="parcels"]/li[contains(., "${digest}")]`));
  } finally {
    rmSync(folder, { recursive: true });
  }
});

test('a lot’s statement is said of its media, and leads to what it means', async () => {
  await pages.open('/lots/lot%202');
  await pages.find(By.xpath('//*[@data-testid="rights"]//a[contains(@href, "/InC-EDU/1.0/")]'));
  await pages.open('/media/SKP-0098');
  const said = await pages.find(css('[data-testid=rights] dl'));
  await until('the lot’s', async () => /of its lot/.test(await said.getText()));
  await pages.find(link('InC-EDU'));
});
