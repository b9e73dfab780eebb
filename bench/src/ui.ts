// `npm run bench -- ui [--drags N] [--trace FILE]`: a vertex of the tide camera is dragged in headless Chromium at 1280×800, and a
// trace of the browser tells how long it is from each move of the mouse to the presented frame in which section, rays, spots and
// requirement strip all carry the new revision, and which tasks kept the page's main thread.
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { loadavg } from 'node:os';
import { resolve } from 'node:path';
import { Bench } from '../../e2e/src/bench.ts';
import { Devtools } from './devtools.ts';
import { longTasks, mainFrames, presentedAfter, type TraceEvent } from './frames.ts';

const CATEGORIES = [
  'blink.user_timing',
  'benchmark',
  'disabled-by-default-devtools.timeline',
  'disabled-by-default-devtools.timeline.frame',
];
const FRAME = 1000 / 60;
const VERTEX = 'l2_back';
const LONG_TASK = 50_000;

/**
 * Runs in the page: writes a mark for the move that led to each revision, at the time of the move, and one for the moment in which
 * everything that must carry a revision does.
 */
function watchPage(): void {
  const page = document.querySelector<HTMLElement>('[data-testid=window]')!;
  const fans = document.querySelector('[data-testid=fan-tile]');
  let moved = 0;
  let carried = -1;
  for (const type of ['pointermove', 'pointerrawupdate'])
    window.addEventListener(type, (event) => (moved = event.timeStamp), true);
  new MutationObserver(() => {
    performance.mark(`moved ${page.dataset.revision}`, { startTime: moved });
  }).observe(page, { attributes: true, attributeFilter: ['data-revision'] });
  new MutationObserver(() => {
    const parts = [...document.querySelectorAll<HTMLElement>('[data-carries]')].filter(
      (part) => part !== fans,
    );
    const least = Math.min(...parts.map((part) => Number(part.dataset.carries)));
    if (least <= carried) return;
    carried = least;
    performance.mark(`carried ${least}`);
  }).observe(page, { attributes: true, subtree: true, attributeFilter: ['data-carries'] });
}

function quantile(sorted: readonly number[], share: number): number {
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Drags the vertex to and fro and returns the trace. */
async function dragged(bench: Bench, tools: Devtools, drags: number): Promise<TraceEvent[]> {
  const events: TraceEvent[] = [];
  tools.on<{ value: TraceEvent[] }>('Tracing.dataCollected', ({ value }) => void events.push(...value));
  const complete = new Promise<void>((done) => tools.on('Tracing.tracingComplete', () => done()));
  await bench.click(`radius-${VERTEX}`);
  const { x, y } = await bench.driver.executeScript<{ x: number; y: number }>(() => {
    const box = document.querySelector('[data-testid=handle-vertex]')!.getBoundingClientRect();
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  });
  await bench.driver.executeScript(watchPage);
  const mouse = (type: string, at: number, buttons: number) =>
    tools.send('Input.dispatchMouseEvent', { type, x: at, y, buttons, button: 'left', clickCount: 1 });
  const move = async (k: number) => {
    await mouse('mouseMoved', x + 6 * Math.sin(k * 1.7), 1);
    await pause(80 + 40 * Math.random()); // at any moment of a frame
  };
  await mouse('mouseMoved', x, 0);
  await mouse('mousePressed', x, 1);
  for (let k = 0; k < 20; k++) await move(k); // the engine compiles what is hot
  await tools.send('Tracing.start', {
    traceConfig: { includedCategories: CATEGORIES },
    transferMode: 'ReportEvents',
  });
  for (let k = 20; k < 20 + drags; k++) await move(k);
  await tools.send('Tracing.end');
  await complete;
  await mouse('mouseReleased', x, 0);
  return events;
}

/** Drags and prints what was found. */
export async function benchUi(drags: number, traceFile?: string): Promise<void> {
  execFileSync('npm', ['run', '--silent', 'build'], {
    cwd: resolve(import.meta.dirname, '../..'),
    stdio: 'ignore',
  });
  const bench = await Bench.start({ webgl: false });
  try {
    await bench.open('/layout');
    const capabilities = await bench.driver.getCapabilities();
    const { debuggerAddress } = capabilities.get('goog:chromeOptions') as { debuggerAddress: string };
    const tools = await Devtools.connect(debuggerAddress);
    const events = await dragged(bench, tools, drags);
    tools.close();
    if (traceFile) writeFileSync(resolve(traceFile), JSON.stringify(events));
    report(events, drags);
  } finally {
    await bench.close();
  }
}

function report(events: readonly TraceEvent[], drags: number): void {
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
  const span = [
    Math.min(...[...moved.values()].map(({ ts }) => ts)),
    times.reduce((a, b) => Math.max(a, b)),
  ] as const;
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
  console.log(
    `main-thread tasks of 50 ms or more: ${long.length}; the longest took ${((all[0]?.dur ?? 0) / 1000).toFixed(1)} ms`,
  );
}
