// `npm run bench -- ui [--drags N] [--every MS] [--board] [--scan] [--trace FILE]`: a vertex of the tide camera is
// dragged in headless Chromium at 1280×800, and a
// trace of the browser tells how long it is from each move of the mouse to the presented frame in which section, rays, spots and
// requirement strip all carry the new revision, and which tasks kept the page's main thread. With `--board` its radius is bent in the Study, on a
// board of six tiles, and it is told how old the revision is that each tile comes to show; with `--scan` while a scan of 41 × 41 points runs.
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { loadavg } from 'node:os';
import { resolve } from 'node:path';
import { Bench } from '../../e2e/src/bench.ts';
import { Devtools } from './devtools.ts';
import { longTasks, mainFrames, presentedAfter, type TraceEvent } from './frames.ts';
import { recordAnswers, type Recording } from './recorded.ts';

const CATEGORIES = [
  'blink.user_timing',
  'benchmark',
  'disabled-by-default-devtools.timeline',
  'disabled-by-default-devtools.timeline.frame',
];
const FRAME = 1000 / 60;
const VERTEX = 'l2_back';
const LONG_TASK = 50_000;
/** From move to move while answers are recorded, ms: each move is answered before the next one. */
const RECORDED = 250;
/** What an event says of keys that are held. */
const SHIFT = 8;

/**
 * Runs in the page: notes the time of the move that led to each revision, the moment in which everything that must carry a revision does,
 * and when charts come to show one. Marks of a trace would take their time.
 */
function watchPage(): void {
  if ('seen' in window) return; // it is watched already
  const page = document.querySelector<HTMLElement>('[data-testid=window]')!;
  /** Charts and maps, which may come later than what is drawn at once. */
  const later = new Set<Element>(
    document.querySelectorAll('[data-testid=ray_fans-tile], [data-testid=mtf-tile], [data-testid=point_spread-tile]'),
  );
  let moved = 0;
  let carried = -1;
  const seen: Noted[] = [];
  (window as unknown as { seen: Noted[] }).seen = seen;
  for (const type of ['pointermove', 'pointerrawupdate'])
    window.addEventListener(type, (event) => (moved = event.timeStamp), true);
  new MutationObserver(() => {
    seen.push([`moved ${page.dataset.revision}`, moved]);
  }).observe(page, { attributes: true, attributeFilter: ['data-revision'] });
  // What is looked at on every answer is looked up once: the watching must not cost what it measures.
  let parts: HTMLElement[] = [];
  new MutationObserver((changes) => {
    for (const { target } of changes) {
      if (!later.has(target as Element)) continue;
      const { testid, carries } = (target as HTMLElement).dataset;
      seen.push([`shown ${testid} ${carries}`, performance.now()]);
    }
    if (parts.length === 0 || !parts.every((part) => part.isConnected))
      parts = [...document.querySelectorAll<HTMLElement>('[data-carries]')].filter((part) => !later.has(part));
    let least = Infinity;
    for (const part of parts) least = Math.min(least, Number(part.getAttribute('data-carries')));
    if (least <= carried) return;
    carried = least;
    seen.push([`carried ${least}`, performance.now()]);
  }).observe(page, { attributes: true, subtree: true, attributeFilter: ['data-carries'] });
}

/** A name and a time of the page's clock, ms. */
type Noted = readonly [name: string, at: number];

/** Runs in the page: forgets what was noted, and marks a moment of the page's clock in the trace; returns it. */
function beginNotes(): number {
  (window as unknown as { seen: Noted[] }).seen.length = 0;
  return performance.mark('clock').startTime;
}

/** What was noted in the page as marks of the trace. */
function marksOf(noted: readonly Noted[], events: readonly TraceEvent[], clock: number): TraceEvent[] {
  const mark = events.find(({ name, ph }) => name === 'clock' && ph !== 'e');
  if (!mark) throw new Error('the trace does not hold the page’s clock');
  return noted.map(([name, at]) => ({ ...mark, name, ts: mark.ts + 1000 * (at - clock) }));
}

function quantile(sorted: readonly number[], share: number): number {
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Drags a handle of the chosen surface to and fro and returns the trace. */
async function dragged(
  bench: Bench,
  tools: Devtools,
  { drags, every }: Pick<Drag, 'drags' | 'every'>,
  handle: string,
): Promise<TraceEvent[]> {
  const events: TraceEvent[] = [];
  tools.on<{ value: TraceEvent[] }>('Tracing.dataCollected', ({ value }) => void events.push(...value));
  const complete = new Promise<void>((done) => tools.on('Tracing.tracingComplete', () => done()));
  const { x, y } = await bench.driver.executeScript<{ x: number; y: number }>((handle: string) => {
    const box = document.querySelector(`[data-testid=${handle}]`)!.getBoundingClientRect();
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  }, handle);
  await bench.driver.executeScript(watchPage);
  // A handle that bends turns a few pixels into another lens: finely, so that it stays one whose image diffraction shapes.
  const [far, modifiers] = handle === 'handle-bend' ? [0.6, SHIFT] : [6, 0];
  const mouse = (type: string, at: number, buttons: number) =>
    tools.send('Input.dispatchMouseEvent', {
      type,
      x: at,
      y,
      buttons,
      button: 'left',
      clickCount: 1,
      modifiers,
    });
  const move = async (k: number) => {
    await mouse('mouseMoved', x + far * Math.sin(k * 1.7), 1);
    await pause(every * (0.8 + 0.4 * Math.random())); // at any moment of a frame
  };
  await mouse('mouseMoved', x, 0);
  await mouse('mousePressed', x, 1);
  for (let k = 0; k < 20; k++) await move(k); // the engine compiles what is hot
  await tools.send('Tracing.start', {
    traceConfig: { includedCategories: CATEGORIES },
    transferMode: 'ReportEvents',
  });
  const clock = await bench.driver.executeScript<number>(beginNotes);
  for (let k = 20; k < 20 + drags; k++) await move(k);
  const noted = await bench.driver.executeScript<Noted[]>(() => (window as unknown as { seen: Noted[] }).seen);
  await tools.send('Tracing.end');
  await complete;
  await mouse('mouseReleased', x, 0);
  return [...events, ...marksOf(noted, events, clock)];
}

/** What is dragged, and how. */
interface Drag {
  readonly drags: number;
  /** From one move of the hand to the next, ms in the mean. */
  readonly every: number;
  readonly board: boolean;
  readonly scan: boolean;
  readonly trace?: string;
}

/** Drags and prints what was found. */
export async function benchUi({ drags, every, board, scan, trace }: Drag): Promise<void> {
  execFileSync('npm', ['run', '--silent', 'build'], {
    cwd: resolve(import.meta.dirname, '../..'),
    stdio: 'ignore',
  });
  const bench = await Bench.start({ webgl: false });
  try {
    await bench.driver.sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
      // `__name` is what the loader of TypeScript calls around functions.
      source: `{ const __name = (target) => target; (${recordAnswers.toString()})(); }`,
    });
    await bench.open('/layout');
    await bench.click(`radius-${VERTEX}`);
    if (board || scan) {
      await bench.driver.executeScript(() => document.querySelector<HTMLElement>('nav a[href="/study"]')!.click());
      await bench.waitFor('the board', () => bench.has('board'));
      for (const kind of board ? ['mtf', 'point_spread'] : []) await bench.click(`add-${kind}`);
      if (scan) await startScan(bench);
      else await bench.settled();
    }
    const capabilities = await bench.driver.getCapabilities();
    const { debuggerAddress } = capabilities.get('goog:chromeOptions') as { debuggerAddress: string };
    const tools = await Devtools.connect(debuggerAddress);
    const before = scan ? await scanned(bench) : '';
    const handle = board || scan ? 'handle-bend' : 'handle-vertex';
    if (!scan) await dragged(bench, tools, { drags, every: RECORDED }, handle); // so that every answer is in the record
    const recorded = scan ? null : await replayed(bench, () => dragged(bench, tools, { drags, every }, handle));
    const events = await dragged(bench, tools, { drags, every }, handle);
    tools.close();
    if (scan)
      console.log(
        `scan of 41 × 41 points under way: ${before} of 1681 before the drag, ${await scanned(bench)} after it`,
      );
    if (trace) writeFileSync(resolve(trace), JSON.stringify(events));
    const median = report(events, drags);
    if (board) reportTiles(events);
    if (recorded) {
      console.log(
        `\nthe same page with recorded answers (${recorded.hits} of ${recorded.hits + recorded.misses} from the record):`,
      );
      const baseline = report(recorded.events, drags);
      console.log(`\nratio of the medians: ${(median / baseline).toFixed(2)}`);
    }
  } finally {
    await bench.close();
  }
}

/** Does something while the page answers from its record. */
async function replayed(
  bench: Bench,
  drag: () => Promise<TraceEvent[]>,
): Promise<Recording & { readonly events: TraceEvent[] }> {
  const replay = (replays: boolean) =>
    bench.driver.executeScript<Recording>((replays: boolean) => {
      const { recording } = window as unknown as { recording: Recording };
      const before = { ...recording };
      Object.assign(recording, { replays, hits: 0, misses: 0 });
      return before;
    }, replays);
  await bench.settled();
  await replay(true);
  const events = await drag();
  const counts = await replay(false);
  await bench.settled();
  return { ...counts, events };
}

/** Begins a scan of two numbers on the board, 41 × 41 points with the RMS spot over all fields and colours. */
async function startScan(bench: Bench): Promise<void> {
  await bench.click('add-scan');
  await bench.settled();
  await bench.driver.executeScript(() =>
    document.querySelector<HTMLElement>('[data-testid="scan-tile"] button[aria-expanded]')!.click(),
  );
  await bench.click('scan-second');
  await bench.settled();
  for (const axis of [0, 1]) await bench.type(`scan-points-${axis}`, '41');
  await bench.driver.executeScript(() =>
    document.querySelector('[data-testid="handle-bend"]')?.scrollIntoView({ block: 'center' }),
  );
  await bench.click('scan-start');
  await bench.waitFor('the scan', async () => (await bench.has('scan-figures')) && Number(await scanned(bench)) > 0);
}

async function scanned(bench: Bench): Promise<string> {
  return (await (await bench.find('scan-figures')).getAttribute('data-done')) ?? '';
}

/** Prints what a drag has shown; the median from the move to the presented frame, ms. */
function report(events: readonly TraceEvent[], drags: number): number {
  const marks = (word: string) =>
    new Map(
      events
        .filter(({ name, ph }) => ph !== 'e' && new RegExp(`^${word} \\d+$`).test(name))
        .map((event) => [Number(event.name.split(' ')[1]), event] as const),
    );
  const [moved, carried] = [marks('moved'), marks('carried')];
  const thread = [...carried.values()][0];
  if (!thread) throw new Error('nothing on the page carried a new revision');
  const frames = mainFrames(events, thread.pid);
  const latencies: number[] = [];
  const toCarried: number[] = [];
  for (const [revision, move] of moved) {
    const shown = [...carried].find(([number]) => number >= revision)?.[1];
    const presented = shown && presentedAfter(frames, shown.ts);
    if (!shown || !presented) continue;
    latencies.push((presented - move.ts) / 1000);
    toCarried.push((shown.ts - move.ts) / 1000);
  }
  latencies.sort((a, b) => a - b);
  toCarried.sort((a, b) => a - b);
  const times = events.filter(({ ts }) => ts > 0).map(({ ts }) => ts);
  const span = [Math.min(...[...moved.values()].map(({ ts }) => ts)), times.reduce((a, b) => Math.max(a, b))] as const;
  const long = longTasks(events, thread, span, LONG_TASK);
  const all = longTasks(events, thread, span, 0);
  const [median, ninth, worst] = [0.5, 0.9, 1].map((share) => quantile(latencies, share));
  const said = (ms: number) => `${ms.toFixed(1)} ms (${(ms / FRAME).toFixed(2)} frames)`;
  console.log(
    `load ${loadavg()[0].toFixed(2)}, ${latencies.length} of ${drags} moves led to a frame of their own or a later one`,
  );
  console.log(
    `from the move to the presented frame: median ${said(median)}, 90 % within ${said(ninth)}, worst ${said(worst)}`,
  );
  console.log(`of it until the page carries the revision: median ${quantile(toCarried, 0.5).toFixed(1)} ms`);
  const brief = all.filter(({ dur = 0 }) => dur < 16_000).length;
  console.log(
    `main-thread tasks under 16 ms: ${((100 * brief) / Math.max(1, all.length)).toFixed(1)} % of ${all.length}`,
  );
  console.log(
    `main-thread tasks of 50 ms or more: ${long.length}; the longest took ${((all[0]?.dur ?? 0) / 1000).toFixed(1)} ms`,
  );
  return median;
}

/** How old the revision was that each tile came to show, from the move that led to it; and how long it stood. */
function reportTiles(events: readonly TraceEvent[]): void {
  const times = new Map<number, number>();
  const shown = new Map<string, { age: number; at: number }[]>();
  for (const { name, ts, ph } of [...events].sort((a, b) => a.ts - b.ts)) {
    if (ph === 'e') continue;
    const moved = /^moved (\d+)$/.exec(name);
    if (moved) times.set(Number(moved[1]), ts);
    const tile = /^shown (\S+)-tile (\d+)$/.exec(name);
    const from = tile && times.get(Number(tile[2]));
    if (!tile || from === undefined || from === null) continue;
    const list = shown.get(tile[1]) ?? [];
    list.push({ age: (ts - from) / 1000, at: ts / 1000 });
    shown.set(tile[1], list);
  }
  for (const [tile, list] of shown) {
    const ages = list.map(({ age }) => age).sort((a, b) => a - b);
    const gaps = list.slice(1).map(({ at }, i) => at - list[i].at);
    // What stands on the screen grows older until the next picture takes its place.
    const left = gaps.map((gap, i) => list[i].age + gap).sort((a, b) => a - b);
    gaps.sort((a, b) => a - b);
    const said = (sorted: readonly number[]) =>
      `${quantile(sorted, 0.5).toFixed(0)} ms (90 % ${quantile(sorted, 0.9).toFixed(0)}, most ${quantile(sorted, 1).toFixed(0)})`;
    console.log(
      `${tile}: ${list.length} updates, one every ${quantile(gaps, 0.5).toFixed(0)} ms; the revision it ` +
        `brings is ${said(ages)} old, the one it takes away ${said(left)}`,
    );
  }
}
