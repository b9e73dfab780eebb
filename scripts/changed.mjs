// What a change touches: the unit tests that import it, however many files lie between, and the interface tests that name something of it.
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { root } from './setup.mjs';

const git = (...args) =>
  execFileSync('git', args, { cwd: root, encoding: 'utf8', maxBuffer: 1e8 }).split('\n').filter(Boolean);

/** Files that differ from a commit, new ones among them; paths from the root. */
export function changedFiles(base = 'HEAD') {
  return [
    ...new Set([...git('diff', '--name-only', base), ...git('ls-files', '--others', '--exclude-standard')]),
  ].filter((path) => existsSync(join(root, path)));
}

/** The sources of the repository by their paths. */
export function sources() {
  const paths = git('ls-files', '--cached', '--others', '--exclude-standard', '*.ts', '*.svelte', '*.mjs', '*.js');
  return new Map(
    paths.filter((path) => existsSync(join(root, path))).map((path) => [path, readFileSync(join(root, path), 'utf8')]),
  );
}

/** The files that a source imports, as paths from the root; packages are left out. */
export function importsOf(path, text) {
  const found = [];
  for (const [, specifier] of text.matchAll(/(?:from|import)\s*\(?\s*'([^']+)'/g)) {
    if (specifier.startsWith('.')) found.push(normalize(join(dirname(path), specifier)));
    else if (specifier.startsWith('$lib/')) found.push(`app/src/lib/${specifier.slice('$lib/'.length)}`);
    else if (specifier === '@ulvex/core') found.push('core/src/index.ts');
    else if (specifier.startsWith('@ulvex/core/'))
      found.push(`core/src/${specifier.slice('@ulvex/core/'.length)}/index.ts`);
  }
  return found;
}

/** Unit tests among the sources that are changed, or import what is, directly or through others. */
export function unitTestsOf(changed, files) {
  const importers = new Map();
  for (const [path, text] of files)
    for (const target of importsOf(path, text)) importers.set(target, [...(importers.get(target) ?? []), path]);
  const reached = new Set(changed);
  const waiting = [...changed];
  while (waiting.length > 0)
    for (const importer of importers.get(waiting.pop()) ?? [])
      if (!reached.has(importer)) {
        reached.add(importer);
        waiting.push(importer);
      }
  return [...reached].filter((path) => path.endsWith('.test.ts') && !path.startsWith('e2e/')).sort();
}

/** Interface tests that are changed, or that name a `data-testid` of a component that is. All of them for a change of what they share. */
export function suitesOf(changed, files) {
  const suites = [...files.keys()].filter((path) => /^e2e\/src\/.*\.test\.ts$/.test(path));
  if (changed.some((path) => /^e2e\/src\/(?!.*\.test\.ts$)/.test(path))) return suites;
  const names = changed
    .filter((path) => path.endsWith('.svelte'))
    .flatMap((path) =>
      [...(files.get(path) ?? '').matchAll(/(?:data-testid|testid)="([a-z][\w-]*)/g)].map(([, name]) => name),
    );
  return suites.filter((path) => changed.includes(path) || names.some((name) => files.get(path).includes(name))).sort();
}
