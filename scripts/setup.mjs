// Set-up that a fresh machine needs, each step skipped when it was done already. Plain Node: nothing may be installed yet.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = resolve(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command with its output shown; ends the program when it fails. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (status !== 0) {
    console.error(`${command} ${args.join(' ')} failed${error ? `: ${error.message}` : ''}`);
    process.exit(status || 1);
  }
}

/** Whether what a stamp file remembers is still true. */
function stamped(name, value) {
  const file = join(root, 'node_modules', '.cache', 'ulvex', name);
  return {
    fresh: existsSync(file) && readFileSync(file, 'utf8') === value,
    write() {
      mkdirSync(dirname(file), { recursive: true });
      writeFileSync(file, value);
    },
  };
}

/** Installs the packages of the lock file. */
export function installPackages() {
  const [major] = process.versions.node.split('.').map(Number);
  if (major < 20) {
    console.error(`Ulvex needs Node 20 or newer; this is ${process.versions.node}.`);
    process.exit(1);
  }
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = stamped('packages', lock);
  if (stamp.fresh) return;
  console.log('Installing packages…');
  run('npm', ['ci', '--no-audit', '--no-fund']);
  stamp.write();
}

/** Newest change below some paths, as text. */
function newest(paths) {
  let latest = 0;
  let count = 0;
  const visit = (path) => {
    const stats = statSync(path);
    if (!stats.isDirectory()) {
      latest = Math.max(latest, stats.mtimeMs);
      count++;
      return;
    }
    for (const name of readdirSync(path))
      if (!['node_modules', 'build', '.svelte-kit'].includes(name)) visit(join(path, name));
  };
  for (const path of paths) visit(join(root, path));
  return `${count} ${latest}`;
}

/** Builds the compiled kernels when their source has changed; `npm ci` has built them once already. */
export function buildKernels() {
  const source = newest(['core/kernels', 'scripts/kernels.mjs']);
  const stamp = stamped('kernels', source);
  if (stamp.fresh && existsSync(join(root, 'core/src/compute/forms-kernel.generated.ts'))) return;
  console.log('Building the kernels…');
  run('npm', ['run', 'kernels', '--silent']);
  stamp.write();
}

/** Whether the application is built as its sources are now, and what notes that it is. */
export function appBuild() {
  const stamp = stamped('app', newest(['app', 'core', 'samples', 'package-lock.json']));
  return { fresh: stamp.fresh && existsSync(join(root, 'app/build/handler.js')), note: () => stamp.write() };
}

/** Builds the application when anything it is made of has changed. */
export function buildApp() {
  const build = appBuild();
  if (build.fresh) return;
  console.log('Building the application…');
  run('npm', ['run', 'build', '--silent']);
  build.note();
}

/** Installs Debian's Chromium and its driver when they are missing. */
export function installBrowser() {
  if (existsSync('/usr/bin/chromium') && existsSync('/usr/bin/chromedriver')) return;
  console.log('Installing Chromium and ChromeDriver from Debian’s packages…');
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', ...args];
    run(command, rest, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  };
  apt('update');
  apt('install', '-y', '--no-install-recommends', 'chromium', 'chromium-driver');
}
