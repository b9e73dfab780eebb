import type { MeshTree } from './mesh-tree.ts';

/** Triangles for drawing and picking; nothing is traced on them. */
export interface Triangles {
  /** x, y, z, x, y, z … mm. */
  readonly positions: Float32Array;
  /** Unit normals that point out of the body, one a position. */
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
}

/** A box along the axes. */
export interface Box {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

/** A bounded surface in coordinates of its own, met exactly. */
export interface FaceForm {
  /** Every point of it lies inside. */
  readonly box: Box;
  /**
   * Writes the signed distances to all points where a straight line meets it into `out`, in any order; x, y, z a point of the line and
   * l, m, n its direction, a unit vector.
   *
   * @returns how many there are, at most 8
   */
  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number;
  /** How often a line crosses it ahead of a point, and how far off last; needed where that may be more often than `meet` can say. */
  crossings?(
    x: number,
    y: number,
    z: number,
    l: number,
    m: number,
    n: number,
  ): { readonly count: number; readonly last: number };
  /** Writes the unit normal that points out of the body at a point of it. */
  normal(x: number, y: number, z: number, out: Float64Array): void;
  /** mm². */
  readonly area: number;
  /** Writes points evenly spread over it for u and v between 0 and 1: every face can emit light. */
  spread(u: number, v: number, out: Float64Array): void;
  /** How a map is wrapped round it, where it is a whole wall or ball; flat maps lie across its axis. */
  readonly chart?: { readonly kind: 'cylinder' | 'sphere'; readonly radius: number } | undefined;
  /** What the compiled tracer needs to meet it by itself; left out by what only its own TypeScript can meet. */
  readonly compiled?: CompiledForm | undefined;
  /** Triangles of it, the finer the larger `detail` (pieces of a full turn). */
  triangles(detail: number): Triangles;
}

/** A face as the compiled tracer (`kernels/scene`) knows it. */
export type CompiledForm =
  /** a, b, g, d of the quadric; squares of the inner and outer radius; z from and to; side of the vertex or 0; sign. */
  | { readonly kind: 'quadric'; readonly numbers: readonly number[] }
  /** The rectangle about it: x and y from, x and y to; its corners where it is not that rectangle; round holes. */
  | {
      readonly kind: 'flat';
      readonly numbers: readonly number[];
      readonly corners: readonly (readonly [x: number, y: number])[];
      readonly holes: readonly { readonly x: number; readonly y: number; readonly radius: number }[];
    }
  | { readonly kind: 'mesh'; readonly tree: MeshTree };

/** Most places at which a line meets one face. */
export const MOST_MEETINGS = 8;

/** A surface of revolution about z as rings: r and z along its profile. */
export function revolve(
  profile: readonly (readonly [r: number, z: number])[],
  detail: number,
  form: FaceForm,
): Triangles {
  const rings = profile.length;
  const positions = new Float32Array(rings * (detail + 1) * 3);
  const normals = new Float32Array(positions.length);
  const normal = new Float64Array(3);
  let at = 0;
  for (const [r, z] of profile) {
    for (let k = 0; k <= detail; k++, at += 3) {
      const turn = (2 * Math.PI * k) / detail;
      const [x, y] = [r * Math.cos(turn), r * Math.sin(turn)];
      form.normal(x || 1e-12 * Math.cos(turn), y || 1e-12 * Math.sin(turn), z, normal);
      positions.set([x, y, z], at);
      normals.set(normal, at);
    }
  }
  const indices: number[] = [];
  for (let ring = 1; ring < rings; ring++) {
    for (let k = 0; k < detail; k++) {
      const a = (ring - 1) * (detail + 1) + k;
      const b = a + detail + 1;
      indices.push(a, b, a + 1, a + 1, b, b + 1);
    }
  }
  return { positions, normals, indices: Uint32Array.from(indices) };
}

/** Area of a surface of revolution, and how a share of it is found along its profile. */
export class RevolvedArea {
  readonly total: number;
  readonly #below: Float64Array;
  readonly #profile: readonly (readonly [number, number])[];

  /** @param profile - r and z closely along it */
  constructor(profile: readonly (readonly [number, number])[]) {
    this.#profile = profile;
    this.#below = new Float64Array(profile.length);
    for (let i = 1; i < profile.length; i++) {
      const [[r0, z0], [r1, z1]] = [profile[i - 1], profile[i]];
      this.#below[i] = this.#below[i - 1] + Math.PI * (r0 + r1) * Math.hypot(r1 - r0, z1 - z0);
    }
    this.total = this.#below[profile.length - 1];
  }

  /** Radius and z below which a share `u` of the area lies, between the points of the profile. */
  at(u: number): [number, number] {
    const wanted = u * this.total;
    let [low, high] = [0, this.#below.length - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (this.#below[middle] <= wanted) low = middle;
      else high = middle;
    }
    const span = this.#below[high] - this.#below[low];
    const part = span > 0 ? (wanted - this.#below[low]) / span : 0;
    const [[r0, z0], [r1, z1]] = [this.#profile[low], this.#profile[high]];
    // On a cone piece the area grows with r², not with r.
    const r = Math.sqrt(r0 * r0 + part * (r1 * r1 - r0 * r0));
    const along = r1 === r0 ? part : (r - r0) / (r1 - r0);
    return [r, z0 + along * (z1 - z0)];
  }
}
