// `npm run bench -- [--yardsticks FOLDER] [--rounds N]`: our kernels beside the native yardsticks, interleaved, as ratios of rates
// within each round: rates are noisy on shared machines, ratios less so. `npm run bench -- ui` measures the interface: see ui.ts;
// `npm run bench -- history` what a long history costs, `npm run bench -- hostile` whether the page answers beside hostile files,
// `npm run bench -- server` whether the server answers under attack, `npm run bench -- tolerance` what studies of tolerances cost.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { loadavg } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { benchHistory } from './history.ts';
import { benchHostile } from './hostile.ts';
import { benchTolerance } from './tolerance.ts';
import { benchUi } from './ui.ts';
import { benchServer } from './server-load.ts';
import { workerRatios } from './workers.ts';

const root = resolve(import.meta.dirname, '../..');
/** What lets Node run TypeScript. */
const TYPESCRIPT = join(root, 'scripts/typescript.mjs');
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    yardsticks: { type: 'string', default: join(root, '../shared/yardsticks') },
    rounds: { type: 'string', default: '5' },
    drags: { type: 'string', default: '100' },
    every: { type: 'string', default: '100' },
    trace: { type: 'string' },
    pictures: { type: 'string' },
    only: { type: 'string' },
    seconds: { type: 'string', default: '30' },
    board: { type: 'boolean', default: false },
    scan: { type: 'boolean', default: false },
  },
});

interface Run {
  readonly raySurfacesPerSecond: number;
  readonly alive: number;
}

function lastJson(output: string): Run {
  return JSON.parse(output.trim().split('\n').at(-1)!) as Run;
}

function ours(): Run {
  const script = join(import.meta.dirname, 'sequential.ts');
  return lastJson(execFileSync(process.execPath, ['--import', TYPESCRIPT, script], { cwd: root, encoding: 'utf8' }));
}

function median(list: readonly number[]): number {
  const sorted = [...list].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
}

async function benchKernels(): Promise<void> {
  const build = join(values.yardsticks, 'build.sh');
  const binaries = join(root, '.cache/yardsticks');
  const native = existsSync(build);
  if (native) {
    mkdirSync(binaries, { recursive: true });
    execFileSync('sh', [build, binaries], { stdio: 'ignore' });
  } else console.log(`no yardsticks at ${values.yardsticks}: ours alone`);

  const rounds = Math.max(1, Number(values.rounds) || 5);
  const ratios = { soa: [] as number[], aos: [] as number[] };
  const rates: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const own = ours();
    rates.push(own.raySurfacesPerSecond);
    for (const mode of native ? (['soa', 'aos'] as const) : []) {
      const theirs = lastJson(execFileSync(join(binaries, 'sequential'), [mode, '1'], { encoding: 'utf8' }));
      if (theirs.alive !== own.alive) throw new Error(`${mode}: ${theirs.alive} rays get through, ours ${own.alive}`);
      ratios[mode].push(own.raySurfacesPerSecond / theirs.raySurfacesPerSecond);
    }
  }
  console.log(`load ${loadavg()[0].toFixed(2)}, ${rounds} rounds, one thread`);
  console.log(`sequential: ${(median(rates) / 1e6).toFixed(1)} M ray-surfaces/s (median)`);
  for (const mode of native ? (['soa', 'aos'] as const) : []) {
    console.log(
      `sequential over ${mode}: ${median(ratios[mode]).toFixed(3)} (${Math.min(...ratios[mode]).toFixed(3)}–${Math.max(...ratios[mode]).toFixed(3)})`,
    );
  }
  for (const what of ['sequential', 'mirror'] as const)
    console.log(`two workers over one, ${what}: ${summary(await workerRatios(what, rounds), 3)}`);
}

/** Median, least and largest. */
function summary(list: readonly number[], digits: number): string {
  const [middle, least, most] = [median(list), Math.min(...list), Math.max(...list)].map((value) =>
    value.toFixed(digits),
  );
  return `${middle} (${least}–${most})`;
}

interface SceneRun {
  readonly raysPerSecond: number;
  readonly buildSeconds?: number;
  readonly escaped?: number;
  readonly rms?: number;
  readonly checksum?: { readonly rms: number };
}

/** Runs a script of ours and a yardstick in turn, and gives what both printed, round by round. */
function inTurn(script: string, binary: string, args: readonly string[]): (readonly [SceneRun, SceneRun | null])[] {
  const run = (file: string, given: readonly string[]) =>
    JSON.parse(execFileSync(file, given, { cwd: root, encoding: 'utf8' }).trim().split('\n').at(-1)!) as SceneRun;
  const native = join(root, '.cache/yardsticks', binary);
  return Array.from({ length: Math.max(1, Number(values.rounds) || 5) }, () => [
    run(process.execPath, ['--import', TYPESCRIPT, join(import.meta.dirname, script)]),
    existsSync(native) ? run(native, args) : null,
  ]);
}

/** Scenes through the general tracer beside the yardsticks written for them, interleaved, one thread. */
function benchScenes(): void {
  const mirror = inTurn('mirror.ts', 'mirror', ['soa', 'xoshiro', '1', '10000000', '1']);
  const mesh = inTurn('mesh.ts', 'mesh_embree', ['single', '1', '200000', '390', '1']);
  for (const [own, theirs] of mirror)
    if (theirs && Math.abs(own.rms! / theirs.checksum!.rms - 1) > 1e-3)
      throw new Error(`mirror: RMS radius ${own.rms}, the yardstick ${theirs.checksum!.rms}`);
  for (const [own] of mesh) if (own.escaped !== 0) throw new Error(`mesh: ${own.escaped} of the light escapes`);
  for (const [name, runs, unit] of [
    ['mirror', mirror, 'rays'],
    ['mesh', mesh, 'segments'],
  ] as const) {
    console.log(`${name}: ${(median(runs.map(([own]) => own.raysPerSecond)) / 1e6).toFixed(2)} M ${unit}/s (median)`);
    const ratios = runs.flatMap(([own, theirs]) => (theirs ? [own.raysPerSecond / theirs.raysPerSecond] : []));
    if (ratios.length > 0) console.log(`${name} over its yardstick: ${summary(ratios, 3)}`);
  }
  const builds = mesh.flatMap(([own, theirs]) => (theirs ? [own.buildSeconds! / theirs.buildSeconds!] : []));
  if (builds.length > 0) console.log(`building the tree of the mesh, time over the yardstick's: ${summary(builds, 2)}`);
}

/** The transform of the image engine beside the yardstick `fft`, interleaved, one thread. */
function benchFourier(): void {
  const runs = inTurn('fourier.ts', 'fft', []) as unknown as readonly (readonly [FourierRun, FourierRun | null])[];
  for (const [own, theirs] of runs)
    if (theirs && Math.abs(own.checksum - theirs.checksum) > 1e-6 * Math.abs(theirs.checksum))
      throw new Error(`fft: sum ${own.checksum}, the yardstick ${theirs.checksum}`);
  console.log(`transform of 512 × 512: ${median(runs.map(([own]) => own.ms)).toFixed(2)} ms (median)`);
  const ratios = runs.flatMap(([own, theirs]) => (theirs ? [own.ms / theirs.ms] : []));
  if (ratios.length > 0) console.log(`its time over the yardstick's: ${summary(ratios, 2)}`);
}

/** One iteration of a polish beside the yardstick `dls`, interleaved, one thread: exact derivatives, and differences by the same kernel. */
function benchPolish(): void {
  const runs = inTurn('polish.ts', 'dls', []) as unknown as readonly (readonly [
    PolishRun,
    { readonly msPerIteration: number; readonly checksum: number } | null,
  ])[];
  for (const [own, theirs] of runs)
    for (const sum of theirs ? [own.checksum, own.differencesChecksum] : [])
      if (Math.abs(sum / theirs!.checksum - 1) > 1e-5)
        throw new Error(`polish: steps sum to ${sum}, the yardstick's to ${theirs!.checksum}`);
  console.log(
    `an iteration of a polish: ${median(runs.map(([own]) => own.ms)).toFixed(2)} ms (median), by ` +
      `differences ${median(runs.map(([own]) => own.differences)).toFixed(2)} ms`,
  );
  const ratios = (of: (own: PolishRun) => number) =>
    runs.flatMap(([own, theirs]) => (theirs ? [of(own) / theirs.msPerIteration] : []));
  const exact = ratios(({ ms }) => ms);
  if (exact.length > 0)
    console.log(
      `its time over the yardstick's: ${summary(exact, 2)}, by differences ${summary(
        ratios(({ differences }) => differences),
        2,
      )}`,
    );
}

interface PolishRun {
  readonly ms: number;
  readonly checksum: number;
  readonly differences: number;
  readonly differencesChecksum: number;
}

interface FourierRun {
  readonly ms: number;
  readonly checksum: number;
}

if (positionals[0] === 'history') await benchHistory(root);
else if (positionals[0] === 'tolerance') await benchTolerance();
else if (positionals[0] === 'server') await benchServer(Number(values.seconds) || 30);
else if (positionals[0] === 'hostile') await benchHostile(values.pictures, values.only);
else if (positionals[0] === 'ui') {
  const [drags, every] = [Number(values.drags) || 100, Number(values.every) || 100];
  await benchUi({ ...values, drags, every });
} else {
  await benchKernels();
  benchPolish();
  benchFourier();
  benchScenes();
}
