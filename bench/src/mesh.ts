// One run of the general scene tracer on the yardstick's mesh: a closed, rippled sphere of 303,420 triangles as a perfect mirror, rays from
// inside, five of their reflections. Prints one JSON line like the yardstick's.
import { meshRecord, MeshTree, readyMesh, traceAll } from '@ulvex/core';
import { yardstickModel } from './yardstick-scene.ts';

const RAYS = Number(process.argv[2] ?? 200_000);
const RINGS = 390;
const BOUNCES = 5;

const corners = new Float32Array(3 * (RINGS + 1) * RINGS);
for (let i = 0; i <= RINGS; i++)
  for (let j = 0; j < RINGS; j++) {
    const [theta, phi] = [(Math.PI * i) / RINGS, (2 * Math.PI * j) / RINGS];
    const r = 50 * (1 + 0.05 * Math.cos(7 * theta) * Math.cos(9 * phi) * Math.sin(theta));
    const sine = Math.sin(theta);
    corners.set([r * sine * Math.cos(phi), r * sine * Math.sin(phi), r * Math.cos(theta)], 3 * (i * RINGS + j));
  }
const triangles: number[] = [];
// All corners of a ring at a pole lie in one place: one of them stands for all, or the skin would have seams there.
const at = (i: number, j: number) => i * RINGS + (i === 0 || i === RINGS ? 0 : j % RINGS);
for (let i = 0; i < RINGS; i++)
  for (let j = 0; j < RINGS; j++) {
    if (i > 0) triangles.push(at(i, j), at(i, j + 1), at(i + 1, j));
    if (i < RINGS - 1) triangles.push(at(i, j + 1), at(i + 1, j + 1), at(i + 1, j));
  }
for (let j = 0; j < 3; j++) corners[3 * RINGS * RINGS + j] = [0, 0, -50][j];

const record = meshRecord('skin', 'Rippled sphere', corners, Uint32Array.from(triangles));
const ready = readyMesh(record);
if (!ready.ok || !ready.value.closed) throw new Error(ready.ok ? JSON.stringify(ready.value.faults) : ready.reason);
const builds: number[] = [];
for (let k = 0; k < 3; k++) {
  const from = performance.now();
  new MeshTree(ready.value.corners, ready.value.triangles);
  builds.push((performance.now() - from) / 1000);
}
const model = yardstickModel({
  meshes: [record],
  // Air inside: the skin reflects light that stays within.
  parts: [{ id: 'skin', body: { kind: 'mesh', mesh: 'skin' }, material: 'air', finish: 'mirror' }],
  lamp: {
    region: { kind: 'point' },
    law: { kind: 'isotropic', half: 180 },
    frame: { dx: 5, dy: -3, dz: 2 },
  },
  sampling: { rays: RAYS, events: BOUNCES },
});
traceAll(model, 20_000); // warm
const from = performance.now();
const tally = traceAll(model, RAYS);
const seconds = (performance.now() - from) / 1000;
console.log(
  JSON.stringify({
    raysPerSecond: (BOUNCES * tally.rays) / seconds,
    buildSeconds: builds.sort((a, b) => a - b)[1],
    escaped: tally.ledger.escaped,
    triangles: ready.value.triangles.length / 3,
  }),
);
