// `npm run kernels`: builds the hot loops (core/kernels, AssemblyScript) to WebAssembly with SIMD and writes them as text into
// core/src/compute/kernel-bytes.generated.ts, so that worker, server and terminal have them without loading a file.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = resolve(fileURLToPath(import.meta.url), '../..');
const source = join(root, 'core/kernels/surfaces.ts');
const target = join(root, 'core/src/compute/kernel-bytes.generated.ts');
const folder = mkdtempSync(join(tmpdir(), 'ulvex-kernels-'));
const wasm = join(folder, 'surfaces.wasm');
const compiler = join(root, 'node_modules/assemblyscript/bin/asc.js');
const options = ['--enable', 'simd', '-O3', '--noAssert', '--runtime', 'stub', '-o', wasm];
const { status } = spawnSync(process.execPath, [compiler, source, ...options], { stdio: 'inherit' });
if (status === 0) {
  const text = readFileSync(wasm).toString('base64');
  const written = `// Made by \`npm run kernels\` from core/kernels; not to be edited.\nexport const KERNEL_BYTES = '${text}';\n`;
  writeFileSync(target, written);
}
rmSync(folder, { recursive: true });
process.exit(status ?? 1);
