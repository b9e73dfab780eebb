import type { Triangles } from '../../bodies/face-form.ts';
import type { CompiledDetector } from '../../scene/detectors.ts';

/** Straight pieces as x, y, z of both ends, one after another. */
export type Pieces = Float32Array;

const AROUND = 48;

/** The outline of a detector that stands free, in its own coordinates; empty for what has none. */
export function detectorOutline({ detector: { on }, range, chart }: CompiledDetector): Pieces {
  const pieces: number[] = [];
  const ring = (radius: number, at: (a: number, b: number) => readonly [number, number, number]) => {
    for (let k = 0; k < AROUND; k++)
      for (const step of [k, k + 1]) {
        const turn = (2 * Math.PI * step) / AROUND;
        pieces.push(...at(radius * Math.cos(turn), radius * Math.sin(turn)));
      }
  };
  const frame = (x: readonly [number, number], y: readonly [number, number], z: number) => {
    const corners = [
      [x[0], y[0]],
      [x[1], y[0]],
      [x[1], y[1]],
      [x[0], y[1]],
    ];
    corners.forEach(([cx, cy], k) => pieces.push(cx, cy, z, corners[(k + 1) % 4][0], corners[(k + 1) % 4][1], z));
  };
  switch (on.kind) {
    case 'disc':
      ring(on.radius, (a, b) => [a, b, 0]);
      break;
    case 'cylinder': {
      const [from, to] = [-on.length / 2, on.length / 2];
      for (const z of [from, to]) ring(on.radius, (a, b) => [a, b, z]);
      for (const [a, b] of [
        [1, 0],
        [0, 1],
        [-1, 0],
        [0, -1],
      ])
        pieces.push(a * on.radius, b * on.radius, from, a * on.radius, b * on.radius, to);
      break;
    }
    case 'sphere':
      ring(on.radius, (a, b) => [a, b, 0]);
      ring(on.radius, (a, b) => [0, a, b]);
      ring(on.radius, (a, b) => [b, 0, a]);
      break;
    case 'block':
      for (const z of [-on.depth / 2, on.depth / 2]) frame(range.x, range.y, z);
      for (const x of range.x) for (const y of range.y) pieces.push(x, y, -on.depth / 2, x, y, on.depth / 2);
      break;
    default:
      if (chart.kind === 'flat') frame(range.x, range.y, 0);
  }
  return Float32Array.from(pieces);
}

/** Where triangles cross the plane in which one coordinate has a value: the lines of a section. */
export function sectionLines({ positions, indices }: Triangles, axis: 0 | 1 | 2, value: number): Pieces {
  const pieces: number[] = [];
  for (let k = 0; k < indices.length; k += 3) {
    const ends: number[] = [];
    for (let edge = 0; edge < 3; edge++) {
      const [a, b] = [3 * indices[k + edge], 3 * indices[k + ((edge + 1) % 3)]];
      const [from, to] = [positions[a + axis] - value, positions[b + axis] - value];
      // A corner that lies in the plane belongs to its far side, so that no piece is found twice.
      if (from < 0 === to < 0) continue;
      const part = from / (from - to);
      for (let i = 0; i < 3; i++)
        ends.push(i === axis ? value : positions[a + i] + part * (positions[b + i] - positions[a + i]));
    }
    if (ends.length === 6) pieces.push(...ends);
  }
  return Float32Array.from(pieces);
}
