import type { Box } from '../bodies/face-form.ts';

/** Leaves hold this many faces: meeting one costs as much as some boxes. */
const LEAF = 1;

/**
 * Boxes in boxes about the faces of a scene. Arrays laid flat: node k has its box in `boxes[6k…]`, and either two nodes at `first[k]` and
 * `first[k] + 1`, or `count[k]` faces from `order[first[k]]` on.
 */
export class FaceTree {
  readonly boxes: Float64Array;
  readonly first: Int32Array;
  readonly count: Int32Array;
  readonly order: Int32Array;

  constructor(boxes: readonly Box[]) {
    const faces = boxes.length;
    const most = Math.max(1, 2 * faces);
    this.boxes = new Float64Array(6 * most);
    this.first = new Int32Array(most);
    this.count = new Int32Array(most);
    this.order = Int32Array.from({ length: faces }, (_, i) => i);
    let nodes = 1;
    const build = (node: number, from: number, to: number): void => {
      const low = [Infinity, Infinity, Infinity];
      const high = [-Infinity, -Infinity, -Infinity];
      for (let i = from; i < to; i++) {
        const { min, max } = boxes[this.order[i]];
        for (let axis = 0; axis < 3; axis++) {
          low[axis] = Math.min(low[axis], min[axis]);
          high[axis] = Math.max(high[axis], max[axis]);
        }
      }
      // Flat faces get boxes of some depth: a ray along them must not slip through by rounding.
      const spare = 1e-9 * Math.max(1, ...high.map(Math.abs), ...low.map(Math.abs));
      for (let axis = 0; axis < 3; axis++) {
        this.boxes[6 * node + axis] = low[axis] - spare;
        this.boxes[6 * node + 3 + axis] = high[axis] + spare;
      }
      if (to - from <= LEAF) {
        this.first[node] = from;
        this.count[node] = to - from;
        return;
      }
      // Where the sum of area times faces of the two halves is least, over all places along the three axes.
      const faces = this.order.slice(from, to);
      let [cheapest, half, chosen] = [Infinity, (from + to) >> 1, faces];
      for (let axis = 0; axis < 3; axis++) {
        const middleOf = (face: number) => boxes[face].min[axis] + boxes[face].max[axis];
        const sorted = faces.slice().sort((a, b) => middleOf(a) - middleOf(b));
        const behind = areasFrom(sorted.slice().reverse(), boxes).reverse();
        areasFrom(sorted, boxes).forEach((area, i) => {
          if (i === sorted.length - 1) return;
          const cost = area * (i + 1) + behind[i + 1] * (sorted.length - 1 - i);
          if (cost < cheapest) [cheapest, half, chosen] = [cost, from + i + 1, sorted];
        });
      }
      this.order.set(chosen, from);
      this.first[node] = nodes;
      nodes += 2;
      const pair = this.first[node];
      build(pair, from, half);
      build(pair + 1, half, to);
    };
    if (faces > 0) build(0, 0, faces);
  }
}

/** By number of faces from the front of a list: half the surface of the box about them. */
function areasFrom(faces: Int32Array, boxes: readonly Box[]): number[] {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  return Array.from(faces, (face) => {
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], boxes[face].min[axis]);
      high[axis] = Math.max(high[axis], boxes[face].max[axis]);
    }
    const [x, y, z] = high.map((value, axis) => value - low[axis]);
    return x * y + y * z + z * x;
  });
}
