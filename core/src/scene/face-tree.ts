import type { Box } from '../bodies/face-form.ts';

/** Leaves hold this many faces. */
const LEAF = 4;

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
      const [least, most] = [[...low], [...high]];
      for (let i = from; i < to; i++) {
        const { min, max } = boxes[this.order[i]];
        for (let axis = 0; axis < 3; axis++) {
          low[axis] = Math.min(low[axis], min[axis]);
          high[axis] = Math.max(high[axis], max[axis]);
          const middle = (min[axis] + max[axis]) / 2;
          least[axis] = Math.min(least[axis], middle);
          most[axis] = Math.max(most[axis], middle);
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
      const spans = most.map((value, axis) => value - least[axis]);
      const axis = spans.indexOf(Math.max(...spans));
      const middleOf = (face: number) => boxes[face].min[axis] + boxes[face].max[axis];
      const sorted = this.order
        .subarray(from, to)
        .slice()
        .sort((a, b) => middleOf(a) - middleOf(b));
      this.order.set(sorted, from);
      const half = (from + to) >> 1;
      this.first[node] = nodes;
      nodes += 2;
      const pair = this.first[node];
      build(pair, from, half);
      build(pair + 1, half, to);
    };
    if (faces > 0) build(0, 0, faces);
  }
}
