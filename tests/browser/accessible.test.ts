/** Every page held against WCAG 2.2 AA by axe, in the light and in the dark scheme. */
import { readFileSync } from 'node:fs';
import { until } from '../support/application';
import { browserSuite } from '../support/browser-suite';
import { css } from '../support/pages';

jest.setTimeout(180_000);

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
    60,
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

const PAGES: [string, string][] = [
  ['/arrivals', 'tbody tr'],
  ['/arrivals/to-complete', 'tbody tr'],
  ['/bench?station=1', '[data-testid=range]'],
  ['/bench?station=2', '[data-testid=drive]'],
  ['/bench?station=1&view=afar', '[data-testid=afar]'],
  ['/holdings', 'tbody tr'],
  ['/media/SKP-0103', '[data-testid=surface]'],
  ['/media/SKP-0103/loupe?cylinder=1&head=0', '[data-testid=readings] tr'],
  ['/write-back', 'h1'],
  ['/write-back/memory-cards', 'h1'],
  ['/write-back/lines', 'h1'],
  ['/assembly', 'h1'],
  ['/ledger', 'tbody tr'],
  ['/layouts', 'tbody tr'],
  ['/holdings/alike', '[data-testid=alike]'],
  ['/holdings/alike/SKP-0101/SKP-0104', '[data-testid=pairs] tr'],
  ['/media/SKP-0099/bytes', '[data-testid=fields] tr'],
  ['/media/SKP-0099', '[data-testid=volume-inside]'],
  ['/signatures', 'h1'],
  ['/labels?codes=SKP-0117', 'svg[data-code]'],
];

test.each(PAGES)('%s', async (path, shown) => {
  await pages.open(path);
  await pages.find(css(shown));
  for (const scheme of ['light', 'dark']) {
    await driver.executeScript(`document.documentElement.dataset.scheme = '${scheme}'`);
    expect({ scheme, found: await violations() }).toEqual({ scheme, found: [] });
  }
});
