import { expect } from 'chai';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { By, error, Key, type WebElement } from 'selenium-webdriver';
import { consoleErrors, startBrowser, type Browser, type BrowserChoice } from './browser.ts';
import { startServer, type RunningServer } from './server.ts';

const PATIENCE = 30_000;
const LOOK_EVERY = 50;

/** The state of the page that tests wait for. */
interface PageState {
  readonly revision: number;
  readonly settled: number;
  readonly kept: string;
  readonly project: string;
}

/**
 * Ulvex in a real browser, with the words of a person who uses it. Every wait is for something the page says of itself:
 * a revision that is settled, a project that is kept.
 */
export class Bench {
  readonly browser: Browser;
  readonly server: RunningServer;

  private constructor(browser: Browser, server: RunningServer) {
    this.browser = browser;
    this.server = server;
  }

  static async start(choice: BrowserChoice = {}): Promise<Bench> {
    const server = await startServer();
    try {
      return new Bench(await startBrowser(choice), server);
    } catch (error) {
      server.stop();
      throw error;
    }
  }

  /** A browser at a server that runs already; who started that stops it. */
  static of(browser: Browser, server: RunningServer): Bench {
    return new Bench(browser, { ...server, stop: () => {} });
  }

  async close(): Promise<void> {
    await this.browser.close();
    this.server.stop();
  }

  get driver() {
    return this.browser.driver;
  }

  /** Opens a room and waits until it is settled. */
  async open(path = '/layout'): Promise<void> {
    await this.driver.get(this.server.url.replace(/\/$/, '') + path);
    await this.settled();
  }

  /** Opens a sample from the Projects room by its button; waits until it is on the desk, in its own room. */
  async openSample(id: string, name: string): Promise<void> {
    await this.waitFor('the samples', () => this.has(`sample-${id}`));
    await this.click(`sample-${id}`);
    // Its name stands on its button too: what counts is the name of the open project.
    await this.waitFor(`the sample “${name}”`, async () => {
      const path = new URL(await this.driver.getCurrentUrl()).pathname;
      return path !== '/projects' && (await this.shown('project-name').catch(() => '')) === name;
    });
    await this.settled();
  }

  async reload(): Promise<void> {
    await this.driver.navigate().refresh();
    await this.settled();
  }

  async state(): Promise<PageState | null> {
    return this.driver.executeScript<PageState | null>(() => {
      const data = document.querySelector<HTMLElement>('[data-testid=window]')?.dataset;
      if (!data) return null;
      const { revision, settled, kept, project } = data;
      return {
        revision: Number(revision),
        settled: Number(settled),
        kept: kept ?? '',
        project: project ?? '',
      };
    });
  }

  /** Waits until every answer on screen belongs to the revision on screen, for as long as answers come. */
  async settled(): Promise<void> {
    await this.waitAlong(
      'a settled revision',
      async () => {
        const state = await this.state();
        return state !== null && state.revision > 0 && state.settled === state.revision;
      },
      () => this.#answers(),
    );
  }

  /** What the answers on screen belong to, and what the page says: it changes with each answer that comes. */
  async #answers(): Promise<string> {
    return this.driver.executeScript<string>(() => {
      const parts = [...document.querySelectorAll<HTMLElement>('[data-revision], [data-carries]')];
      const carried = parts.map(({ dataset: { revision, settled, carries } }) =>
        [revision, settled, carries].join('/'),
      );
      return `${carried.join()} ${document.body.innerText}`;
    });
  }

  /** Waits until the browser's store holds the project. */
  async kept(): Promise<void> {
    await this.waitFor('the project to be kept', async () => (await this.state())?.kept === 'kept');
  }

  /** Waits until the run of the scene belongs to the revision on screen and is over. */
  async traced(): Promise<void> {
    await this.settled();
    const isTraced = async () => {
      const bar = (await this.driver.findElements(By.css('[data-testid="run-bar"]')))[0];
      if (!bar) return false;
      const [state, revision] = await Promise.all([bar.getAttribute('data-state'), bar.getAttribute('data-revision')]);
      return state === 'done' && Number(revision) === (await this.state())?.revision;
    };
    await this.waitAlong('the scene to be traced', isTraced, () => this.text('run-words').catch(() => ''));
  }

  /** Waits until something is so; it is not so yet if what it looks at is not there, or was replaced while it was looked at. */
  async waitFor(what: string, test: () => Promise<boolean>): Promise<void> {
    const look = () =>
      test().catch((thrown: unknown) => {
        if (thrown instanceof error.NoSuchElementError || thrown instanceof error.StaleElementReferenceError)
          return false;
        throw thrown;
      });
    await this.driver.wait(look, PATIENCE, `waited in vain for ${what}`, LOOK_EVERY);
  }

  /**
   * Waits for what takes as long as it takes: in vain only when what the page says of its way has not changed for as
   * long as others are waited for.
   */
  async waitAlong(what: string, test: () => Promise<boolean>, way: () => Promise<string>): Promise<void> {
    for (let before = await way(); ;) {
      try {
        return await this.waitFor(what, test);
      } catch (error) {
        const now = await way();
        if (now === before) throw error;
        before = now;
      }
    }
  }

  async find(testid: string): Promise<WebElement> {
    return this.driver.findElement(By.css(`[data-testid="${testid}"]`));
  }

  async has(testid: string): Promise<boolean> {
    return (await this.driver.findElements(By.css(`[data-testid="${testid}"]`))).length > 0;
  }

  async text(testid: string): Promise<string> {
    return (await this.find(testid)).getText();
  }

  /** The value that an input shows. */
  async shown(testid: string): Promise<string> {
    return (await this.find(testid)).getProperty('value') as Promise<string>;
  }

  /** A number that the page carries beside its rounded text. */
  async value(testid: string, key: string): Promise<number> {
    return Number(await (await this.find(testid)).getAttribute(`data-${key}`));
  }

  async click(testid: string): Promise<void> {
    await (await this.find(testid)).click();
  }

  /** Chooses an option of a select by its value; waits until the new revision is settled. */
  async select(testid: string, value: string): Promise<void> {
    await (await this.find(testid)).findElement(By.css(`option[value="${value}"]`)).click();
    await this.settled();
  }

  /** Adds something to the scene by the palette: `body:box`, `source`, … */
  async add(word: string): Promise<void> {
    await this.click('scene-add');
    await this.click(`add-${word.replace(':', '-')}`);
    await this.settled();
  }

  /** Opens how the scene is traced, where it is closed. */
  async traceSettings(): Promise<void> {
    if (!(await this.has('scene-rays'))) await this.click('run-settings');
  }

  /** Presses keys wherever the focus is. */
  async press(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  /** Presses a key with others held down. */
  async chord(held: readonly string[], key: string): Promise<void> {
    const actions = this.driver.actions();
    for (const one of held) actions.keyDown(one);
    actions.sendKeys(key);
    for (const one of held) actions.keyUp(one);
    await actions.perform();
  }

  /** Goes to a cell, types over it and presses Enter. */
  async enter(testid: string, text: string): Promise<void> {
    await this.click(testid);
    await this.chord([Key.CONTROL], 'a'); // a cell that had the focus already keeps its caret on a click
    await this.press(text, Key.ENTER);
  }

  /** Enters a text into a cell; waits until the new revision is settled. */
  async type(testid: string, text: string): Promise<void> {
    await this.enter(testid, text);
    await this.settled();
  }

  /** What is said beside a cell whose text is wrong, or empty. */
  async complaint(testid: string): Promise<string> {
    const input = await this.find(testid);
    const id = await input.getAttribute('aria-describedby');
    return id ? this.driver.findElement(By.id(id)).getText() : '';
  }

  /** Name of the element that has the focus. */
  async focused(): Promise<string> {
    return this.driver.executeScript<string>(
      () =>
        (document.activeElement as HTMLElement).dataset.testid ??
        document.activeElement?.getAttribute('aria-label') ??
        '',
    );
  }

  /** Waits for a finished download and returns its text. */
  async downloaded(name: string): Promise<string> {
    const path = join(this.browser.downloads, name);
    await this.waitFor(
      `the file ${name}`,
      async () => existsSync(path) && statSync(path).size > 0 && !this.#unfinished(),
    );
    return readFileSync(path, 'utf8');
  }

  #unfinished(): boolean {
    return readdirSync(this.browser.downloads).some((name) => name.endsWith('.crdownload'));
  }

  /** Gives files to an input as the file dialog would. */
  async choose(testid: string, path: string): Promise<void> {
    await (await this.find(testid)).sendKeys(path);
  }

  /** Fails when the page wrote an error to the console. */
  async expectQuietConsole(): Promise<void> {
    expect(await consoleErrors(this.driver), 'errors on the console').to.deep.equal([]);
  }
}
