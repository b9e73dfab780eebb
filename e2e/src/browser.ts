import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, logging, type WebDriver } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

const FLAGS = [
  '--headless=new',
  '--no-sandbox',
  '--disable-dev-shm-usage',
  '--disable-quic',
  '--no-first-run',
  '--no-default-browser-check',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-default-apps',
  '--disable-extensions',
  '--metrics-recording-only',
  '--disable-domain-reliability',
  '--password-store=basic',
  '--use-mock-keychain',
  '--disable-features=OptimizationHints,MediaRouter,Translate,AutofillServerCommunication,CertificateTransparencyComponentUpdater',
  '--window-size=1280,800',
  '--force-device-scale-factor=1',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
];

/** A headless Chromium with its own empty profile and download folder. */
export interface Browser {
  readonly driver: chrome.Driver;
  readonly downloads: string;
  close(): Promise<void>;
}

/** Starts Debian's Chromium with a page of exactly `width` × `height`. */
export async function startBrowser(width = 1280, height = 800): Promise<Browser> {
  Object.assign(process.env, {
    SE_OFFLINE: 'true',
    SE_AVOID_STATS: 'true',
    SE_AVOID_BROWSER_DOWNLOAD: 'true',
  });
  const folder = mkdtempSync(join(tmpdir(), 'ulvex-e2e-'));
  const downloads = join(folder, 'downloads');
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(...FLAGS, `--user-data-dir=${join(folder, 'profile')}`);
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
    'profile.default_content_setting_values.automatic_downloads': 1,
  });
  const preferences = new logging.Preferences();
  preferences.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  options.setLoggingPrefs(preferences);
  const driver = (await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build()) as chrome.Driver;
  await resize(driver, width, height);
  return {
    driver,
    downloads,
    async close() {
      await driver.quit();
      rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}

/** Gives the page an exact size, whatever the window adds. */
export async function resize(driver: chrome.Driver, width: number, height: number): Promise<void> {
  const metrics = { width, height, deviceScaleFactor: 1, mobile: false };
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', metrics);
}

/** Errors that the page wrote to the console since the last call. */
export async function consoleErrors(driver: WebDriver): Promise<string[]> {
  const entries = await driver.manage().logs().get(logging.Type.BROWSER);
  return entries
    .filter((entry) => entry.level.value >= logging.Level.SEVERE.value)
    .map((entry) => entry.message);
}
