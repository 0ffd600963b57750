/** Every page held against WCAG 2.2 AA by axe, in the light and in the dark scheme. */
import { readFileSync } from 'node:fs';
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

async function violations(): Promise<string[]> {
  await driver.executeScript(AXE);
  const found = await driver.executeAsyncScript<Violation[]>(
    'const [tags, done] = arguments; axe.run(document, { runOnly: { type: "tag", values: tags } }).then(({ violations }) => done(violations))',
    TAGS,
  );
  return found.flatMap(({ id, nodes }) =>
    nodes.map(
      ({ target, failureSummary }) =>
        `${id}: ${target.join(' ')}: ${failureSummary.split('\n').slice(1).join(' ').trim()}`,
    ),
  );
}

test.each(MAIN_PAGES)('%s', async (path, shown) => {
  await pages.open(path);
  await pages.find(css(shown));
  for (const scheme of ['light', 'dark']) {
    await driver.executeScript(`document.documentElement.dataset.scheme = '${scheme}'`);
    expect({ scheme, found: await violations() }).toEqual({ scheme, found: [] });
  }
});
