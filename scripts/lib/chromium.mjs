// Headless Chromium by Debian's driver, for the browser tests and the pictures.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';
import { chromedriverPath, chromiumPath } from './prepare.mjs';

/** A browser of exactly 1280 × 800, with a profile of its own; downloads go to `downloads`. */
export async function startBrowser() {
  const profile = mkdtempSync(join(tmpdir(), 'spindle-profile-'));
  const downloads = mkdtempSync(join(tmpdir(), 'spindle-downloads-'));
  const options = new chrome.Options().setChromeBinaryPath(chromiumPath());
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-dev-shm-usage',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--force-device-scale-factor=1',
    '--hide-scrollbars',
    '--window-size=1280,800',
    `--user-data-dir=${profile}`,
  );
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
  });
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder(chromedriverPath()))
    .build();
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: 1280,
    height: 800,
    deviceScaleFactor: 1,
    mobile: false,
  });
  const close = async () => {
    await driver.quit();
    for (const folder of [profile, downloads]) rmSync(folder, { recursive: true, force: true });
  };
  return { driver, downloads, close };
}
