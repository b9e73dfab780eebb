import { MOST_MEETINGS, type Box, type CompiledForm, type FaceForm, type Triangles } from './face-form.ts';
import type { TriangleMesh } from './triangle-mesh.ts';
import { firstReaching } from './triangle-spread.ts';

/** A little beyond a ray a triangle may still be met: see the tracer. */
const BEHIND = -1e-6;

/** The skin of a mesh, flat between its corners. */
export class MeshFace implements FaceForm {
  readonly box: Box;
  readonly area: number;
  readonly #mesh: TriangleMesh;
  /** What was met last, for the normals there. */
  #met: { readonly x: number; readonly y: number; readonly z: number; readonly triangle: number }[] = [];

  constructor(mesh: TriangleMesh) {
    this.#mesh = mesh;
    this.area = mesh.area;
    this.box = { min: mesh.tree.min, max: mesh.tree.max };
  }

  get compiled(): CompiledForm {
    return { kind: 'mesh', tree: this.#mesh.tree };
  }

  /** The nearest ones ahead, or a hair behind: there may be more than a face of another form has. */
  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const found = this.#mesh.meet(x, y, z, l, m, n, BEHIND).slice(0, MOST_MEETINGS);
    this.#met = found.map(({ t, triangle }) => ({ x: x + t * l, y: y + t * m, z: z + t * n, triangle }));
    found.forEach(({ t }, k) => (out[k] = t));
    return found.length;
  }

  crossings(x: number, y: number, z: number, l: number, m: number, n: number): { count: number; last: number } {
    const found = this.#mesh.meet(x, y, z, l, m, n, 0);
    // Two triangles met in their common edge are one crossing.
    const apart = found.filter(({ t }, k) => k === 0 || t - found[k - 1].t > 1e-9);
    return { count: apart.length, last: found.at(-1)?.t ?? 0 };
  }

  normal(x: number, y: number, z: number, out: Float64Array): void {
    let [nearest, triangle] = [Infinity, 0];
    for (const one of this.#met) {
      const off = Math.abs(one.x - x) + Math.abs(one.y - y) + Math.abs(one.z - z);
      if (off < nearest) [nearest, triangle] = [off, one.triangle];
    }
    this.#mesh.normalOf(triangle, out);
  }

  spread(u: number, v: number, out: Float64Array): void {
    const { below, corners, triangles } = this.#mesh;
    const wanted = u * this.area;
    const low = firstReaching(below, wanted);
    const before = low > 0 ? below[low - 1] : 0;
    const root = Math.sqrt(Math.min(1, Math.max(0, (wanted - before) / (below[low] - before))));
    const [a, b, c] = [3 * triangles[3 * low], 3 * triangles[3 * low + 1], 3 * triangles[3 * low + 2]];
    for (let axis = 0; axis < 3; axis++)
      out[axis] = (1 - root) * corners[a + axis] + root * ((1 - v) * corners[b + axis] + v * corners[c + axis]);
    this.#met = [{ x: out[0], y: out[1], z: out[2], triangle: low }];
  }

  triangles(): Triangles {
    const { corners, triangles } = this.#mesh;
    const positions = new Float32Array(3 * triangles.length);
    const normals = new Float32Array(3 * triangles.length);
    const normal = new Float64Array(3);
    triangles.forEach((corner, i) => {
      if (i % 3 === 0) this.#mesh.normalOf(i / 3, normal);
      for (let axis = 0; axis < 3; axis++) {
        positions[3 * i + axis] = corners[3 * corner + axis];
        normals[3 * i + axis] = normal[axis];
      }
    });
    return { positions, normals, indices: Uint32Array.from({ length: triangles.length }, (_, i) => i) };
  }
}
