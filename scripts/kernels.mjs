// `npm run kernels`: makes the offsets of core/kernels/records.mjs for both languages, builds the hot loops (core/kernels, AssemblyScript)
// to WebAssembly with SIMD and writes them as text into core/src/compute/*-kernel.generated.ts, one file each, so that worker, server and
// terminal have them without loading a file and a page only those that it uses.
// With KERNEL_NAMES=1 functions keep their names, for a profiler.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';
import { constantsOf, SCENE_COLUMNS, SCENE_RECORDS, TRACE_COLUMNS } from '../core/kernels/records.mjs';

const root = resolve(fileURLToPath(import.meta.url), '../..');
const core = join(root, 'core/src');

/** The compiler adds “.ts” to what is imported; TypeScript wants it written, so shared files come with it twice. */
function read(name, folder) {
  const path = join(folder, name.replace(/\.ts\.ts$/, '.ts'));
  return existsSync(path) ? readFileSync(path, 'utf8') : null;
}

/** Builds one module; its bytes as text. */
async function build(source) {
  let bytes = null;
  const options = [
    '--enable',
    'simd',
    '-O3',
    '--noAssert',
    '--runtime',
    'stub',
    '--baseDir',
    root,
    '-o',
    'kernel.wasm',
  ];
  if (process.env.KERNEL_NAMES) options.push('--debug');
  const { error, stderr } = await asc.main([source, ...options], {
    readFile: read,
    writeFile: (name, contents) => {
      if (name.endsWith('.wasm')) bytes = contents;
    },
  });
  if (error || !bytes) {
    process.stderr.write(`${stderr.toString()}\n${error ?? ''}\n`);
    process.exit(1);
  }
  return Buffer.from(bytes).toString('base64');
}

writeFileSync(join(core, 'scene/records.generated.ts'), constantsOf([...SCENE_RECORDS, SCENE_COLUMNS]));
writeFileSync(join(core, 'compute/records.generated.ts'), constantsOf([TRACE_COLUMNS]));
const modules = [
  ['KERNEL_BYTES', 'core/kernels/surfaces.ts', 'surfaces'],
  ['SCENE_KERNEL_BYTES', 'core/kernels/scene/main.ts', 'scene'],
  ['BOXES_KERNEL_BYTES', 'core/kernels/boxes.ts', 'boxes'],
  ['FOURIER_KERNEL_BYTES', 'core/kernels/fourier.ts', 'fourier'],
  ['CORRELATION_KERNEL_BYTES', 'core/kernels/correlation.ts', 'correlation'],
  ['FORMS_KERNEL_BYTES', 'core/kernels/forms.ts', 'forms'],
  ['PHYSICS_KERNEL_BYTES', 'core/kernels/physics.ts', 'physics'], // for tests alone
];
for (const [name, source, file] of modules) {
  const text = `// Made by \`npm run kernels\` from ${source}; not to be edited.\nexport const ${name} = '${await build(source)}';\n`;
  writeFileSync(join(core, `compute/${file}-kernel.generated.ts`), text);
}
