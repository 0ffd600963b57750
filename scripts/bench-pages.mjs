// Measures the pages of a running application: first view, drawing of the surface, and how far a
// page lags behind the bench.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT, ensureBrowser, run } from './lib/prepare.mjs';
import { startBrowser } from './lib/chromium.mjs';

const base = process.env.SPINDLE_URL ?? 'http://127.0.0.1:4700';
await ensureBrowser();
const { driver, close } = await startBrowser();
const rows = [];
try {
  await driver.get(`${base}/arrivals`);
  await driver.manage().addCookie({ name: 'spindle-operator', value: 'bench', path: '/' });
  for (const path of [
    '/arrivals',
    '/bench',
    '/holdings',
    '/media/SKP-0098',
    '/write-back',
    '/ledger',
  ]) {
    const times = [];
    for (let i = 0; i < 5; i++) {
      await driver.get(base + path);
      times.push(
        await driver.executeScript(
          'const [n] = performance.getEntriesByType("navigation"); return ' +
            'Math.max(n.loadEventEnd, ' +
            'performance.getEntriesByName("first-contentful-paint")[0]?.startTime ?? 0)',
        ),
      );
    }
    rows.push({
      page: path,
      'first view, ms (median of 5)': Math.round(times.sort((a, b) => a - b)[2]),
    });
  }
  // A disk of 10,240 sectors, taken in as a person would.
  const folder = mkdtempSync(join(tmpdir(), 'spindle-bench-'));
  const file = join(folder, 'many.fsflux');
  await run(process.execPath, [join(ROOT, 'build', 'bench.js'), 'many-sectors', file]);
  const taken = await fetch(`${base}/api/intake?name=many.fsflux`, {
    method: 'POST',
    headers: { cookie: 'spindle-operator=bench' },
    body: readFileSync(file),
  });
  const { id, error } = await taken.json();
  let code = null;
  for (let state = 'waiting'; id && !code && state !== 'refused';) {
    await driver.sleep(100);
    ({ state, code } = await (await fetch(`${base}/api/uploads/${id}`)).json());
  }
  rmSync(folder, { recursive: true, force: true });
  if (!code) throw new Error(error);
  const { copy } = await (await fetch(`${base}/api/docket/${code}`)).json();
  const sectors = copy.surface.reduce((sum, track) => sum + track.sectors.length, 0);
  await driver.get(`${base}/media/${code}`);
  const frame = (script) =>
    driver.executeScript(`const c = document.querySelector('[data-testid=surface]'); ${script}`);
  while (!(await frame('return Number(c?.dataset.longestMs ?? 0) > 0'))) await driver.sleep(200);
  const cold = Number(await frame('return c.dataset.longestMs'));
  const again = [];
  // The scheme changes, so the whole chart is drawn anew each time.
  for (let i = 0; i < 9; i++) {
    await frame(
      'c.dataset.longestMs = 0; document.documentElement.dataset.scheme = ' +
        `${i % 2 ? "'light'" : "'dark'"};`,
    );
    await driver.sleep(200);
    again.push(Number(await frame('return c.dataset.longestMs')));
  }
  rows.push({
    page: `surface, ${sectors} sectors drawn at once`,
    'cold, ms': cold.toFixed(1),
    'warm, ms (median of 9)': again.sort((a, b) => a - b)[4].toFixed(1),
  });
} finally {
  await close();
}
console.table(rows);
