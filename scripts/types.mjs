// `npm run check`: the types of every workspace, by the native compiler (TypeScript 7); svelte-check and the linter still need version 6 beside it.
import { spawnSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { root } from './setup.mjs';

/** What is checked alone: the core has neither a page nor Node around it, its tests and the tools have. */
const PROJECTS = ['core', 'core/tsconfig.test.json', 'verify', 'cli', 'bench', 'trials', 'e2e'];

const native = createRequire(import.meta.url).resolve('@typescript/native/package.json');
const compiler = join(dirname(native), 'bin/tsc');
let failed = false;
const run = (command, args) => {
  if (spawnSync(command, args, { cwd: root, stdio: 'inherit' }).status !== 0) failed = true;
};
for (const project of PROJECTS) run(process.execPath, [compiler, '-p', project]);
run('npm', ['run', '--silent', 'check', '-w', 'app']);
process.exit(failed ? 1 : 0);
