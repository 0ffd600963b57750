/**
 * What browser suites begin and end with: the whole application with sample data, a browser, and an
 * operator of the tests.
 */
import type { WebDriver } from 'selenium-webdriver';
import { Application, type Program } from './application';
import { startBrowser, type Browser } from './browser';
import { Pages } from './pages';

interface BrowserSuite {
  application: Application;
  bench: Program;
  worker: Program;
  server: Program;
  browser: Browser;
  driver: WebDriver;
  pages: Pages;
}

/**
 * Started before the first test of the file, and ended after its last. `speed` is the bench's;
 * `then` prepares what the tests find; `language` is what it speaks, English where none is given.
 */
export function browserSuite(
  speed: number,
  then: (suite: BrowserSuite) => Promise<void> = async () => undefined,
  language?: string,
): BrowserSuite {
  const suite = {} as BrowserSuite;
  beforeAll(async () => {
    suite.application = await Application.prepare();
    suite.bench = await suite.application.startBench(speed);
    await suite.application.syncStations();
    suite.worker = suite.application.startWorker(language);
    suite.server = await suite.application.startPages(language);
    suite.browser = await startBrowser();
    suite.driver = suite.browser.driver;
    suite.pages = new Pages(suite.application, suite.browser);
    await suite.pages.open('/ledger');
    await suite.driver
      .manage()
      .addCookie({ name: 'spindle-operator', value: 'Tam%20Okoro', path: '/' });
    await then(suite);
  });
  afterAll(async () => {
    await suite.browser?.close();
    await suite.application?.stop();
  });
  return suite;
}
