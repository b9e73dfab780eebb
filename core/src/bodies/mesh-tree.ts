import { boxSorter, MOST_BINS, type BoxSorter } from './box-sorter.ts';

/** Triangles to a leaf, at most. */
const LEAF = 4;
const BINS = MOST_BINS;
/** Numbers of a pair of triangles: first corner and two edges, x, y, z, each for both. */
export const PAIR = 18;
/** Words of a node: lower and upper bounds of its four boxes in x, then y, then z; what they hold; four of nothing: two lines of a cache. */
export const NODE = 32;
export const NODE_REFS = 24;

/**
 * Boxes in boxes about the triangles of a mesh, four to a node, split where the surface area heuristic says (I. Wald, On fast
 * construction of SAH-based bounding volume hierarchies, 2007: bins along the widest axis of the middles). Flat arrays, which the compiled
 * tracer takes over as they are.
 *
 * Word `NODE_REFS` + i of a node is what its box i holds: a node, or for a leaf −1 − (8 · first pair + number of pairs).
 */
export class MeshTree {
  readonly boxes: Float32Array;
  /** The same words as whole numbers. */
  readonly refs: Int32Array;
  /** Triangles two by two, with their numbers in `ids`; −1 for one that fills a pair up. */
  readonly pairs: Float64Array;
  readonly ids: Int32Array;
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];

  /**
   * @param corners - x, y, z of every corner, mm
   * @param triangles - three corners a triangle, counterclockwise as seen from outside
   * @param sorter - what sorts their boxes
   */
  constructor(corners: ArrayLike<number>, triangles: Uint32Array, sorter = boxSorter) {
    const binary = new BinaryTree(corners, triangles, sorter);
    const [boxes, order] = triangles.length > 0 ? collapse(binary) : [NOTHING, new Int32Array(0)];
    this.boxes = boxes;
    this.refs = new Int32Array(boxes.buffer);
    this.min = [binary.bounds[0], binary.bounds[1], binary.bounds[2]];
    this.max = [binary.bounds[3], binary.bounds[4], binary.bounds[5]];
    this.ids = order;
    this.pairs = new Float64Array((order.length / 2) * PAIR);
    for (let slot = 0; slot < order.length; slot++) {
      const triangle = order[slot];
      if (triangle < 0) continue; // no edges: never met
      const at = (slot >> 1) * PAIR + (slot & 1);
      const a = 3 * triangles[3 * triangle];
      const b = 3 * triangles[3 * triangle + 1];
      const c = 3 * triangles[3 * triangle + 2];
      for (let axis = 0; axis < 3; axis++) {
        this.pairs[at + 2 * axis] = corners[a + axis];
        this.pairs[at + 6 + 2 * axis] = corners[b + axis] - corners[a + axis];
        this.pairs[at + 12 + 2 * axis] = corners[c + axis] - corners[a + axis];
      }
    }
  }
}

/** The one node of a mesh without triangles: four boxes that nothing meets. */
const NOTHING = Float32Array.from({ length: NODE }, (_, k) => (k % 8 < 4 ? Infinity : -Infinity));
new Int32Array(NOTHING.buffer).fill(-1, NODE_REFS);

/** The tree while it grows: two children to a node. */
class BinaryTree {
  /** By node: lower and upper bounds. */
  readonly bounds: Float64Array;
  /** By node: its first child (the second follows it), or −1; then where its triangles begin, and how many they are. */
  readonly child: Int32Array;
  readonly from: Int32Array;
  readonly count: Int32Array;
  nodes = 1;
  readonly #sorter: BoxSorter;
  readonly #costs = new Float64Array(BINS);
  readonly #around = new Float64Array(6);

  constructor(corners: ArrayLike<number>, triangles: Uint32Array, makeSorter: (size: number) => BoxSorter) {
    const size = triangles.length / 3;
    this.#sorter = makeSorter(size);
    const { bounds: bound, numbers } = this.#sorter;
    for (let i = 0; i < size; i++) {
      const a = 3 * triangles[3 * i];
      const b = 3 * triangles[3 * i + 1];
      const c = 3 * triangles[3 * i + 2];
      for (let axis = 0; axis < 3; axis++) {
        const p = corners[a + axis];
        const q = corners[b + axis];
        const r = corners[c + axis];
        bound[8 * i + axis] = p < q ? (p < r ? p : r) : q < r ? q : r;
        bound[8 * i + 4 + axis] = p > q ? (p > r ? p : r) : q > r ? q : r;
      }
      numbers[8 * i + 3] = i;
    }
    const most = Math.max(1, 2 * size);
    this.bounds = new Float64Array(6 * most);
    this.child = new Int32Array(most).fill(-1);
    this.from = new Int32Array(most);
    this.count = new Int32Array(most);
    this.count[0] = size;
    if (size === 0) return;
    this.#boundsOf(0, size, false, this.bounds, 0);
    const open = [0];
    while (open.length > 0) {
      const node = open.pop()!;
      if (this.#grow(node)) open.push(this.child[node], this.child[node] + 1);
    }
  }

  /** The bounds of some bins together, written as those of a node. */
  #join(from: number, to: number, at: number): void {
    const { bounds } = this;
    const { bins } = this.#sorter;
    for (let axis = 0; axis < 3; axis++) {
      let low = Infinity;
      let high = -Infinity;
      for (let bin = from; bin < to; bin++) {
        if (bins[8 * bin + axis] < low) low = bins[8 * bin + axis];
        if (bins[8 * bin + 4 + axis] > high) high = bins[8 * bin + 4 + axis];
      }
      bounds[at + axis] = low;
      bounds[at + 3 + axis] = high;
    }
  }

  /** Number of the triangle in a place of the order that the tree has made. */
  at(place: number): number {
    return this.#sorter.numbers[8 * place + 3];
  }

  /** Bounds of the triangles (or, twice their middles) from one place to another, into `out`. */
  #boundsOf(from: number, to: number, middles: boolean, out: Float64Array, at: number): void {
    const bound = this.#sorter.bounds;
    for (let axis = 0; axis < 3; axis++) {
      let low = Infinity;
      let high = -Infinity;
      for (let i = 8 * from; i < 8 * to; i += 8) {
        const a = middles ? bound[i + axis] + bound[i + 4 + axis] : bound[i + axis];
        const b = middles ? a : bound[i + 4 + axis];
        if (a < low) low = a;
        if (b > high) high = b;
      }
      out[at + axis] = low;
      out[at + 3 + axis] = high;
    }
  }

  /** Splits a node, whose bounds are known, in two where that is worth it. */
  #grow(node: number): boolean {
    const { bounds } = this;
    const from = this.from[node];
    const to = from + this.count[node];
    const size = to - from;
    if (size <= 2) return false;
    const pair = this.nodes;
    const b = 6 * node;
    const x = bounds[b + 3] - bounds[b];
    const y = bounds[b + 4] - bounds[b + 1];
    const z = bounds[b + 5] - bounds[b + 2];
    const whole = area(x, y, z);
    let axis = x >= y && x >= z ? 0 : y >= z ? 1 : 2;
    const long = axis === 0 ? x : axis === 1 ? y : z;
    let middle = long > 0 ? this.#split(from, to, axis, 2 * bounds[b + axis], 2 * long, whole, pair) : -1;
    if (middle === TOGETHER) {
      // Few large ones among many small: bins along their middles tell those apart.
      const around = this.#around;
      this.#boundsOf(from, to, true, around, 0);
      const spans = [around[3] - around[0], around[4] - around[1], around[5] - around[2]];
      axis = spans.indexOf(Math.max(...spans));
      if (spans[axis] > 0) middle = this.#split(from, to, axis, around[axis], spans[axis], whole, pair);
    }
    if (middle < 0) {
      if (size <= LEAF) return false;
      // All in one place: halves do.
      middle = (from + to) >> 1;
      this.#boundsOf(from, middle, false, bounds, 6 * pair);
      this.#boundsOf(middle, to, false, bounds, 6 * pair + 6);
    }
    this.nodes += 2;
    this.child[node] = pair;
    this.from[pair] = from;
    this.count[pair] = middle - from;
    this.from[pair + 1] = middle;
    this.count[pair + 1] = to - middle;
    return true;
  }

  /**
   * Sorts triangles to both sides of the cheapest place between bins, and writes the bounds of both sides as those of `pair`.
   *
   * @param first - of twice their middles along the axis; span likewise
   * @returns where the second side begins; −1 where a split is not worth it, `TOGETHER` where all lie in one bin
   */
  #split(from: number, to: number, axis: number, first: number, span: number, whole: number, pair: number): number {
    const sorter = this.#sorter;
    const { bins, counts } = sorter;
    const size = to - from;
    const many = size <= 8 ? 4 : size <= 64 ? 8 : BINS;
    const scale = (many * (1 - 1e-6)) / span;
    sorter.fillBins(from, to, axis, first, scale, many);
    const costs = this.#costs;
    let cheapest = Infinity;
    let place = -1;
    // From the first bin on what a side costs that ends there, then from the last one back, with both together.
    for (let way = 0; way < 2; way++) {
      let x0 = Infinity;
      let y0 = Infinity;
      let z0 = Infinity;
      let x1 = -Infinity;
      let y1 = -Infinity;
      let z1 = -Infinity;
      let count = 0;
      for (let step = 0; step < many - 1; step++) {
        const bin = way === 0 ? step : many - 1 - step;
        if (counts[bin] > 0) {
          const b = 8 * bin;
          if (bins[b] < x0) x0 = bins[b];
          if (bins[b + 1] < y0) y0 = bins[b + 1];
          if (bins[b + 2] < z0) z0 = bins[b + 2];
          if (bins[b + 4] > x1) x1 = bins[b + 4];
          if (bins[b + 5] > y1) y1 = bins[b + 5];
          if (bins[b + 6] > z1) z1 = bins[b + 6];
          count += counts[bin];
        }
        const cost = count > 0 ? count * area(x1 - x0, y1 - y0, z1 - z0) : 0;
        if (way === 0) costs[bin] = cost;
        else if (cost + costs[bin - 1] < cheapest) {
          cheapest = cost + costs[bin - 1];
          place = bin;
        }
      }
    }
    if (size <= LEAF && cheapest + whole >= size * whole) return -1;
    const middle = sorter.part(from, to, axis, first, scale, place);
    if (middle === from || middle === to) return TOGETHER;
    this.#join(0, place, 6 * pair);
    this.#join(place, many, 6 * pair + 6);
    return middle;
  }
}

/** All lie in one bin. */
const TOGETHER = -2;

function area(x: number, y: number, z: number): number {
  return x * y + y * z + z * x;
}

/** Nodes of four from nodes of two: the largest child gives way to its own children until there are four. */
function collapse(tree: BinaryTree): [Float32Array, Int32Array] {
  const { bounds, child, from, count } = tree;
  const boxes = new Float32Array(NODE * (tree.nodes + 1));
  const refs = new Int32Array(boxes.buffer);
  const ids: number[] = [];
  // f32 boxes are padded against rounding of their bounds and of the rays that meet them.
  const reach = Math.max(
    ...[0, 1, 2, 3, 4, 5].map((k) => Math.abs(bounds[k])),
    bounds[3] - bounds[0],
    bounds[4] - bounds[1],
    bounds[5] - bounds[2],
  );
  const spare = 1e-6 * reach;
  const surface = (node: number) => {
    const b = 6 * node;
    return area(bounds[b + 3] - bounds[b], bounds[b + 4] - bounds[b + 1], bounds[b + 5] - bounds[b + 2]);
  };
  let nodes = 0;
  const leaf = (node: number) => {
    const first = ids.length / 2;
    for (let k = 0; k < count[node]; k++) ids.push(tree.at(from[node] + k));
    if (ids.length % 2 === 1) ids.push(-1);
    return -1 - (8 * first + (ids.length / 2 - first));
  };
  const write = (node: number): number => {
    const place = nodes++;
    const children = child[node] < 0 ? [node] : [child[node], child[node] + 1];
    while (children.length < 4) {
      let largest = -1;
      for (let k = 0; k < children.length; k++)
        if (child[children[k]] >= 0 && (largest < 0 || surface(children[k]) > surface(children[largest]))) largest = k;
      if (largest < 0) break;
      const opened = child[children[largest]];
      children.splice(largest, 1, opened, opened + 1);
    }
    for (let k = 0; k < 4; k++) {
      const one = children[k];
      for (let axis = 0; axis < 3; axis++) {
        boxes[NODE * place + 8 * axis + k] = one === undefined ? Infinity : bounds[6 * one + axis] - spare;
        boxes[NODE * place + 8 * axis + 4 + k] = one === undefined ? -Infinity : bounds[6 * one + 3 + axis] + spare;
      }
      refs[NODE * place + NODE_REFS + k] = one === undefined ? -1 : child[one] < 0 ? leaf(one) : write(one);
    }
    return place;
  };
  write(0);
  return [boxes.slice(0, NODE * nodes), Int32Array.from(ids)];
}
