// Writes app/static/third-party.txt: the licence of every package of which something ships, with its text.
// Ships: what the app, its core and its samples depend on, all the way down, and what the build itself puts in.
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { root } from './setup.mjs';

const WORKSPACES = ['app', 'core', 'samples'];
/** Development packages whose run-time code the build puts into the page, the server or the WASM kernels. */
const BUILT_IN = [
  'svelte',
  'clsx',
  'esm-env',
  '@sveltejs/kit',
  '@sveltejs/adapter-node',
  'devalue',
  'cookie',
  'set-cookie-parser',
  'sirv',
  'mrmime',
  'totalist',
  'assemblyscript',
];
const TEXTS = /^(licen[cs]e|notice|copying|ofl)([-.].*)?$/i;

const described = (folder) => JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));

/** The folder from which `from` would load a package; null when it is not installed. */
function folderOf(name, from) {
  for (let folder = from; ; folder = dirname(folder)) {
    const found = join(folder, 'node_modules', name);
    if (existsSync(join(found, 'package.json'))) return found;
    if (folder === dirname(folder)) return null;
  }
}

/** Every package of which something ships, by `name version`, with its folder. */
function shipped() {
  const found = new Map();
  const missing = [];
  const waiting = WORKSPACES.flatMap((space) =>
    Object.keys(described(join(root, space)).dependencies ?? {}).map((name) => ({
      name,
      from: join(root, space),
    })),
  );
  for (const name of BUILT_IN) waiting.push({ name, from: join(root, 'app') });
  while (waiting.length > 0) {
    const { name, from } = waiting.pop();
    if (name.startsWith('@ulvex/')) continue;
    const folder = folderOf(name, from);
    if (!folder) {
      missing.push(name);
      continue;
    }
    const { version, dependencies } = described(folder);
    if (found.has(`${name} ${version}`)) continue;
    found.set(`${name} ${version}`, folder);
    if (BUILT_IN.includes(name)) continue; // the rest of a build tool stays at home
    for (const next of Object.keys(dependencies ?? {})) waiting.push({ name: next, from: folder });
  }
  if (missing.length > 0) throw new Error(`not installed: ${missing.join(', ')}; run npm ci`);
  return [...found].sort(([a], [b]) => a.localeCompare(b, 'en'));
}

/** The section of a package's README that is about its licence; null when there is none. */
function licenceInReadme(folder) {
  const readme = readdirSync(folder).find((name) => /^readme/i.test(name));
  const section = readme && /^#+\s*licen[cs]e\b[^\n]*\n([\s\S]*)/im.exec(readFileSync(join(folder, readme), 'utf8'));
  return section ? section[1].trim() : null;
}

/** What a package says of its licence: its identifier and its texts. */
function licence(title, folder) {
  const { license, homepage, author } = described(folder);
  const texts = readdirSync(folder)
    .filter((name) => TEXTS.test(name))
    .sort()
    .map((name) => readFileSync(join(folder, name), 'utf8').trim());
  if (texts.length === 0) texts.push(licenceInReadme(folder) ?? 'The package ships no text of its licence.');
  if (typeof license !== 'string') throw new Error(`${title} does not name its licence in package.json`);
  const by = typeof author === 'string' ? author : author?.name;
  const said = [`Licence: ${license}`, by && `Author: ${by}`, homepage && `Home: ${homepage}`].filter(Boolean);
  return [title, '='.repeat(title.length), ...said, '', ...texts].join('\n');
}

const parts = shipped().map(([title, folder]) => licence(title, folder));
const head = `Ulvex contains parts of the following ${parts.length} packages, each under its own licence.
Fonts: IBM Plex (SIL Open Font License). Compiled kernels (WASM): AssemblyScript's run-time library.`;
const text = `${[head, ...parts].join('\n\n\n')}\n`;
const file = join(root, 'app/static/third-party.txt');
if (!existsSync(file) || readFileSync(file, 'utf8') !== text) writeFileSync(file, text);
