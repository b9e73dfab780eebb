// One run of the transform of 512 × 512 complex numbers, as a process of its own, on the numbers of the yardstick
// `fft`. Prints one JSON line like it.
import { fileURLToPath } from 'node:url';
import { fourierSquare } from '@ulvex/core';

const N = 512;
const RUNS = 41;

/** Median time of a transform in ms, and a sum of what comes out. */
export function runFourier(runs: number): { readonly ms: number; readonly checksum: number } {
  const square = fourierSquare(N);
  const times: number[] = [];
  for (let run = 0; run < runs; run++) {
    for (let i = 0; i < N * N; i++) {
      square.re[i] = ((i * 7919) % 1000) / 1000;
      square.im[i] = ((i * 6271) % 1000) / 1000;
    }
    const from = performance.now();
    square.transform();
    times.push(performance.now() - from);
  }
  let checksum = 0;
  for (let i = 0; i < N * N; i += 997) checksum += square.re[i] + 2 * square.im[i];
  return { ms: times.sort((a, b) => a - b)[runs >> 1], checksum };
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  runFourier(8); // warm
  const { ms, checksum } = runFourier(RUNS);
  console.log(JSON.stringify({ ms, checksum }));
}
