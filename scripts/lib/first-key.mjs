// How long after a page is asked for it answers its first key.
import { startBrowser } from './chromium.mjs';

/**
 * Runs in the page before anything of it: presses a key every 20 ms from when there is a body to
 * press it in, and notes when what has the focus, or which row is chosen, is another.
 */
const PRESSING = (key) => `
  addEventListener('DOMContentLoaded', () => {
    const state = () => {
      const rows = [...document.querySelectorAll('[aria-selected]')];
      const chosen = rows.findIndex((row) => row.getAttribute('aria-selected') === 'true');
      return chosen + ' ' + document.activeElement?.tagName;
    };
    const before = { rows: 0, state: '' };
    const press = () => {
      const rows = document.querySelectorAll('tbody tr').length;
      if (rows !== before.rows) Object.assign(before, { rows, state: state() });
      else if (rows > 0 && state() !== before.state) return void (window.firstKeyAt = performance.now());
      const options = { key: ${JSON.stringify(key)}, bubbles: true, cancelable: true };
      (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keydown', options));
      setTimeout(press, 20);
    };
    press();
  });
`;

const RUNS = 5;
const MOST_MS = 60_000;

/**
 * Milliseconds from the navigation to the answer of the first key, the middle one of five.
 * @param {string} base
 * @param {readonly (readonly [path: string, key: string])[]} pages
 */
export async function firstKeys(base, pages) {
  const { driver, close } = await startBrowser();
  const rows = [];
  try {
    await driver.get(`${base}/arrivals`);
    await driver.manage().addCookie({ name: 'spindle-operator', value: 'bench', path: '/' });
    for (const [path, key] of pages) {
      const pressing = await driver.sendAndGetDevToolsCommand(
        'Page.addScriptToEvaluateOnNewDocument',
        { source: PRESSING(key) },
      );
      const times = [];
      for (let i = 0; i < RUNS; i++) {
        await driver.get(base + path);
        const answered = () => driver.executeScript('return window.firstKeyAt ?? null');
        times.push(await driver.wait(answered, MOST_MS));
      }
      await driver.sendDevToolsCommand('Page.removeScriptToEvaluateOnNewDocument', pressing);
      rows.push({ page: path, key, times: times.map(Math.round).sort((a, b) => a - b) });
    }
  } finally {
    await close();
  }
  return rows;
}
