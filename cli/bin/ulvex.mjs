#!/usr/bin/env node
import '../../scripts/typescript.mjs';

// Whoever reads the output may have seen enough of it.
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit(0);
});
const { main } = await import('../src/main.ts');
process.exitCode = await main(process.argv.slice(2), {
  out: (line) => process.stdout.write(`${line}\n`),
  err: (line) => process.stderr.write(`${line}\n`),
});
