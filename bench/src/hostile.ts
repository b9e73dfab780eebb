// `npm run bench -- hostile [--pictures FOLDER] [--only N]`: opens files that ask for too much in headless Chromium at 1280×800 and tells, for
// each, the longest time in which the page did not answer, what it said, and whether another project opened after it.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { loadavg, tmpdir } from 'node:os';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { Bench } from '../../e2e/src/bench.ts';
import { HOSTILE_FILES, type HostileFile } from '../../e2e/src/hostile-files.ts';

/** How long each file is looked at once it is open or refused, ms. */
const LOOK = 15_000;
const BEAT = 20;

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Runs in the page: a heart that notes the longest time between two beats, less the beat itself. */
function startHeart(beat: number): void {
  const page = window as unknown as { heart?: number; longest: number };
  page.longest = 0;
  let last = performance.now();
  clearInterval(page.heart);
  page.heart = window.setInterval(() => {
    const now = performance.now();
    page.longest = Math.max(page.longest, now - last - beat);
    last = now;
  }, beat);
}

/** Where the page speaks of what is wrong. */
const SPEAKING =
  '[data-testid=notice], [data-testid=settling], [role=alert], .trouble, [data-testid=findings] li, .bad';

/** Runs in the page: what it says of itself at this moment, in one line. */
function saidNow(places: string): string {
  return [...document.querySelectorAll<HTMLElement>(places)]
    .map((place) => place.innerText.replace(/\s+/g, ' ').slice(0, 200))
    .filter((text) => text !== '')
    .slice(0, 4)
    .join(' | ');
}

interface Looked {
  readonly name: string;
  readonly taken: boolean;
  /** The longest time without an answer: while opening, and after it, ms. */
  readonly stopped: number;
  readonly said: string;
  /** From the choice of another project to its settled revision, ms. */
  readonly nextAfter: number;
}

async function look(bench: Bench, file: HostileFile, path: string, picture?: string): Promise<Looked> {
  writeFileSync(path, file.text());
  await bench.open('/layout');
  const before = await bench.shown('project-name');
  await bench.driver.executeScript(startHeart, BEAT);
  await bench.choose('file-input', path);
  await bench.waitFor('word of the file', async () => {
    if (await bench.has('notice')) return true;
    return (await bench.shown('project-name').catch(() => before)) !== before;
  });
  await pause(LOOK);
  const said = await bench.driver.executeScript<string>(saidNow, SPEAKING);
  const taken = (await bench.shown('project-name')) !== before;
  const stopped = await bench.driver.executeScript<number>(() => (window as unknown as { longest: number }).longest);
  if (picture) writeFileSync(picture, await bench.driver.takeScreenshot(), 'base64');
  const leaving = Date.now();
  await bench.driver.findElement(By.css('a[href="/projects"]')).click();
  await bench.waitFor('the samples', () => bench.has('sample-ice-glass'));
  await bench.click('sample-ice-glass');
  await bench.waitFor(
    'the other project',
    async () => (await bench.shown('project-name').catch(() => '')) === 'Ice glass',
  );
  await bench.settled();
  return { name: file.name, taken, stopped, said, nextAfter: Date.now() - leaving };
}

/** Opens the hostile files, or the one with number `only`, and prints what it finds. */
export async function benchHostile(pictures: string | undefined, only: string | undefined): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'ulvex-hostile-'));
  if (pictures) mkdirSync(pictures, { recursive: true });
  const bench = await Bench.start();
  console.log(`load ${loadavg()[0].toFixed(1)}`);
  let longest = 0;
  try {
    for (const [i, file] of HOSTILE_FILES.entries()) {
      if (only !== undefined && Number(only) !== i + 1) continue;
      const picture = pictures && join(pictures, `${i + 1}.png`);
      const found = await look(bench, file, join(folder, 'file.ulvex.json'), picture);
      longest = Math.max(longest, found.stopped);
      const fate = found.taken ? 'open' : 'refused';
      const wrong = found.taken === file.taken ? '' : ', which is WRONG';
      console.log(
        `${i + 1} ${file.name}: ${fate}${wrong}, page stopped for ${found.stopped.toFixed(0)} ms at most, ` +
          `another project after ${found.nextAfter} ms\n   ${found.said}`,
      );
    }
    console.log(`the page stopped for ${longest.toFixed(0)} ms at most`);
  } finally {
    await bench.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
