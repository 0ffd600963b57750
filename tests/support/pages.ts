/**
 * The pages of the application as a test works them: what is found, clicked and typed, always with
 * a wait.
 */
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import {
  By,
  error,
  until as seleniumUntil,
  type WebDriver,
  type WebElement,
} from 'selenium-webdriver';
import { until, type Application } from './application';
import type { Browser } from './browser';

export const css = (selector: string) => By.css(selector);
export const button = (text: string) =>
  By.xpath(`//button[contains(normalize-space(.), ${JSON.stringify(text)})]`);
export const link = (text: string) =>
  By.xpath(`//a[contains(normalize-space(.), ${JSON.stringify(text)})]`);

/** Longest wait for what a page shows: it ends a test that hangs, and says nothing of speed. */
const MAX_WAIT_SECONDS = 300;

const OPERATOR = 'spindle-operator=Tam%20Okoro';

/** How often keys are pressed for what they show. */
const PRESSES = 4;

const hasMoved = (trouble: unknown) =>
  trouble instanceof error.ElementClickInterceptedError ||
  trouble instanceof error.StaleElementReferenceError;

export class Pages {
  readonly driver: WebDriver;

  constructor(
    private readonly application: Application,
    private readonly browser: Browser,
  ) {
    this.driver = browser.driver;
  }

  /** Opens a page, and waits until it hears keys: what is pressed before is lost. */
  open = async (path: string): Promise<void> => {
    await this.driver.get(this.application.url + path);
    await this.find(css('html[data-hears=keys]'));
  };
  find = (by: By, seconds = MAX_WAIT_SECONDS): Promise<WebElement> =>
    this.driver.wait(seleniumUntil.elementLocated(by), seconds * 1000) as Promise<WebElement>;
  click = async (by: By): Promise<void> => (await this.find(by)).click();
  press = (...keys: string[]): Promise<void> =>
    this.driver
      .actions()
      .sendKeys(...keys)
      .perform();

  /**
   * Presses keys that show something for a few seconds only. On a busy machine it may be gone
   * before it was looked for, and is asked for again.
   */
  pressFor = async (keys: readonly string[], shown: By, seconds: number): Promise<void> => {
    for (let tries = 1; ; tries++) {
      await this.press(...keys);
      try {
        await this.find(shown, seconds);
        return;
      } catch (trouble) {
        if (tries === PRESSES) throw trouble;
      }
    }
  };

  /**
   * A row of Arrivals, brought clear of the strip that stands over the end of the list. The list
   * may move, or be made anew, between its coming there and the click: then it is sought again.
   */
  choose = async (code: string): Promise<void> => {
    const row = By.xpath(`//tr[contains(., "${code}")]/td[2]`);
    await until(`the row of ${code} to be clicked`, async () => {
      const cell = await this.find(row);
      try {
        await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', cell);
        await cell.click();
        return true;
      } catch (trouble) {
        if (hasMoved(trouble)) return false;
        throw trouble;
      }
    });
  };

  heading = (): Promise<string> =>
    until(
      'a heading',
      async () =>
        (await this.driver.findElements(css('h1'))).length > 0 &&
        (await this.driver.findElement(css('h1'))).getText(),
    );
  /** Fails with the heading that there was instead. */
  headingLike = async (pattern: RegExp, seconds = MAX_WAIT_SECONDS): Promise<void> => {
    let seen = '';
    await until(
      () => `heading ${pattern}; it was: ${seen}`,
      async () => pattern.test((seen = await this.heading().catch(() => 'none'))),
      seconds,
    );
  };

  tally = async (): Promise<Record<string, number>> =>
    Object.fromEntries(
      await Promise.all(
        (await this.driver.findElements(css('[data-testid=tally] [data-grade]'))).map(
          async (each) =>
            [
              await each.getAttribute('data-grade'),
              Number(await each.getAttribute('data-count')),
            ] as const,
        ),
      ),
    );

  /** What is answered to the operator of the tests; a whole address, or a path. */
  ask = (path: string): Promise<Response> =>
    fetch(new URL(path, this.application.url), { headers: { cookie: OPERATOR } });

  json = async <T>(path: string): Promise<T> => (await (await this.ask(path)).json()) as T;

  /** As a page would send it, by the operator of the tests; gives the status and the answer. */
  post = async (
    path: string,
    body: object,
  ): Promise<{ status: number; answer: Record<string, unknown> }> => {
    const response = await fetch(this.application.url + path, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie: OPERATOR },
      body: JSON.stringify(body),
    });
    return { status: response.status, answer: (await response.json()) as Record<string, unknown> };
  };

  /** The bytes of a link's download, as the browser saved them. */
  downloaded = (name: string): Promise<Buffer> =>
    until(
      `the download ${name}`,
      async () =>
        readdirSync(this.browser.downloads).includes(name) &&
        readFileSync(join(this.browser.downloads, name)),
    );
}
