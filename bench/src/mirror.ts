// One run of the general scene tracer on the yardstick's mirror scene, as a process of its own: a small Lambertian disc at one focus of an
// elliptical mirror, a map of 100 × 100 cells at the other. Prints one JSON line like the yardstick's.
import { fileURLToPath } from 'node:url';
import { detectorNumbers, traceAll, type Tally } from '@ulvex/core';
import { yardstickModel } from './yardstick-scene.ts';

const RAYS = Number(process.argv[2] ?? 10_000_000);

const model = yardstickModel({
  parts: [
    { id: 'mirror', body: { kind: 'shell', radius: 36, conic: -0.64, semi: 59.999 }, finish: 'mirror' },
    { id: 'screen', body: { kind: 'sheet', width: 20, height: 20 }, frame: { dz: 180 } },
  ],
  lamp: {
    region: { kind: 'disc', radius: 0.25 },
    law: { kind: 'lambertian', half: 90 },
    frame: { dz: 20, ty: 180 },
  },
  detectors: [
    {
      id: 'map',
      on: { kind: 'face', part: 'screen', face: 'face' },
      columns: 100,
      rows: 100,
      counts: 'incident',
      light: 'radiometric',
    },
  ],
  sampling: { rays: RAYS },
});

/** Traces so many rays of it. */
export function runMirror(rays: number): Tally {
  return traceAll(model, rays);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  runMirror(100_000); // warm
  const from = performance.now();
  const tally = runMirror(RAYS);
  const seconds = (performance.now() - from) / 1000;
  const numbers = detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks);
  // The radius about the axis, as the yardstick has it: about the centroid it is a hair less.
  const rms = Math.hypot(numbers.rmsRadius.value, numbers.centroidX.value, numbers.centroidY.value);
  const hits = tally.detectors[0].hits.reduce((sum, one) => sum + one, 0) / tally.rays;
  console.log(JSON.stringify({ raysPerSecond: tally.rays / seconds, hits, rms }));
}
