/** What is registered, corrected in the pages: one medium, and thirty at once. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { browserSuite } from '../support/browser-suite';
import { until } from '../support/application';
import { linesOfPdf } from '../support/server/pdf-text';
import { button, css, link } from '../support/pages';

const suite = browserSuite(300);
let { application, driver, pages } = suite;
beforeAll(() => {
  ({ application, driver, pages } = suite);
});

const asked = async <T>(path: string): Promise<T> =>
  (await (await fetch(application.url + path)).json()) as T;
const factsOf = (q: string) =>
  asked<{ media: { code: string; lender: string; title: string }[] }>(
    `/api/media-facts?q=${encodeURIComponent(q)}`,
  ).then(({ media }) => media);

/** By the interface, as the person that the browser is. */
async function register(media: object[]): Promise<void> {
  const answer = await fetch(`${application.url}/api/media`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie: 'spindle-operator=Tam%20Okoro' },
    body: JSON.stringify({ media }),
  });
  expect(answer.status).toBe(200);
}
const made = (code: string, lender: string) => ({
  code,
  form: '3.5',
  title: `Disk ${code}`,
  lender,
});

test('a wrong lender of thirty media is corrected at once, after what changes was seen', async () => {
  const codes = Array.from({ length: 30 }, (_, i) => `WRL-${200 + i}`);
  await register(codes.map((code) => made(code, 'Skerow Pont museum')));
  await pages.open('/arrivals/correct');
  await (await pages.find(css('input[type=search]'))).sendKeys('skerow pont');
  await until(
    'thirty to be found',
    async () =>
      (await driver.findElements(css('tbody input[type=checkbox]:checked'))).length === 30,
  );
  // One of them came from somebody else after all.
  await pages.click(css('input[aria-label="WRL-229"]'));
  await (await pages.find(css('form input'))).sendKeys('Skerrow Point museum');
  await pages.click(css('form button[type=submit]'));
  const rows = css('[data-testid=changes] tr');
  await until('what changes', async () => (await driver.findElements(rows)).length === 29);
  expect(await (await pages.find(css('[data-testid=changes] del'))).getText()).toBe(
    'Skerow Pont museum',
  );
  expect(new Set((await factsOf('WRL-2')).map(({ lender }) => lender))).toEqual(
    new Set(['Skerow Pont museum']),
  );
  await pages.click(button('Correct 29 media'));
  await pages.find(css('[data-testid=corrected]'));
  const lenders = (await factsOf('WRL-2')).map(({ lender }) => lender);
  expect(lenders).toEqual([...Array(29).fill('Skerrow Point museum'), 'Skerow Pont museum']);
});

test('a table that was changed elsewhere is brought back; what can’t be understood changes nothing', async () => {
  await register([made('TBL-1', 'Table club'), made('TBL-2', 'Table club')]);
  const folder = mkdtempSync(join(tmpdir(), 'table-'));
  const bring = async (text: string) => {
    const path = join(folder, 'media.csv');
    writeFileSync(path, text);
    await (await pages.find(css('input[type=file]'))).sendKeys(path);
  };
  await pages.open('/arrivals/correct');
  await bring('code,title,place\r\nTBL-1,Buoy list,first\r\n');
  expect(await (await pages.find(css('div[role=alert]'))).getText()).toContain('Row 2, place');
  await bring('code,title\r\nTBL-1,Buoy list\r\nTBL-2,Bell list\r\n');
  await until(
    'what changes',
    async () => (await driver.findElements(css('[data-testid=changes] tr'))).length === 2,
  );
  await pages.press('c');
  await pages.find(css('[data-testid=corrected]'));
  expect((await factsOf('TBL-')).map(({ title }) => title)).toEqual(['Buoy list', 'Bell list']);
  rmSync(folder, { recursive: true });
});

test('on its docket everything of a medium is corrected, and its address follows its code', async () => {
  await register([made('ONE-1', 'The keeper')]);
  await pages.open('/media/ONE-1');
  await pages.find(By.id('condition'));
  await pages.press('e');
  const field = async (name: string) => pages.find(css(`[role=dialog] [name=${name}]`));
  for (const [name, text] of [
    ['code', 'ONE-11'],
    ['lender', 'The second keeper'],
  ] as const) {
    await (await field(name)).clear();
    await (await field(name)).sendKeys(text);
  }
  await pages.click(button('Correct it'));
  await until('the new address', async () => (await driver.getCurrentUrl()).endsWith('/ONE-11'));
  const line = await pages.find(css('#history'));
  await until('what it was', async () =>
    /code ONE-11 \(was ONE-1\).*lender The second keeper \(was The keeper\)/.test(
      await line.getText(),
    ),
  );
  // The old label leads there as well.
  await pages.open('/media/ONE-1');
  await until('the new address', async () => (await driver.getCurrentUrl()).endsWith('/ONE-11'));
});

test('what is said of a lot counts for its media, until they say it themselves', async () => {
  await register([{ ...made('SAY-1', 'The keeper'), lot: 'Box of the keeper' }]);
  const field = (name: string) => pages.find(css(`[role=dialog] [name="${name}"]`));
  const described = async () => (await pages.find(css('[data-testid=description]'))).getText();
  await pages.open('/media/SAY-1');
  await pages.click(By.linkText('Box of the keeper'));
  await pages.find(By.xpath('//h1[.="Box of the keeper"]'));
  await pages.press('d');
  await (await field('elements.language')).sendKeys('English');
  await (await field('elements.creator')).sendKeys('Three keepers');
  await pages.click(button('Keep it'));
  await pages.find(css('[role=dialog] [role=alert]'));
  await (await field('elements.language')).clear();
  await (await field('elements.language')).sendKeys('en');
  await pages.click(button('Keep it'));
  await until('what is said', async () => (await described()).includes('Three keepers'));
  await pages.open('/media/SAY-1');
  await until('what its lot says', async () =>
    /Three keepers\n.*Box of the keeper/.test(await described()),
  );
  await pages.press('d');
  await (await field('elements.creator')).sendKeys('The last of them');
  await pages.click(button('Keep it'));
  await until('its own', async () => /The last of them\n(?!.*Three)/.test(await described()));
});

test('what is dropped is taken in after it was said from whom it comes', async () => {
  await pages.open('/holdings');
  await driver.executeScript(`
    const files = new DataTransfer();
    const image = new Uint8Array(737_280);
    image.set([0xeb, 0x3c, 0x90]);
    files.items.add(new File([image], 'whose is it.img'));
    document.querySelector('main h1').dispatchEvent(
      new DragEvent('drop', { dataTransfer: files, bubbles: true, cancelable: true }));`);
  await (await pages.find(css('[role=dialog] [name=lender]'))).sendKeys('The harbour pilots');
  await (await pages.find(css('[role=dialog] [name=lot]'))).sendKeys('Crate of the pilots\n');
  const taken = async () =>
    (await factsOf('crate of the pilots')).map(({ title, lender }) => [title, lender]);
  await until('it to be taken in', async () => (await taken()).length === 1);
  expect(await taken()).toEqual([['whose is it.img', 'The harbour pilots']]);
});

test('a disk is handed back with a receipt, and its docket says where it is', async () => {
  const lot = 'box of the north pier';
  await register(['HBK-1', 'HBK-2'].map((code) => ({ ...made(code, 'A. Brennick'), lot })));
  await pages.open(`/lots/${encodeURIComponent(lot)}`);
  await pages.click(button('Receipt'));
  await (await pages.find(css('[name=person]'))).sendKeys('A. Brennick');
  await (await pages.find(css('[name=codes]'))).sendKeys('HBK-1');
  await pages.click(button('Note it and make the receipt'));
  const paper = await (await pages.find(link('Open it to print and sign'))).getAttribute('href');
  const answer = await pages.ask(new URL(paper!).pathname);
  expect(answer.headers.get('content-type')).toBe('application/pdf');
  const lines = (await linesOfPdf(new Uint8Array(await answer.arrayBuffer()))).flat();
  expect(lines.filter((line) => line.startsWith('HBK-'))).toEqual(['HBK-1']);
  await pages.click(button('Done'));
  await until('the page to say so', async () =>
    (await (await pages.find(css('tbody'))).getText()).includes('handed back'),
  );
  await pages.open('/media/HBK-1');
  expect(await (await pages.find(css('[data-testid=whereabouts]'))).getText()).toContain(
    'Handed back to A. Brennick on ',
  );
  const { media } = await asked<{ media: { code: string }[] }>('/api/media?q=HBK');
  expect(media.map(({ code }) => code)).toEqual(['HBK-2']);
});
