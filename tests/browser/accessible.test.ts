/** Every page held against WCAG 2.2 AA by axe, in the light and in the dark scheme. */
import { readFileSync } from 'node:fs';
import { get, type IncomingHttpHeaders } from 'node:http';
import { logging } from 'selenium-webdriver';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { MAIN_PAGES } from '../support/main-pages';
import { css } from '../support/pages';

const AXE = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

const suite = browserSuite(30, async ({ pages }) => {
  await pages.post('/api/stations/1', { action: 'place', code: 'SKP-0117' });
  await pages.post('/api/stations/1', { action: 'start', unattended: false });
  await until(
    'the question',
    async () =>
      (await pages.json<{ sitting: { state: string } | null }[]>('/api/stations'))[0]!.sitting
        ?.state === 'asks',
  );
});
let { driver, pages } = suite;
beforeAll(() => {
  ({ driver, pages } = suite);
});

interface Violation {
  id: string;
  nodes: { target: string[]; failureSummary: string }[];
}

type Rules = { type: 'tag' | 'rule'; values: string[] };

/** What each scheme is held against: in the second only colours differ. */
const RULES: [scheme: string, rules: Rules][] = [
  ['light', { type: 'tag', values: TAGS }],
  ['dark', { type: 'rule', values: ['color-contrast'] }],
];

async function violations(rules: Rules): Promise<string[]> {
  const found = await driver.executeAsyncScript<Violation[]>(
    'const [runOnly, done] = arguments; axe.run(document, { runOnly }).then(({ violations }) => done(violations))',
    rules,
  );
  return found.flatMap(({ id, nodes }) =>
    nodes.map(
      ({ target, failureSummary }) =>
        `${id}: ${target.join(' ')}: ${failureSummary.split('\n').slice(1).join(' ').trim()}`,
    ),
  );
}

/** What the page's console says is wrong: scripts that fail, and what its policy keeps from running. */
const consoleErrors = async () =>
  (await driver.manage().logs().get(logging.Type.BROWSER)).map(({ message }) => message);

test.each(MAIN_PAGES)('%s', async (path, shown) => {
  await pages.open(path);
  await pages.find(css(shown));
  expect(await consoleErrors()).toEqual([]);
  await driver.executeScript(AXE);
  for (const [scheme, rules] of RULES) {
    await driver.executeScript(`document.documentElement.dataset.scheme = '${scheme}'`);
    expect({ scheme, found: await violations(rules) }).toEqual({ scheme, found: [] });
  }
});

test('a script that the page did not bring is not run, and said so', async () => {
  await pages.open('/layouts');
  // As markup that somebody smuggled in would be: the browser lets a driver's own scripts do more.
  await driver.executeScript(
    `document.body.insertAdjacentHTML('beforeend', '<img src="/api/none" onerror="window.ranHere = true">')`,
  );
  // Both, so that none is left for the page that is looked at next.
  const said: string[] = [];
  await until('the refusal, and the image that is not there', async () => {
    said.push(...(await consoleErrors()));
    return [/Policy/, /404/].every((words) => said.some((each) => words.test(each)));
  });
  const ran = await driver.executeScript('return window.ranHere ?? false');
  expect(ran).toBe(false);
});

test('under another name than this computer has, no page is given; in no frame, and of no guessed type', async () => {
  const { port } = new URL(suite.application.url);
  const headersAs = (host: string) =>
    new Promise<[number, IncomingHttpHeaders]>((resolve, reject) =>
      get({ host: '127.0.0.1', port, path: '/ledger', headers: { host } }, (answer) => {
        answer.resume();
        resolve([answer.statusCode!, answer.headers]);
      }).on('error', reject),
    );
  const [status, headers] = await headersAs(`127.0.0.1:${port}`);
  expect([status, headers['x-content-type-options'], headers['referrer-policy']]).toEqual([
    200,
    'nosniff',
    'same-origin',
  ]);
  expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
  expect((await headersAs('elsewhere.example'))[0]).toBe(403);
});
