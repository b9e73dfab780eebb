import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
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
];

/** Pictures in WebGL through software: what the interface tests need, at the price of slow frames. */
const SOFTWARE_GL = ['--use-angle=swiftshader', '--enable-unsafe-swiftshader'];
/** No GPU process work at all: frames are put together in memory, as quickly as this machine can. */
const NO_GPU = ['--disable-gpu'];

/** A headless Chromium with its own empty profile and download folder. */
export interface Browser {
  readonly driver: chrome.Driver;
  readonly downloads: string;
  close(): Promise<void>;
  /** Ends the browser without waiting for anything: when this process ends. */
  end(): void;
  /** Ends the browser as a crash of the machine would: at once, with nothing said to the page. */
  kill(): Promise<void>;
}

export interface BrowserChoice {
  readonly width?: number;
  readonly height?: number;
  /** Whether pages can draw in WebGL; true by default. */
  readonly webgl?: boolean;
  /** Keeps its profile in this folder, which then outlives the browser; a folder of its own by default. */
  readonly profile?: string;
}

/** Starts Debian's Chromium with a page of exactly the size asked for, 1280 × 800 by default. */
export async function startBrowser(choice: BrowserChoice = {}): Promise<Browser> {
  const { width = 1280, height = 800, webgl = true } = choice;
  Object.assign(process.env, {
    SE_OFFLINE: 'true',
    SE_AVOID_STATS: 'true',
    SE_AVOID_BROWSER_DOWNLOAD: 'true',
  });
  const folder = mkdtempSync(join(tmpdir(), 'ulvex-e2e-'));
  const downloads = join(folder, 'downloads');
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  const profile = choice.profile ?? join(folder, 'profile');
  options.addArguments(...FLAGS, ...(webgl ? SOFTWARE_GL : NO_GPU), `--user-data-dir=${profile}`);
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
  const remove = () => rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
  const kill = () => browserProcesses(profile).forEach(endProcess);
  const service = driverProcess(browserProcesses(profile));
  return {
    driver,
    downloads,
    async close() {
      await driver.quit();
      remove();
    },
    end() {
      kill();
      if (service !== null) endProcess(service);
      try {
        remove();
      } catch {
        // what it was writing while it was killed stays in the folder for temporary files
      }
    },
    async kill() {
      kill();
      await driver.quit().catch(() => {}); // there is no one left to answer
      if (service !== null) endProcess(service);
      for (const name of ['SingletonLock', 'SingletonSocket', 'SingletonCookie'])
        rmSync(join(profile, name), { force: true });
      remove();
    },
  };
}

/** A browser that is used by one suite after another. */
export interface SharedBrowser {
  /**
   * The browser as if just started: one tab, an empty store at an address, an empty download folder, the usual size. Closing it leaves an empty
   * tab for the next one.
   *
   * @param script - runs before any script of each page
   */
  anew(url: string, script?: string): Promise<Browser>;
  /** Ends it at once, without waiting: when the process ends. */
  end(): void;
}

export async function shareBrowser(choice: Pick<BrowserChoice, 'webgl'> = {}): Promise<SharedBrowser> {
  const browser = await startBrowser(choice);
  const { driver } = browser;
  const folder = mkdtempSync(join(tmpdir(), 'ulvex-suites-'));
  let suites = 0;
  async function emptyTab(): Promise<void> {
    const [first, ...others] = await driver.getAllWindowHandles();
    for (const other of others) {
      await driver.switchTo().window(other);
      await driver.close();
    }
    await driver.switchTo().window(first);
    await driver.get('about:blank');
  }
  return {
    async anew(url, script) {
      await emptyTab();
      await driver.sendDevToolsCommand('Storage.clearDataForOrigin', {
        origin: new URL(url).origin,
        storageTypes: 'all',
      });
      const downloads = join(folder, `${suites++}`, 'downloads');
      await driver.sendDevToolsCommand('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads });
      const source = script ?? '';
      const added = source && (await addScript(driver, source));
      await resize(driver, 1280, 800);
      await consoleErrors(driver); // those of an earlier suite have been looked at
      return {
        ...browser,
        downloads,
        async close() {
          if (added) await driver.sendDevToolsCommand('Page.removeScriptToEvaluateOnNewDocument', added);
          await emptyTab();
        },
      };
    },
    end() {
      browser.end();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Has a script run before any other of each page; what takes it away again. */
async function addScript(driver: chrome.Driver, source: string): Promise<{ readonly identifier: string }> {
  const added = await driver.sendAndGetDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source });
  return added as unknown as { readonly identifier: string };
}

/** All processes of the browser that keeps its profile in a folder. */
function browserProcesses(profile: string): number[] {
  return readdirSync('/proc').flatMap((name) => {
    if (!/^\d+$/.test(name)) return [];
    try {
      const command = readFileSync(`/proc/${name}/cmdline`, 'utf8');
      return command.includes(`--user-data-dir=${profile}`) && !command.includes('chromedriver') ? [Number(name)] : [];
    } catch {
      return []; // it ended meanwhile
    }
  });
}

/** The ChromeDriver that started a browser; null if that is not known. */
function driverProcess(browser: readonly number[]): number | null {
  for (const pid of browser)
    try {
      const parent = Number(/^PPid:\s*(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]);
      if (readFileSync(`/proc/${parent}/cmdline`, 'utf8').includes('chromedriver')) return parent;
    } catch {
      // it ended meanwhile
    }
  return null;
}

/** Ends a process; one that has ended by itself, as the children of one that was ended do, is no trouble. */
function endProcess(pid: number): void {
  try {
    process.kill(pid, 'SIGKILL');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ESRCH') throw error;
  }
}

/** Gives the page an exact size, whatever the window adds. */
export async function resize(driver: chrome.Driver, width: number, height: number): Promise<void> {
  const metrics = { width, height, deviceScaleFactor: 1, mobile: false };
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', metrics);
}

/** Errors that the page wrote to the console since the last call. */
export async function consoleErrors(driver: WebDriver): Promise<string[]> {
  const entries = await driver.manage().logs().get(logging.Type.BROWSER);
  return entries.filter((entry) => entry.level.value >= logging.Level.SEVERE.value).map((entry) => entry.message);
}
