/** Sounds heard in place: gone through by keys, played over keys, looped, taken out. */
import { By, Key } from 'selenium-webdriver';
import { browserSuite } from '../support/browser-suite';
import { until } from '../support/application';
import { button, css } from '../support/pages';
import { strictSfz } from '../support/sound/strict-sfz';
import { strictWav } from '../support/sound/strict-wav';
import { unzip } from '../support/unzip';

const suite = browserSuite(300);
let { driver, pages } = suite;
beforeAll(() => {
  ({ driver, pages } = suite);
});

const SAMPLER = '/media/SKP-0130/sounds';

/** The greatest value that goes out now, by the meter of the page. */
const level = async () =>
  Number(await (await pages.find(css('[data-testid=level]'))).getAttribute('data-level'));
const AUDIBLE = 0.02;
const sounding = () => until('a sound', async () => (await level()) > AUDIBLE);
/** From now on the page itself keeps the greatest value: a short sound is over between two looks. */
const listen = () =>
  driver.executeScript(`
    window.loudest = 0;
    window.levels ??= new MutationObserver((changes) => {
      for (const { target } of changes)
        window.loudest = Math.max(window.loudest, Number(target.getAttribute('data-level')));
    });
    levels.observe(document.body, { subtree: true, attributeFilter: ['data-level'] });
  `);
const sounded = () =>
  until('a sound', async () => (await driver.executeScript<number>('return loudest')) > AUDIBLE);
const silent = () => until('silence', async () => (await level()) === 0);
const chosen = async () => (await pages.find(css('[role=option][aria-selected=true]'))).getText();

test('a volume is gone through by keys, and each sound is heard at once', async () => {
  await pages.open('/media/SKP-0130');
  await pages.press('s');
  await pages.find(css('[role=option][aria-selected=true]'));
  expect(await level()).toBe(0);
  for (const name of ['HORN HIGH', 'HORN HARD', 'BELL']) {
    await listen();
    await pages.press(Key.ARROW_DOWN);
    await until(`${name} to be chosen`, async () => (await chosen()).startsWith(name));
    await sounded();
    if (name === 'BELL') break;
    // Silent again: what sounds next is the next.
    await pages.press(' ');
    await silent();
  }
  // The bell is over after a second and a half, and nothing goes on.
  await silent();
});

test('what has a loop goes on for longer than it lasts, until it is stopped', async () => {
  await pages.open(SAMPLER);
  await until('the first sample', async () => (await chosen()).startsWith('HORN LOW'));
  await pages.find(css('[data-testid=play]'));
  await pages.press(' ');
  await sounding();
  const begun = Date.now();
  await until('three seconds', async () => Date.now() - begun > 3000);
  expect(await level()).toBeGreaterThan(AUDIBLE);
  await pages.press(' ');
  await silent();
  // The button itself has the focus then, and the key is one key all the same.
  await pages.click(css('[data-testid=play]'));
  await sounding();
  await pages.press(' ');
  await silent();
});

test('a program is played by letters and by the mouse, softer and louder by other samples', async () => {
  await pages.open(SAMPLER);
  await pages.click(By.xpath('//button[@role="option"][contains(., "NORTH MOLE")]'));
  const keys = await pages.find(css('[data-testid=program-keys]'));
  expect(await keys.findElements(css('rect[data-key]'))).toHaveLength(85);
  const heard = () =>
    driver.executeScript<string[]>(
      'return performance.getEntriesByType("resource")' +
        '.map(({ name }) => name).filter((name) => /listen/.test(name))',
    );
  const key = await pages.find(css('rect[data-key="36"]'));
  const play = (y: number) =>
    driver.actions().move({ origin: key, x: 0, y }).press().pause(400).release().perform();
  await play(-20);
  await until('the softer sample', async () => (await heard()).length === 1);
  await play(24);
  await until('the louder one', async () => (await heard()).length === 2);
  await silent();
  await driver.actions().keyDown('z').perform();
  await sounding();
  await driver.actions().keyUp('z').perform();
  await silent();
});

test('all of it is taken out as WAV and SFZ', async () => {
  await pages.open(SAMPLER);
  await pages.click(button('Take the sounds out'));
  const href = await (
    await pages.find(By.xpath('//a[contains(@href, "/api/extracts/")]'))
  ).getAttribute('href');
  const response = await pages.ask(href!);
  const files = unzip(new Uint8Array(await response.arrayBuffer()));
  const names = [...files.keys()];
  const wavs = names.filter((name) => name.endsWith('.wav'));
  expect(wavs).toHaveLength(5);
  for (const name of wavs) expect(strictWav(Buffer.from(files.get(name)!)).bits).toBe(16);
  const text = Buffer.from(files.get('SKP-0130/A/FOG SIGNALS/NORTH MOLE.sfz')!).toString();
  expect(strictSfz(text).map(({ sample }) => sample)).toEqual([
    'HORN LOW.wav',
    'HORN HARD.wav',
    'HORN HIGH.wav',
    'BELL.wav',
  ]);
});

test('the waves of a floppy are heard at a rate that is said to be assumed', async () => {
  await pages.open('/media/SKP-0131/sounds');
  await until('a wave', async () => (await chosen()).startsWith('wave-1'));
  await listen();
  await pages.press(Key.ARROW_DOWN);
  await sounded();
  const facts = async () => (await pages.find(css('dl'))).getText();
  expect(await facts()).toMatch(/29.411 Hz, assumed/);
  await silent();
  await listen();
  await pages.click(css('select option[value="15000"]'));
  await until('the other rate', async () => /15.000 Hz/.test(await facts()));
  await sounded();
});

test('a disc of sound is played on over the gap from one track into the next, and on from any', async () => {
  await pages.open('/media/SKP-0132/sounds');
  const place = async () => (await pages.find(css('[data-testid=disc-place]'))).getText();
  expect(await place()).toMatch(/^Track 1, index 1/);
  const goTo = (seconds: number) =>
    driver.executeScript(`document.querySelector('audio').currentTime = ${seconds}`);
  await pages.press(' ');
  await until('the first track', async () => /^Track 1, index 1, 0:01/.test(await place()));
  // Six seconds of the first, two of the gap: stopped in it, so that nobody misses it.
  await pages.press(' ');
  await goTo(7.5);
  await until('the gap', async () => /^Track 2, index 0, −0:00/.test(await place()));
  await pages.press(' ');
  await until('the second track', async () => /^Track 2, index 1, 0:0\d/.test(await place()));
  await pages.press(Key.ARROW_DOWN);
  await until('the third', async () => /^Track 3, index 1, 0:01/.test(await place()));
  await pages.click(css('section input[type=checkbox]'));
  await pages.press(Key.ARROW_UP);
  const length = await until('its length', () =>
    driver.executeScript<number>(`return document.querySelector('audio').duration`),
  );
  expect(length).toBeCloseTo(18, 1);
});

test('a sample is heard in the list of its files, without leaving it', async () => {
  await pages.open('/media/SKP-0130');
  const rows = css('[data-testid=volume] [data-file]');
  await pages.find(rows);
  await until('a sample at the cursor', async () => {
    if ((await driver.findElements(css('[data-testid=heard-in-column] canvas'))).length > 0)
      return true;
    await pages.press('j');
    return false;
  });
  await pages.press(' ');
  await until('it to sound', async () =>
    /Stop/.test(await (await pages.find(css('[data-testid=play]'))).getText()),
  );
});
