/** Headless Chromium for tests; the same one that makes the pictures. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, logging, type WebDriver } from 'selenium-webdriver';
import { Options, ServiceBuilder, type Driver } from 'selenium-webdriver/chrome';

const FLAGS = [
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
];

const LONGEST_SCRIPT_MS = 300_000;

export interface Browser {
  driver: WebDriver;
  downloads: string;
  close(): Promise<void>;
}

/** A browser whose page is exactly 1280 × 800, with a profile and a download folder of its own. */
export async function startBrowser(): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), 'spindle-profile-'));
  const downloads = mkdtempSync(join(tmpdir(), 'spindle-downloads-'));
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(...FLAGS, `--user-data-dir=${profile}`);
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
    'profile.default_content_setting_values.automatic_downloads': 1,
  });
  const said = new logging.Preferences();
  said.setLevel(logging.Type.BROWSER, logging.Level.SEVERE);
  options.setLoggingPrefs(said);
  const driver = (await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build()) as Driver;
  // No test is about time: this only ends a script that hangs, also where the machine is slow.
  await driver.manage().setTimeouts({ script: LONGEST_SCRIPT_MS });
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: 1280,
    height: 800,
    deviceScaleFactor: 1,
    mobile: false,
  });
  return {
    driver,
    downloads,
    async close() {
      await driver.quit();
      for (const folder of [profile, downloads]) rmSync(folder, { recursive: true, force: true });
    },
  };
}
