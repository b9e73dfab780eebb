import { coneFace } from '../bodies/quadric-face.ts';
import type { FaceForm } from '../bodies/face-form.ts';
import { sphereFace } from '../bodies/round.ts';
import type { Region, StartOrder } from '../project/scene.ts';

/** Writes a start into `out`: place, then the normal there, in the coordinates of the source; drawn by two numbers between 0 and 1. */
export type Start = (u: number, v: number, out: Float64Array) => void;

/** Most places of a regular order. */
const MOST_PLACES = 1_000_000;

/** Starts on regular places of a flat region; null where a region has none (a point, a curved one) or the order leaves none on it. */
export function orderedStart(region: Region, order: StartOrder): Start | null {
  const half = halfSize(region);
  if (!half) return null;
  const [a, b] = half;
  const inner = region.kind === 'disc' ? (region.inner ?? 0) / a : 0;
  const round = region.kind === 'disc';
  const places: number[] = [];
  if (order.kind === 'grid') {
    const { columns, rows } = order;
    if (columns * rows > MOST_PLACES) return null;
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const [x, y] = [(2 * column + 1) / columns - 1, (2 * row + 1) / rows - 1];
        const r = Math.hypot(x, y);
        if (!round || (r <= 1 && r >= inner)) places.push(a * x, b * y);
      }
  } else {
    const { rings, arms } = order;
    if (rings * arms > MOST_PLACES) return null;
    for (let ring = 0; ring < rings; ring++) {
      const r = Math.sqrt(inner * inner + ((ring + 0.5) / rings) * (1 - inner * inner));
      for (let arm = 0; arm < arms; arm++) {
        const phi = (2 * Math.PI * (arm + 0.5)) / arms;
        places.push(a * r * Math.cos(phi), b * r * Math.sin(phi));
      }
    }
  }
  const count = places.length / 2;
  if (count === 0) return null;
  // One number picks the place, so that a low-discrepancy sequence visits all of them equally often.
  const pick = (u: number) => 2 * Math.min(count - 1, Math.floor(u * count));
  return flat(
    (u) => places[pick(u)],
    (u) => places[pick(u) + 1],
  );
}

function halfSize(region: Region): readonly [number, number] | null {
  if (region.kind === 'disc') return [region.radius, region.radius];
  if (region.kind === 'rectangle') return [region.width / 2, region.height / 2];
  return null;
}

/** Starts on a face, along its outer normal. */
export function onFace(form: FaceForm): Start {
  const at = new Float64Array(3);
  return (u, v, out) => {
    form.spread(u, v, at);
    out.set(at);
    form.normal(at[0], at[1], at[2], at);
    out.set(at, 3);
  };
}

/** Starts of a region that needs no face of the scene. */
export function startOf(region: Exclude<Region, { kind: 'face' }>): Start {
  switch (region.kind) {
    case 'point':
      return flat(
        () => 0,
        () => 0,
      );
    case 'disc': {
      const { radius, inner = 0 } = region;
      const distance = (u: number) => Math.sqrt(inner * inner + u * (radius * radius - inner * inner));
      return flat(
        (u, v) => distance(u) * Math.cos(2 * Math.PI * v),
        (u, v) => distance(u) * Math.sin(2 * Math.PI * v),
      );
    }
    case 'rectangle': {
      const { width, height } = region;
      return flat(
        (u) => (u - 0.5) * width,
        (_u, v) => (v - 0.5) * height,
      );
    }
    case 'waist': {
      const distance = (u: number) => region.radius * Math.sqrt(-Math.log(u) / 2);
      return flat(
        (u, v) => distance(u) * Math.cos(2 * Math.PI * v),
        (u, v) => distance(u) * Math.sin(2 * Math.PI * v),
      );
    }
    case 'filament':
      return onFace(coneFace(region.radius, -region.length / 2, region.radius, region.length / 2, 1));
    case 'sphere':
      return onFace(sphereFace(region.radius));
  }
}

/** Starts in the plane z = 0, toward +z. */
function flat(x: (u: number, v: number) => number, y: (u: number, v: number) => number): Start {
  return (u, v, out) => {
    out[0] = x(u, v);
    out[1] = y(u, v);
    out[2] = out[3] = out[4] = 0;
    out[5] = 1;
  };
}
