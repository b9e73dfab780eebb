import type { Box, FaceForm, Triangles } from './face-form.ts';
import { TriangleSpread } from './triangle-spread.ts';

/** The round wall about z between two surfaces, each given by its height over x and y: the ground rim of an element. */
export class RimFace implements FaceForm {
  readonly box: Box;
  readonly area: number;
  readonly #radius: number;
  readonly #from: number;
  readonly #to: number;
  readonly #front: (x: number, y: number) => number;
  readonly #back: (x: number, y: number) => number;
  readonly #even = new TriangleSpread(this);

  constructor(radius: number, front: (x: number, y: number) => number, back: (x: number, y: number) => number) {
    this.#radius = radius;
    this.#front = front;
    this.#back = back;
    let [low, high, area] = [Infinity, -Infinity, 0];
    for (let k = 0; k < 64; k++) {
      const [x, y] = [radius * Math.cos((2 * Math.PI * k) / 64), radius * Math.sin((2 * Math.PI * k) / 64)];
      const [from, to] = [front(x, y), back(x, y)];
      low = Math.min(low, from, to);
      high = Math.max(high, from, to);
      area += ((2 * Math.PI * radius) / 64) * Math.max(0, to - from);
    }
    this.area = area;
    // Between the samples the edge may reach a little further.
    const further = (high - low) * 0.01;
    this.#from = low - further;
    this.#to = high + further;
    this.box = { min: [-radius, -radius, low], max: [radius, radius, high] };
  }

  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const a = l * l + m * m;
    const near = a > 0 ? -(x * l + y * m) / a : 0;
    const [px, py] = [x + near * l, y + near * m];
    const square = (this.#radius ** 2 - px * px - py * py) / a;
    if (!(square >= 0)) return 0;
    const root = Math.sqrt(square);
    let count = 0;
    for (const t of [near - root, near + root]) {
      // A little more than the wall, so that nothing slips through where it meets the surfaces.
      const spare = 1e-9 * this.#radius;
      const hz = z + t * n;
      if (hz < this.#from - spare || hz > this.#to + spare) continue;
      const [hx, hy] = [x + t * l, y + t * m];
      if (hz >= this.#front(hx, hy) - spare && hz <= this.#back(hx, hy) + spare) out[count++] = t;
    }
    return count;
  }

  normal(x: number, y: number, _z: number, out: Float64Array): void {
    const scale = 1 / Math.sqrt(x * x + y * y);
    out[0] = x * scale;
    out[1] = y * scale;
    out[2] = 0;
  }

  spread(u: number, v: number, out: Float64Array): void {
    this.#even.at(u, v, out);
  }

  triangles(detail: number): Triangles {
    const positions = new Float32Array((detail + 1) * 6);
    const normals = new Float32Array((detail + 1) * 6);
    const indices: number[] = [];
    for (let k = 0; k <= detail; k++) {
      const [c, s] = [Math.cos((2 * Math.PI * k) / detail), Math.sin((2 * Math.PI * k) / detail)];
      const [x, y] = [this.#radius * c, this.#radius * s];
      positions.set([x, y, this.#front(x, y), x, y, this.#back(x, y)], 6 * k);
      normals.set([c, s, 0, c, s, 0], 6 * k);
      if (k < detail) indices.push(2 * k, 2 * k + 2, 2 * k + 1, 2 * k + 1, 2 * k + 2, 2 * k + 3);
    }
    return { positions, normals, indices: Uint32Array.from(indices) };
  }
}
