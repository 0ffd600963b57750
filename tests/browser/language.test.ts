/**
 * Another language: the main pages in one that nobody speaks, made from English with accents on
 * every letter and a third longer. What is still plain there was not said through the catalogue;
 * what is cut off would be in any longer language.
 */
import pg from 'pg';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { MAIN_PAGES } from '../support/main-pages';
import { css } from '../support/pages';

const suite = browserSuite(
  30,
  async ({ pages }) => {
    await pages.post('/api/stations/1', { action: 'place', code: 'SKP-0117' });
    await pages.post('/api/stations/1', { action: 'start', unattended: false });
    await until(
      'the question',
      async () =>
        (await pages.json<{ sitting: { state: string } | null }[]>('/api/stations'))[0]!.sitting
          ?.state === 'asks',
    );
  },
  'pseudo',
);
let { driver, pages } = suite;
beforeAll(() => {
  ({ driver, pages } = suite);
});

/** Fields of the byte view stand in English still; a label is a code. */
const LEFT_OUT = ['/media/SKP-0099/bytes', '/labels?codes=SKP-0117'];
const PAGES = MAIN_PAGES.filter(([path]) => !LEFT_OUT.includes(path));

/** What every text node and every label of the page says, but for what is not ours to translate. */
const SAID = `
  const said = [];
  const isSeen = (element) =>
    element.checkVisibility() && !element.closest('script, style, [translate=no], textarea, code');
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode())
    if (node.textContent.trim() && isSeen(node.parentElement)) said.push(node.textContent.trim());
  for (const name of ['aria-label', 'placeholder', 'title', 'alt'])
    for (const element of document.querySelectorAll('[' + name + ']'))
      if (isSeen(element)) said.push(element.getAttribute(name));
  return [...new Set(said)];
`;

/** Texts that are cut off, where the page does not mean to: buttons, headings, cells, labels. */
const CUT = `
  const below = [...document.querySelectorAll('[aria-keyshortcuts="Shift+S"], [aria-keyshortcuts="Shift+S"] ~ *')]
    .filter((element) => element.getBoundingClientRect().bottom > innerHeight)
    .map((element) => 'below the window: ' + element.textContent.trim());
  return below.concat([...document.querySelectorAll('h1, h2, h3, button, th, label, summary, dt, legend')]
    .filter((element) => element.checkVisibility() && !element.closest('.truncate, .sr-only'))
    .filter((element) => {
      const { overflowX } = getComputedStyle(element);
      return overflowX !== 'visible' && element.scrollWidth > element.clientWidth + 1;
    })
    .map((element) => element.textContent.trim()));
`;

/** What people and devices wrote, the longest first: it stays as it is in every language. */
async function given(): Promise<string[]> {
  const client = new pg.Client({ connectionString: suite.application.databaseUrl });
  await client.connect();
  const { rows } = await client.query<{ text: string }>(
    `select unnest(array[title, label_text, lender, lot, condition, set_name, code, shelf]) as text
       from media
     union select unnest(array[person, notes, lenders]) from receipts
     union select unnest(array[model, serial]) from stations
     union select source_name from fair_copies union select layout from fair_copies
     union select unnest(string_to_array(path, '/')) from files union select recorded_name from files
     union select label from volumes union select name from operators
     union select name from attachments
     union select unnest(array[name, contact, notes]) from lenders
     union select unnest(array[name, kind, identifier, notes]) from machines
     union select unnest(array[statement, words, reason]) from rights
     union select jsonb_array_elements_text(value) from descriptions, jsonb_each(elements)
     union select unnest(array[acquisition ->> 'from', acquisition ->> 'notes']) from descriptions`,
  );
  await client.end();
  const texts = rows
    .flatMap(({ text }) => (text ? [text, ...text.split(/[,;:] /)] : []))
    .concat(SHIPPED_LAYOUTS.map(({ id }) => id));
  return [...new Set(texts)]
    .filter((text) => /[a-z]/.test(text))
    .sort((a, b) => b.length - a.length);
}

const DIGESTS = /\b[0-9a-f]{64}\b/g;
const PLAIN_WORD = /(?<![.\p{L}-])[a-z]{3,}(?![\p{L}\d-])/u;

let texts: string[];
beforeAll(async () => {
  texts = await given();
  await driver.manage().window().setRect({ width: 1280, height: 800 });
});

/** What a page says in plain words beside what was given. */
const plainBeside = (said: string) => {
  let rest = said.replaceAll(DIGESTS, ' ');
  for (const text of texts) rest = rest.replaceAll(text, ' ');
  return PLAIN_WORD.test(rest);
};

test.each(PAGES)('%s', async (path, shown) => {
  await pages.open(path);
  await pages.find(css(shown));
  expect(await driver.executeScript('return document.documentElement.lang')).toBe('en-x-pseudo');
  const said = await driver.executeScript<string[]>(SAID);
  expect(said.length).toBeGreaterThan(20);
  expect(said.filter(plainBeside)).toEqual([]);
  expect(await driver.executeScript<string[]>(CUT)).toEqual([]);
});

test('a refusal is told in it, by its code', async () => {
  const { status, answer } = await pages.post('/api/stations/1', {
    action: 'place',
    code: 'SKP-9999',
  });
  expect(status).toBe(404);
  expect(answer.code).toBe('platform.thereIsNo');
  expect(answer.error).not.toMatch(PLAIN_WORD);
});

test('what is entered wrongly is told in it, field by field', async () => {
  const { status, answer } = await pages.post('/api/media', { code: '??', form: '3.5', title: '' });
  expect(status).toBe(422);
  expect(answer.code).toBe('platform.someFields');
  const fields = answer.fields as Record<string, string>;
  expect(fields).toMatchObject({ code: expect.any(String), title: expect.any(String) });
  expect([answer.error, fields.code, fields.title].join(' ')).not.toMatch(PLAIN_WORD);
});
