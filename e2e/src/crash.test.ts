import { expect } from 'chai';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { Bench } from './bench.ts';
import { startBrowser } from './browser.ts';
import { startServer, type RunningServer } from './server.ts';

/** How often the browser is killed, at another moment each time; more by `ULVEX_KILLS=200 npm run e2e`. */
const KILLS = Number(process.env.ULVEX_KILLS ?? 5);
const CELL = 'thickness-l1_back';

describe('a browser that is killed while one works', () => {
  let server: RunningServer;
  let profile: string;
  before(async () => {
    server = await startServer();
    profile = mkdtempSync(join(tmpdir(), 'ulvex-crash-'));
  });
  after(() => {
    server.stop();
    rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
  });

  it(`has all that it called kept, and never loses its store, ${KILLS} times`, async function () {
    this.timeout(KILLS * 60_000); // each wait has a patience of its own; this only ends what hangs
    let safe = 0;
    let left: { readonly project: string; readonly least: number; readonly most: number } | null = null;
    for (let round = 0; round <= KILLS; round++) {
      const bench = await Bench.of(await startBrowser({ profile, webgl: false }), server);
      try {
        await bench.open('/layout');
        if (!left) {
          await bench.type(CELL, '0');
          await bench.kept();
        }
        const shown = Number(await bench.shown(CELL));
        const { project } = (await bench.state())!;
        if (left) {
          expect(project, `round ${round}: the project that is open`).to.equal(left.project);
          expect(shown, `round ${round}: the last edit that is kept`).to.be.within(left.least, left.most);
        }
        await bench.expectQuietConsole();
        if (round === KILLS) break;
        // Each edit counts the cell up by one, so that its number says which of them was the last to be kept.
        let value: number = shown;
        await bench.click(CELL);
        for (let k = 0; k < 2 + (round % 5); k++) {
          value++;
          await bench.press(String(value), Key.ENTER, Key.ARROW_UP);
        }
        await new Promise((over) => setTimeout(over, (round * 137) % 900)); // a crash comes at any moment
        // What the page calls kept must be there; before that anything between is right.
        const said = (await bench.state())!.kept === 'kept' && Number(await bench.shown(CELL)) === value;
        safe += said ? 1 : 0;
        left = { project, least: said ? value : shown, most: value };
      } finally {
        await bench.browser.kill();
      }
    }
    expect(safe, 'kills after the page had called its work kept').to.be.above(0);
  });
});
