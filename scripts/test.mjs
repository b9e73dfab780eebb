// `npm test`: sets up, then lint, types and build, unit tests, verification and interface tests. All of them run even when one fails;
// the last line counts unit and interface tests together. `npm test -- --changed [COMMIT]`: only what a change since a commit touches.
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

/** Runs a script of package.json; see `run`. */
const step = (name, script, options) => run(name, 'npm', ['run', '--silent', script], options);

/** Runs a command; whether it succeeded. What it says is printed at once if it runs alone, and otherwise when it ends. */
async function run(name, command, args, { alone = false } = {}) {
  const started = Date.now();
  const said = [];
  if (alone) console.log(`\n── ${name}`);
  const status = await new Promise((done) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: alone ? 'inherit' : ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ULVEX_TEST_COUNTS: countsFile },
    });
    for (const stream of alone ? [] : [child.stdout, child.stderr]) stream.on('data', (part) => said.push(part));
    child.on('error', () => done(-1));
    child.on('close', done);
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

/**
 * Everything. Two cores: what runs on one runs beside another. Unit and interface tests have two lanes of their own; only the end of the
 * verification runs beside unit tests.
 */
async function all() {
  const built = step('types', 'check').then(build);
  const verified = built.then(() => step('verification', 'verify'));
  await Promise.all([step('lint', 'lint'), built]);
  await step('unit tests', 'unit', { alone: true });
  await verified;
  await step('interface tests', 'e2e', { alone: true });
}

/** What has changed since a commit, and the tests that it touches. Types are checked as a whole: a change breaks them elsewhere. */
async function changed(base) {
  const { changedFiles, sources, suitesOf, unitTestsOf } = await import('./changed.mjs');
  const paths = changedFiles(base);
  const files = sources();
  const [units, suites] = [unitTestsOf(paths, files), suitesOf(paths, files)];
  console.log(`${paths.length} files changed; ${units.length} unit test files, ${suites.length} interface test files`);
  const code = paths.filter((path) => files.has(path));
  if (paths.length > 0) await run('format', 'npx', ['prettier', '--check', '--ignore-unknown', ...paths]);
  if (code.length > 0) await run('lint', 'npx', ['eslint', '--no-warn-ignored', ...code]);
  await run('types', 'npm', ['run', '--silent', 'check']);
  const mocha = (timeout, specs) => [
    ...['mocha', '--no-config', '--node-option', 'import=./scripts/typescript.mjs', '--extension', 'ts'],
    ...[
      '--reporter',
      'scripts/counting-reporter.mjs',
      '--parallel',
      '--jobs',
      '2',
      '--exit',
      '--timeout',
      timeout,
      ...specs,
    ],
  ];
  if (units.length > 0) await run('unit tests', 'npx', mocha('60000', units), { alone: true });
  if (suites.length === 0) return;
  await build();
  await run('interface tests', 'npx', mocha('240000', suites), { alone: true });
}

const at = process.argv.indexOf('--changed');
await (at < 0 ? all() : changed(process.argv[at + 1]));

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
if (at < 0 && counts.length < 2 && failed === 0) failed = 1;
console.log(failures.length > 0 ? `\nFailed: ${failures.join(', ')}` : '\nAll steps done.');
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
