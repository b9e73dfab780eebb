// `npm test`: sets up, then lint, types and build, unit tests, verification and interface tests. All of them run even when one fails;
// the last line counts unit and interface tests together.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { appBuild, buildKernels, installBrowser, installPackages, root } from './setup.mjs';

installPackages();
buildKernels();
installBrowser();

const folder = mkdtempSync(join(tmpdir(), 'ulvex-test-'));
const countsFile = join(folder, 'counts');
const failures = [];

/**
 * Runs a script of package.json; whether it succeeded. What it says is printed at once if it runs alone, and otherwise when it ends.
 */
async function step(name, script, { alone = false } = {}) {
  const started = Date.now();
  const said = [];
  if (alone) console.log(`\n── ${name}`);
  const status = await new Promise((done) => {
    const run = spawn('npm', ['run', '--silent', script], {
      cwd: root,
      stdio: alone ? 'inherit' : ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ULVEX_TEST_COUNTS: countsFile },
    });
    for (const stream of alone ? [] : [run.stdout, run.stderr]) stream.on('data', (part) => said.push(part));
    run.on('error', () => done(-1));
    run.on('close', done);
  });
  const seconds = ((Date.now() - started) / 1000).toFixed(1);
  if (!alone) console.log(`\n── ${name}`);
  process.stdout.write(Buffer.concat(said));
  console.log(`── ${name}: ${status === 0 ? 'done' : 'FAILED'} in ${seconds} s`);
  if (status !== 0) failures.push(name);
  return status === 0;
}

async function build() {
  const app = appBuild();
  if (!app.fresh && (await step('build', 'build'))) app.note();
}

// Two cores: what runs on one runs beside another. Tests run alone: two files at a time took longer, for a browser and its
// workers use both.
const verify = () => step('verification', 'verify');
await Promise.all([step('lint', 'lint').then(verify), step('types', 'check').then(build)]);
await step('unit tests', 'unit', { alone: true });
await step('interface tests', 'e2e', { alone: true });

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
