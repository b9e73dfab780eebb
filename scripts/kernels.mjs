// `npm run kernels`: builds the hot loops (core/kernels, AssemblyScript) to WebAssembly with SIMD and writes them as text into
// core/src/compute/*-kernel.generated.ts, one file each, so that worker, server and terminal have them without loading a file and a page only
// those that it uses.
// With KERNEL_NAMES=1 functions keep their names, for a profiler.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = resolve(fileURLToPath(import.meta.url), '../..');
const target = join(root, 'core/src/compute');
const folder = mkdtempSync(join(tmpdir(), 'ulvex-kernels-'));
const compiler = join(root, 'node_modules/assemblyscript/bin/asc.js');

/** Builds one module; its bytes as text. */
function build(source) {
  const wasm = join(folder, 'kernel.wasm');
  const options = [
    '--enable',
    'simd',
    '-O3',
    '--noAssert',
    '--runtime',
    'stub',
    ...(process.env.KERNEL_NAMES ? ['--debug'] : []),
    '-o',
    wasm,
  ];
  const { status } = spawnSync(process.execPath, [compiler, join(root, source), ...options], {
    stdio: 'inherit',
  });
  if (status !== 0) process.exit(status ?? 1);
  return readFileSync(wasm).toString('base64');
}

const modules = [
  ['KERNEL_BYTES', 'core/kernels/surfaces.ts', 'surfaces'],
  ['SCENE_KERNEL_BYTES', 'core/kernels/scene/main.ts', 'scene'],
  ['BOXES_KERNEL_BYTES', 'core/kernels/boxes.ts', 'boxes'],
  ['FOURIER_KERNEL_BYTES', 'core/kernels/fourier.ts', 'fourier'],
  ['CORRELATION_KERNEL_BYTES', 'core/kernels/correlation.ts', 'correlation'],
  ['FORMS_KERNEL_BYTES', 'core/kernels/forms.ts', 'forms'],
];
for (const [name, source, file] of modules) {
  const text = `// Made by \`npm run kernels\` from ${source}; not to be edited.\nexport const ${name} = '${build(source)}';\n`;
  writeFileSync(join(target, `${file}-kernel.generated.ts`), text);
}
rmSync(folder, { recursive: true });
