import earcut from 'earcut';
import type { Box, CompiledForm, FaceForm, Triangles } from './face-form.ts';

export type Corner = readonly [x: number, y: number];

/** A flat face at z = 0 with the outside toward +z, bounded by a polygon, with round holes. */
export class PlaneFace implements FaceForm {
  readonly box: Box;
  readonly area: number;
  readonly #corners: readonly Corner[];
  readonly #holes: readonly { readonly x: number; readonly y: number; readonly radius: number }[];
  readonly #rectangle: readonly [number, number, number, number] | null;
  readonly #cuts: {
    readonly triangles: Uint32Array;
    readonly below: Float64Array;
    readonly points: Float64Array;
  };

  constructor(
    corners: readonly Corner[],
    holes: readonly { readonly x: number; readonly y: number; readonly radius: number }[] = [],
  ) {
    this.#corners = corners;
    this.#holes = holes;
    const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
    this.box = { min: [Math.min(...xs), Math.min(...ys), 0], max: [Math.max(...xs), Math.max(...ys), 0] };
    const upright =
      corners.length === 4 &&
      corners.every(([x, y], i) => {
        const [nx, ny] = corners[(i + 1) % 4];
        return x === nx || y === ny;
      });
    this.#rectangle = upright ? [this.box.min[0], this.box.min[1], this.box.max[0], this.box.max[1]] : null;
    this.#cuts = this.#cut(256);
    this.area = Math.abs(polygonArea(corners)) - holes.reduce((sum, { radius }) => sum + Math.PI * radius * radius, 0);
  }

  get compiled(): CompiledForm {
    const { min, max } = this.box;
    const corners = this.#rectangle === null ? this.#corners : [];
    return { kind: 'flat', numbers: [min[0], min[1], max[0], max[1]], corners, holes: this.#holes };
  }

  #inside(x: number, y: number): boolean {
    const rectangle = this.#rectangle;
    if (rectangle !== null) {
      if (x < rectangle[0] || y < rectangle[1] || x > rectangle[2] || y > rectangle[3]) return false;
    } else if (!insidePolygon(this.#corners, x, y)) return false;
    for (const hole of this.#holes) if ((x - hole.x) ** 2 + (y - hole.y) ** 2 < hole.radius ** 2) return false;
    return true;
  }

  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const t = -z / n;
    if (!(Math.abs(t) < 1e100) || !this.#inside(x + t * l, y + t * m)) return 0;
    out[0] = t;
    return 1;
  }

  normal(_x: number, _y: number, _z: number, out: Float64Array): void {
    out[0] = out[1] = 0;
    out[2] = 1;
  }

  spread(u: number, v: number, out: Float64Array): void {
    const rectangle = this.#rectangle;
    out[2] = 0;
    if (rectangle !== null && this.#holes.length === 0) {
      out[0] = rectangle[0] + u * (rectangle[2] - rectangle[0]);
      out[1] = rectangle[1] + v * (rectangle[3] - rectangle[1]);
      return;
    }
    const { triangles, below, points } = this.#cuts;
    const wanted = u * below[below.length - 1];
    let i = 1;
    while (i < below.length - 1 && below[i] < wanted) i++;
    const part = (wanted - below[i - 1]) / (below[i] - below[i - 1]);
    const [a, b, c] = [triangles[3 * i - 3], triangles[3 * i - 2], triangles[3 * i - 1]];
    const root = Math.sqrt(part);
    for (let axis = 0; axis < 2; axis++)
      out[axis] =
        (1 - root) * points[2 * a + axis] + root * ((1 - v) * points[2 * b + axis] + v * points[2 * c + axis]);
  }

  #cut(detail: number): { triangles: Uint32Array; below: Float64Array; points: Float64Array } {
    const points = this.#corners.flat();
    const starts: number[] = [];
    for (const { x, y, radius } of this.#holes) {
      starts.push(points.length / 2);
      for (let k = 0; k < detail; k++) {
        // Sides touch the circle from outside: no triangle reaches into the hole.
        const turn = (2 * Math.PI * k) / detail;
        const corner = radius / Math.cos(Math.PI / detail);
        points.push(x + corner * Math.cos(turn), y + corner * Math.sin(turn));
      }
    }
    const triangles = Uint32Array.from(earcut(points, starts));
    const below = new Float64Array(triangles.length / 3 + 1);
    for (let i = 1; i < below.length; i++) {
      const corners = [triangles[3 * i - 3], triangles[3 * i - 2], triangles[3 * i - 1]];
      below[i] = below[i - 1] + Math.abs(polygonArea(corners.map((k) => [points[2 * k], points[2 * k + 1]] as const)));
    }
    return { triangles, below, points: Float64Array.from(points) };
  }

  triangles(detail: number): Triangles {
    const { triangles, points } = this.#cut(detail);
    const count = points.length / 2;
    const positions = new Float32Array(count * 3);
    const normals = new Float32Array(count * 3);
    for (let i = 0; i < count; i++) {
      positions[3 * i] = points[2 * i];
      positions[3 * i + 1] = points[2 * i + 1];
      normals[3 * i + 2] = 1;
    }
    return { positions, normals, indices: triangles };
  }
}

/** Positive for corners that run from x toward y. */
export function polygonArea(corners: readonly Corner[]): number {
  let sum = 0;
  corners.forEach(([x, y], i) => {
    const [nx, ny] = corners[(i + 1) % corners.length];
    sum += x * ny - nx * y;
  });
  return sum / 2;
}

/** Whether a point lies in a polygon, by crossings of a line to the left. */
export function insidePolygon(corners: readonly Corner[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = corners.length - 1; i < corners.length; j = i++) {
    const [[xi, yi], [xj, yj]] = [corners[i], corners[j]];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}
