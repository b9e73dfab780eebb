import { withoutDoubles } from './mesh-doubles.ts';
import { MeshTree, NODE, NODE_REFS, PAIR } from './mesh-tree.ts';

/** What is wrong with a mesh as the skin of a solid, each with a place. */
export interface MeshFault {
  readonly kind: 'hole' | 'flipped' | 'crowded' | 'flat' | 'doubled';
  /** Edges or triangles. */
  readonly count: number;
  /** A corner of the first one, mm. */
  readonly at: readonly [number, number, number];
}

/** Triangles made ready: the tree about them, and what they enclose. */
export class TriangleMesh {
  readonly corners: Float64Array;
  readonly triangles: Uint32Array;
  readonly tree: MeshTree;
  /** mm². */
  readonly area: number;
  /** mm³, for a closed mesh. */
  readonly volume: number;
  /** Whether every edge joins two triangles that run through it in opposite ways. */
  readonly closed: boolean;
  readonly faults: readonly MeshFault[];
  /** By triangle: its area and those before it, mm². */
  readonly below: Float64Array;

  /**
   * @param corners - x, y, z of every corner, mm
   * @param triangles - three corners a triangle; those of no area and those that another covers exactly are left out,
   *   and a closed mesh that is inside out is turned
   */
  constructor(corners: Float64Array, triangles: Uint32Array) {
    const kept = new Uint32Array(triangles.length);
    let length = 0;
    let flat = -1;
    for (let i = 0; i < triangles.length; i += 3) {
      const a = triangles[i];
      const b = triangles[i + 1];
      const c = triangles[i + 2];
      if (a === b || b === c || c === a || twiceArea(corners, a, b, c) === 0) {
        if (flat < 0) flat = a;
        continue;
      }
      kept[length++] = a;
      kept[length++] = b;
      kept[length++] = c;
    }
    const given = kept.subarray(0, length);
    const flats = (triangles.length - length) / 3;
    const ready = withoutDoubles(corners, given);
    let volume = 0;
    const below = new Float64Array(ready.length / 3);
    let area = 0;
    for (let i = 0; i < ready.length; i += 3) {
      const [a, b, c] = [3 * ready[i], 3 * ready[i + 1], 3 * ready[i + 2]];
      volume +=
        (corners[a] * (corners[b + 1] * corners[c + 2] - corners[b + 2] * corners[c + 1]) +
          corners[a + 1] * (corners[b + 2] * corners[c] - corners[b] * corners[c + 2]) +
          corners[a + 2] * (corners[b] * corners[c + 1] - corners[b + 1] * corners[c])) /
        6;
      area += twiceArea(corners, ready[i], ready[i + 1], ready[i + 2]) / 2;
      below[i / 3] = area;
    }
    const faults = edgeFaults(corners, ready);
    if (flats > 0) faults.push({ kind: 'flat', count: flats, at: cornerAt(corners, flat) });
    const doubles = (given.length - ready.length) / 3;
    if (doubles > 0) {
      const first = given.findIndex((corner, i) => corner !== ready[i]);
      faults.push({ kind: 'doubled', count: doubles, at: cornerAt(corners, given[first]) });
    }
    this.closed = ready.length > 0 && faults.every(({ kind }) => kind === 'flat' || kind === 'doubled');
    if (this.closed && volume < 0) for (let i = 0; i < ready.length; i += 3) ready.subarray(i + 1, i + 3).reverse();
    this.corners = corners;
    this.triangles = ready;
    this.area = area;
    this.volume = Math.abs(volume);
    this.faults = faults;
    this.below = below;
    this.tree = new MeshTree(corners, ready);
  }

  /**
   * All places where a line meets triangles, nearest first.
   *
   * @param from - distances below it are left out
   * @returns distances with the numbers of their triangles
   */
  meet(
    x: number,
    y: number,
    z: number,
    l: number,
    m: number,
    n: number,
    from: number,
  ): { t: number; triangle: number }[] {
    const { boxes, refs, pairs, ids } = this.tree;
    const found: { t: number; triangle: number }[] = [];
    const open = [0];
    const [ix, iy, iz] = [1 / l, 1 / m, 1 / n];
    while (open.length > 0) {
      const node = open.pop()!;
      for (let k = 0; k < 4; k++) {
        const b = NODE * node + k;
        let [near, far] = [-Infinity, Infinity];
        for (const [o, i, axis] of [
          [x, ix, 0],
          [y, iy, 1],
          [z, iz, 2],
        ]) {
          const p = (boxes[b + 8 * axis] - o) * i;
          const q = (boxes[b + 8 * axis + 4] - o) * i;
          if (Math.min(p, q) > near) near = Math.min(p, q);
          if (Math.max(p, q) < far) far = Math.max(p, q);
        }
        if (!(near <= far) || far < from) continue;
        const ref = refs[NODE * node + NODE_REFS + k];
        if (ref >= 0) {
          open.push(ref);
          continue;
        }
        const packed = -1 - ref;
        const first = packed >> 3;
        for (let slot = 2 * first; slot < 2 * (first + (packed & 7)); slot++) {
          const t = ids[slot] < 0 ? NaN : meetTriangle(pairs, (slot >> 1) * PAIR + (slot & 1), x, y, z, l, m, n);
          if (t >= from && t < 1e100) found.push({ t, triangle: ids[slot] });
        }
      }
    }
    return found.sort((a, b) => a.t - b.t);
  }

  /** Writes the unit normal of a triangle. */
  normalOf(triangle: number, out: Float64Array): void {
    const { corners, triangles } = this;
    cross(corners, triangles[3 * triangle], triangles[3 * triangle + 1], triangles[3 * triangle + 2], out);
    const scale = 1 / Math.hypot(out[0], out[1], out[2]);
    for (let axis = 0; axis < 3; axis++) out[axis] *= scale;
  }
}

/** How far beyond its edges a triangle is met, as a part of them: rays through an edge must not slip between two of them. */
const RIM = 1e-12;

/** T. Möller and B. Trumbore, Fast, minimum storage ray/triangle intersection (1997); NaN where the line passes by. */
function meetTriangle(
  pairs: Float64Array,
  at: number,
  x: number,
  y: number,
  z: number,
  l: number,
  m: number,
  n: number,
): number {
  const [ax, ay, az] = [pairs[at + 6], pairs[at + 8], pairs[at + 10]];
  const [bx, by, bz] = [pairs[at + 12], pairs[at + 14], pairs[at + 16]];
  const [px, py, pz] = [m * bz - n * by, n * bx - l * bz, l * by - m * bx];
  const inverse = 1 / (ax * px + ay * py + az * pz);
  const [sx, sy, sz] = [x - pairs[at], y - pairs[at + 2], z - pairs[at + 4]];
  const u = (sx * px + sy * py + sz * pz) * inverse;
  if (!(u >= -RIM && u <= 1 + RIM)) return NaN;
  const [qx, qy, qz] = [sy * az - sz * ay, sz * ax - sx * az, sx * ay - sy * ax];
  const v = (l * qx + m * qy + n * qz) * inverse;
  if (!(v >= -RIM && u + v <= 1 + RIM)) return NaN;
  return (bx * qx + by * qy + bz * qz) * inverse;
}

function cross(corners: Float64Array, a: number, b: number, c: number, out: Float64Array): void {
  const [at, to, by] = [3 * a, 3 * b, 3 * c];
  const ux = corners[to] - corners[at];
  const uy = corners[to + 1] - corners[at + 1];
  const uz = corners[to + 2] - corners[at + 2];
  const vx = corners[by] - corners[at];
  const vy = corners[by + 1] - corners[at + 1];
  const vz = corners[by + 2] - corners[at + 2];
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
}

const CROSSED = new Float64Array(3);

function twiceArea(corners: Float64Array, a: number, b: number, c: number): number {
  cross(corners, a, b, c, CROSSED);
  return Math.sqrt(CROSSED[0] * CROSSED[0] + CROSSED[1] * CROSSED[1] + CROSSED[2] * CROSSED[2]);
}

function cornerAt(corners: Float64Array, corner: number): [number, number, number] {
  return [corners[3 * corner], corners[3 * corner + 1], corners[3 * corner + 2]];
}

/** Edges of one triangle only, of two that run the same way, of more than two. */
function edgeFaults(corners: Float64Array, triangles: Uint32Array): MeshFault[] {
  // Every edge once for each triangle, sorted: those of one edge stand together. The lowest bit says which way it is run through.
  const count = corners.length / 3;
  const edges = new Float64Array(triangles.length);
  for (let i = 0; i < triangles.length; i++) {
    const from = triangles[i];
    const to = triangles[i % 3 === 2 ? i - 2 : i + 1];
    edges[i] = from < to ? 2 * (from * count + to) : 2 * (to * count + from) + 1;
  }
  edges.sort();
  const found: Record<'hole' | 'flipped' | 'crowded', { count: number; at: number }> = {
    hole: { count: 0, at: -1 },
    flipped: { count: 0, at: -1 },
    crowded: { count: 0, at: -1 },
  };
  for (let i = 0; i < edges.length;) {
    const edge = Math.floor(edges[i] / 2);
    let end = i + 1;
    while (end < edges.length && Math.floor(edges[end] / 2) === edge) end++;
    const wrong = end - i === 1 ? 'hole' : end - i > 2 ? 'crowded' : edges[i] === edges[i + 1] ? 'flipped' : null;
    if (wrong) {
      if (found[wrong].count++ === 0) found[wrong].at = Math.floor(edge / count);
    }
    i = end;
  }
  return Object.entries(found).flatMap(([kind, { count: size, at }]) =>
    size > 0 ? [{ kind: kind as MeshFault['kind'], count: size, at: cornerAt(corners, at) }] : [],
  );
}
