// `npm run bench -- [--yardsticks FOLDER] [--rounds N]`: our kernels beside the native yardsticks, interleaved, as ratios of rates
// within each round: rates are noisy on shared machines, ratios less so. `npm run bench -- ui` measures the interface: see ui.ts.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { loadavg } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { benchUi } from './ui.ts';
import { workerRatios } from './workers.ts';

const root = resolve(import.meta.dirname, '../..');
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    yardsticks: { type: 'string', default: join(root, '../shared/yardsticks') },
    rounds: { type: 'string', default: '5' },
    drags: { type: 'string', default: '100' },
    trace: { type: 'string' },
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
  return lastJson(
    execFileSync(process.execPath, ['--import', 'tsx', script], { cwd: root, encoding: 'utf8' }),
  );
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
      if (theirs.alive !== own.alive)
        throw new Error(`${mode}: ${theirs.alive} rays get through, ours ${own.alive}`);
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
  const two = await workerRatios(rounds);
  console.log(
    `two workers over one: ${median(two).toFixed(3)} (${Math.min(...two).toFixed(3)}–${Math.max(...two).toFixed(3)})`,
  );
}

interface MirrorRun {
  readonly raysPerSecond: number;
  readonly rms?: number;
  readonly checksum?: { readonly rms: number };
}

/** The mirror scene through the general tracer beside the yardstick written for it, interleaved. */
function benchMirror(): void {
  const binary = join(root, '.cache/yardsticks/mirror');
  const script = join(import.meta.dirname, 'mirror.ts');
  const rounds = Math.max(1, Number(values.rounds) || 5);
  const rates: number[] = [];
  const ratios: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const run = (file: string, args: readonly string[]) =>
      JSON.parse(
        execFileSync(file, args, { cwd: root, encoding: 'utf8' }).trim().split('\n').at(-1)!,
      ) as MirrorRun;
    const own = run(process.execPath, ['--import', 'tsx', script]);
    rates.push(own.raysPerSecond);
    if (!existsSync(binary)) continue;
    const theirs = run(binary, ['soa', 'xoshiro', '1', '10000000', '1']);
    // Two and ten million rays: their radii agree to a part in a thousand.
    if (Math.abs(own.rms! / theirs.checksum!.rms - 1) > 1e-3)
      throw new Error(`mirror: RMS radius ${own.rms}, the yardstick ${theirs.checksum!.rms}`);
    ratios.push(own.raysPerSecond / theirs.raysPerSecond);
  }
  console.log(`mirror scene: ${(median(rates) / 1e6).toFixed(2)} M rays/s (median), one thread`);
  if (ratios.length > 0)
    console.log(
      `mirror over soa xoshiro: ${median(ratios).toFixed(4)} (${Math.min(...ratios).toFixed(4)}–${Math.max(...ratios).toFixed(4)})`,
    );
}

if (positionals[0] === 'ui') await benchUi(Number(values.drags) || 100, values.trace);
else {
  await benchKernels();
  benchMirror();
}
