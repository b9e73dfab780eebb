import { Bench } from './bench.ts';
import { shareBrowser, type SharedBrowser } from './browser.ts';
import { startServer, type RunningServer } from './server.ts';

/** What suites share, since starting it costs more than most of them: one server, and a browser for each way of drawing. */
let server: RunningServer | null = null;
const browsers = new Map<boolean, SharedBrowser>();

export interface SuiteChoice {
  /** Whether pages draw in WebGL, which costs time in software; false by default. */
  readonly webgl?: boolean;
  /** A script that runs before any of each page of the suite. */
  readonly before?: string;
}

/**
 * A bench for the tests of one suite: an empty store and no downloads, opened at a path. Every test must leave the console quiet.
 *
 * @param take - hands the bench to the suite, before its first test
 */
export function useBench(
  path: string,
  take: (bench: Bench) => void,
  { webgl = false, before: script }: SuiteChoice = {},
): void {
  let bench: Bench;
  before(async () => {
    server ??= await startServer();
    let shared = browsers.get(webgl);
    if (!shared) browsers.set(webgl, (shared = await shareBrowser({ webgl })));
    bench = Bench.of(await shared.anew(server.url, script), server);
    await bench.open(path);
    take(bench);
  });
  afterEach(() => bench.expectQuietConsole());
  after(() => bench.close());
}

/** Suites come one after another, and files may come to this process until it ends: so it ends what they share. */
process.once('exit', () => {
  for (const shared of browsers.values()) shared.end();
  server?.stop();
});
