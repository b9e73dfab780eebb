// `npm test`: sets up, then lint, types, unit tests, verification and interface tests. All of them run even when one fails;
// the last line counts unit and interface tests together.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildApp, buildKernels, installBrowser, installPackages, root } from './setup.mjs';

installPackages();
buildKernels();
installBrowser();

const folder = mkdtempSync(join(tmpdir(), 'ulvex-test-'));
const countsFile = join(folder, 'counts');
const failures = [];

function ended(name, status, started) {
  if (status !== 0) failures.push(name);
  console.log(`── ${name}: ${status === 0 ? 'done' : 'FAILED'} in ${((Date.now() - started) / 1000).toFixed(1)} s`);
}

function step(name, script) {
  console.log(`\n── ${name}`);
  const started = Date.now();
  const { status } = spawnSync('npm', ['run', '--silent', script], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, ULVEX_TEST_COUNTS: countsFile },
  });
  ended(name, status, started);
}

/** A step that runs beside others, each on one core; what it says is printed when it ends. */
async function stepBeside(name, script) {
  const started = Date.now();
  const said = [];
  const status = await new Promise((done) => {
    const run = spawn('npm', ['run', '--silent', script], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ULVEX_TEST_COUNTS: countsFile },
    });
    for (const stream of [run.stdout, run.stderr]) stream.on('data', (part) => said.push(part));
    run.on('error', () => done(-1));
    run.on('close', done);
  });
  console.log(`\n── ${name}`);
  process.stdout.write(Buffer.concat(said));
  ended(name, status, started);
}

await Promise.all([stepBeside('lint', 'lint'), stepBeside('types', 'check')]);
await Promise.all([stepBeside('unit tests', 'unit'), stepBeside('verification', 'verify')]);
buildApp();
step('interface tests', 'e2e');

const counts = existsSync(countsFile)
  ? readFileSync(countsFile, 'utf8')
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line))
  : [];
rmSync(folder, { recursive: true });
const passed = counts.reduce((sum, { passes }) => sum + passes, 0);
let failed = counts.reduce((sum, count) => sum + count.failures, 0);
// A step that broke before its tests could be counted is a failure too.
if (failures.length > 0 && failed === 0) failed = failures.length;
if (counts.length < 2 && failed === 0) failed = 1;
console.log(failures.length > 0 ? `\nFailed: ${failures.join(', ')}` : '\nAll steps done.');
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
