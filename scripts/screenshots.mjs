// `npm run screenshots`: starts the application on fresh sample data and takes one picture of each
// main view.
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ensureBrowser, installPackages, ROOT } from './lib/prepare.mjs';
import { freePort, startProcess, waitForPages } from './lib/processes.mjs';

await installPackages();
await ensureBrowser();
const { startBrowser } = await import('./lib/chromium.mjs');
const data = join(ROOT, 'data', 'pictures');
rmSync(data, { recursive: true, force: true });
const port = await freePort();
const base = `http://127.0.0.1:${port}`;
const env = {
  SPINDLE_DATA: data,
  SPINDLE_PORT: String(port),
  SPINDLE_BENCH_PORT: String(await freePort()),
  SPINDLE_DB_PORT: String(await freePort()),
  SPINDLE_FOLDERS_PORT: String(await freePort()),
  SPINDLE_BENCH_SPEED: '12',
};
const application = startProcess('application', ['scripts/start.mjs'], { env, keep: false });
const cookie = 'spindle-operator=Ingrid%20Sollis';
const post = async (path, body) => {
  const response = await fetch(base + path, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return response.json();
};
const until = async (look) => {
  while (!(await look())) await sleep(100);
};
const json = async (path) => (await fetch(base + path)).json();
try {
  await waitForPages(base, 180);
  await until(
    async () =>
      (await json('/api/stations')).length > 0 && (await json('/api/media')).media.length > 5,
  );
  const { driver, close } = await startBrowser();
  // A hurt track is decoded, and weighed, for some seconds.
  const isDecoding = () =>
    driver.executeScript('return /^(Decoding|Weighing)/m.test(document.body.innerText)');
  const picture = async (name, path, prepare) => {
    if (path) await driver.get(base + path);
    await sleep(1200);
    await until(async () => !(await isDecoding()));
    if (prepare) {
      await driver.executeScript(prepare);
      await sleep(800);
      await until(async () => !(await isDecoding()));
    }
    writeFileSync(
      join(ROOT, 'docs', 'screenshots', `${name}.png`),
      await driver.takeScreenshot(),
      'base64',
    );
  };
  const scheme = (name) =>
    driver.executeScript(`document.documentElement.dataset.scheme = '${name}'`);
  await driver.get(`${base}/arrivals`);
  await driver
    .manage()
    .addCookie({ name: 'spindle-operator', value: 'Ingrid%20Sollis', path: '/' });
  await picture('arrivals', '/arrivals');
  await post('/api/stations/1', { action: 'place', code: 'SKP-0117' });
  await post('/api/stations/2', { action: 'place', code: 'BLK-0001' });
  const { sittingId } = await post('/api/stations/1', { action: 'start', unattended: false });
  await until(async () => (await json(`/api/sittings/${sittingId}`)).state === 'asks');
  await picture('range', '/bench?station=1');
  await post(`/api/sittings/${sittingId}`, {
    requestedAction: 'read',
    range: { from: 0, to: 79, heads: [0, 1], step: 1 },
  });
  await driver.get(`${base}/bench?station=1`);
  await until(async () => (await json(`/api/sittings/${sittingId}`)).tracks.length > 125);
  await picture('bench');
  await picture('afar', '/bench?station=1&view=afar');
  await until(async () => (await json(`/api/sittings/${sittingId}`)).state === 'done');
  await picture('docket', '/media/SKP-0117');
  await picture(
    'contents',
    '/media/SKP-0099',
    'document.getElementById("contents").scrollIntoView(); ' +
      '[...document.querySelectorAll("[data-file] button")].find((each) => ' +
      'each.textContent === "MOLE.BMP").click()',
  );
  await picture(
    'track',
    '/media/SKP-0101',
    'document.querySelector("[data-testid=remarks] li button").click(); ' +
      'setTimeout(() => ' +
      'document.querySelector("[data-testid=track-panel]").scrollIntoView(), 500)',
  );
  await picture(
    'loupe',
    '/media/SKP-0103/loupe?cylinder=1&head=0',
    'setTimeout(() => document.dispatchEvent(new KeyboardEvent("keydown", { key: ' +
      '"t", bubbles: true })), 500)',
  );
  await post('/api/stations/7', { action: 'place', code: 'SKP-0111' });
  await post('/api/stations/8', { action: 'place', code: 'SKP-0112' });
  const disk = await post('/api/stations/7', { action: 'start', unattended: true });
  const disc = await post('/api/stations/8', { action: 'start', unattended: true });
  await driver.get(`${base}/bench?station=7`);
  await until(async () => (await json(`/api/sittings/${disk.sittingId}`)).tally.firm > 55_000);
  await picture('blocks');
  await until(async () => (await json(`/api/sittings/${disc.sittingId}`)).state === 'done');
  await picture('disc', '/media/SKP-0112', 'document.getElementById("surface").scrollIntoView()');
  await picture('layouts', '/layouts');
  await picture('holdings', '/holdings');
  await picture('bytes', '/media/SKP-0099/bytes');
  await picture('sounds', '/media/SKP-0130/sounds');
  await until(async () => (await json('/api/sounds')).total.media === 2);
  await driver.get(`${base}/holdings/sounds`);
  await scheme('dark');
  await picture('all-sounds-dark');
  await scheme('light');
  await picture(
    'side-by-side',
    '/holdings/alike/SKP-0098/SKP-0101',
    'document.querySelector("button[aria-pressed]")?.click()',
  );
  const { copies } = await json('/api/holdings');
  await post('/api/writebacks', {
    fairCopyId: copies.find(({ code }) => code === 'SKP-0104').id,
    stationId: 2,
  });
  await until(async () => (await json('/api/writebacks'))[0].tracks.length > 70);
  await picture('write-back', '/write-back');
  await picture('ledger', '/ledger');
  const assembly = await post('/api/assemblies', {
    title: 'For the reading room',
    baseId: copies.find(({ code }) => code === 'SKP-0104').id,
  });
  const act = (action) => post(`/api/assemblies/${assembly.id}`, action);
  const { found } = await json('/api/holdings?q=tides');
  await act({ do: 'edit', edit: { kind: 'folder', path: 'TIDES' } });
  await act({ do: 'add', files: found.slice(0, 8).map(({ id }) => id), folder: 'TIDES' });
  await act({ do: 'edit', edit: { kind: 'rename', path: 'LETTER.TXT', name: 'DUES.TXT' } });
  await act({ do: 'target', target: 'fat-double-density' });
  await driver.get(`${base}/assembly/${assembly.id}`);
  await driver.findElement({ css: '[data-testid=source]' }).sendKeys('fog');
  await picture('assembly');
  await close();
} finally {
  await application.stop();
  rmSync(data, { recursive: true, force: true });
}
