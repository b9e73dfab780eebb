import { expect } from 'chai';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import type { Bench } from './bench.ts';
import { useBench } from './suite.ts';

/** Tiles on one board: so many are computed and read within the patience of a test. */
const A_BOARD = 8;

describe('tiles in a state of their own', () => {
  let bench: Bench;
  useBench('/study', (started) => (bench = started));

  /** The tables of all tiles of the board that is shown, as their files have them, by kind. */
  async function tables(): Promise<Record<string, string>> {
    await bench.settled();
    await bench.waitFor('scans to be done', async () =>
      bench.driver.executeScript(() =>
        [...document.querySelectorAll<HTMLElement>('[data-testid="scan-figures"]')].every(
          ({ dataset }) => dataset.state === 'done',
        ),
      ),
    );
    const places = await bench.driver.findElements(By.css('[data-testid="board"] > [data-kind]'));
    const found: Record<string, string> = {};
    for (const place of places) {
      const writes = await bench.driver.executeScript<boolean>((tile: HTMLElement) => {
        const menu = tile.querySelector<HTMLSelectElement>('select[title="Write to a file"]');
        if (!menu || ![...menu.options].some(({ value }) => value === 'csv')) return false;
        const create = URL.createObjectURL.bind(URL);
        const click = HTMLAnchorElement.prototype.click;
        HTMLAnchorElement.prototype.click = () => {}; // nothing is written to the disk
        let written = false;
        URL.createObjectURL = (blob: Blob | MediaSource) => {
          written = true;
          void (blob as Blob).text().then((text) => (document.body.dataset.written = text));
          return create(blob);
        };
        delete document.body.dataset.written;
        menu.value = 'csv';
        menu.dispatchEvent(new Event('change', { bubbles: true }));
        URL.createObjectURL = create;
        HTMLAnchorElement.prototype.click = click;
        return written;
      }, place);
      if (!writes) continue;
      const written = () => bench.driver.executeScript<string | null>(() => document.body.dataset.written ?? null);
      await bench.waitFor('the table', async () => (await written()) !== null);
      const text = await written();
      if (text !== null) found[(await place.getAttribute('data-kind')) ?? ''] = text;
    }
    return found;
  }

  it('show what the whole room shows in that state, every kind of them, scans too', async function () {
    this.timeout(300_000);
    const kinds = await bench.driver.executeScript<string[]>(() =>
      [...document.querySelectorAll<HTMLElement>('aside [data-testid^="add-"]')].map(({ dataset }) =>
        dataset.testid!.slice(4),
      ),
    );
    expect(kinds.length).to.be.above(25);
    const project = JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')) as Record<string, unknown>;
    // Two fields in two colours: what is shown is the same question for each, and every one of them costs time.
    const [lens] = project.lenses as [
      Record<string, unknown> & { fields: { points: { id: string }[] }; wavelengths: { id: string }[] },
    ];
    lens.fields.points = lens.fields.points.filter(({ id }) => id !== 'zone');
    lens.wavelengths = lens.wavelengths.filter(({ id }) => id !== 'c_line');
    const chunks = Array.from({ length: Math.ceil(kinds.length / A_BOARD) }, (_, k) =>
      kinds.slice(k * A_BOARD, (k + 1) * A_BOARD),
    );
    const board = (prefix: string, own: readonly string[], k: number, state?: string) => ({
      id: `${prefix}${k}`,
      name: `${prefix} ${k}`,
      tiles: own.map((kind) => ({
        id: `${prefix}_${kind}`,
        kind,
        columns: 4,
        rows: 2,
        settings: {},
        ...(state && { state }),
      })),
    });
    project.boards = chunks.flatMap((own, k) => [board('own', own, k, 'near'), board('hand', own, k)]);
    const file = join(mkdtempSync(join(tmpdir(), 'ulvex-states-')), 'states.ulvex.json');
    writeFileSync(file, JSON.stringify(project));
    await (await bench.find('file-input')).sendKeys(file);
    await bench.waitFor('the boards', () => bench.has('board-own0'));
    await bench.settled();
    const look = async (prefix: string) => {
      const found: Record<string, string> = {};
      for (const k of chunks.keys()) {
        await bench.click(`board-${prefix}${k}`);
        Object.assign(found, await tables());
      }
      return found;
    };
    // Looked at as designed: tiles that name the state, and two that do not.
    const own = await look('own');
    await bench.click('board-hand0');
    const designed = await tables();
    await bench.click('state-button');
    await bench.waitFor('the table of states', () => bench.has('look-near'));
    await bench.click('look-near');
    const atHand = await look('hand');
    expect(Object.keys(own).length).to.be.above(20);
    for (const [kind, table] of Object.entries(atHand)) expect(own[kind], kind).to.equal(table);
    // The staff at 4 m is another image than the far one.
    for (const kind of ['scan', 'first_order'].filter((one) => one in designed))
      expect(own[kind], kind).not.to.equal(designed[kind]);
    expect(await bench.driver.findElements(By.css('[data-testid="scan-tile"]'))).to.have.length(
      chunks.at(-1)!.includes('scan') ? 1 : 0,
    );
  });
});
