import { reach, type KernelMemory } from './wasm.ts';
import { directedColumns, type Directed } from './ray-block.ts';

/** What the compiled kernel has for derivatives; see `kernels/back.ts`. */
export interface BackExports {
  readonly memory: KernelMemory;
  heap(): number;
  keepStation(pairs: number, to: number): void;
  clear(from: number, bytes: number): void;
  backSurface(...numbers: number[]): void;
}

/** A surface of revolution as the way back sees it. */
export interface BackSurface {
  readonly c: number;
  readonly k: number;
  /** Coefficients of r², r⁴ …. */
  readonly terms: Float64Array;
  /** n/n′; 1 at a mirror. */
  readonly mu: number;
  readonly before: number;
  /** Distance to the next vertex, mm; 0 behind the last. */
  readonly gap: number;
  /** The variable that is the distance from the one before; −1 for none. */
  readonly thickness: number;
  /** Variables that change the surface itself: four numbers each, see `CHANGE`. */
  readonly changes: Float64Array;
}

/** Kinds of changes; an entry is the kind, the number of the variable, and for terms their place, for indices dμ and dn. */
export const CHANGE = { curvature: 0, conic: 1, term: 2, index: 3 } as const;

/** Numbers of a ray that are kept behind each surface: position, direction, normal. */
const KEPT = 9;
const ADJOINT = 7;
const BYTES = 8;
/** Room for stations, adjoints and columns of variables, in numbers of 8 bytes; bundles that need more are differentiated in TypeScript. */
const STATIONS = 1 << 19;
const ADJOINTS = 1 << 15;
const COLUMNS = 1 << 19;
const CHANGES = 1 << 13;
const TERMS = 16;

const NAMES = ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const;

/** The kernel with its memory behind its block of rays, which grows for it. */
export class BackKernel {
  readonly exports: BackExports;
  /** All of the memory, and where in it things begin, in numbers of 8 bytes. */
  readonly memory: Float64Array;
  readonly stations: number;
  readonly adjoints: number;
  readonly columns: number;
  readonly changes: number;
  readonly terms: number;
  readonly #most: number;
  /** How much was kept since the beginning of time: a bundle is gone when as much as there is room for came after it. */
  written = 0;

  /** @param most - rays of a bundle at most */
  constructor(exports: BackExports, most: number) {
    this.exports = exports;
    this.#most = most;
    this.stations = ((exports.heap() + 63) >> 3) & ~7;
    this.adjoints = this.stations + STATIONS;
    this.columns = this.adjoints + ADJOINTS;
    this.changes = this.columns + COLUMNS;
    this.terms = this.changes + CHANGES;
    reach(exports.memory, BYTES * (this.terms + TERMS));
    this.memory = new Float64Array(exports.memory.buffer);
  }

  /** Makes room for a bundle; null where it, or what is asked of it, is too big. Room is used again: those that were kept first give way. */
  room(count: number, surfaces: number, variables: number): KeptBundle | null {
    const pairs = (count + 1) >> 1;
    const size = 2 * KEPT * pairs * (surfaces + 1);
    const fits =
      count <= this.#most && size <= STATIONS && 2 * ADJOINT * pairs <= ADJOINTS && 2 * pairs * variables <= COLUMNS;
    if (!fits) return null;
    // A bundle lies in one piece: what is left at the end of the room is passed over.
    const left = STATIONS - (this.written % STATIONS);
    if (size > left) this.written += left;
    const place = this.stations + (this.written % STATIONS);
    const end = this.written + STATIONS;
    this.written += size;
    return new KeptBundle(this, count, variables, place, end);
  }
}

/** Stations of one bundle in the kernel's memory. */
export class KeptBundle {
  readonly #kernel: BackKernel;
  readonly #count: number;
  readonly #pairs: number;
  readonly #variables: number;
  readonly #place: number;
  readonly #end: number;

  constructor(kernel: BackKernel, count: number, variables: number, place: number, end: number) {
    this.#kernel = kernel;
    this.#count = count;
    this.#pairs = (count + 1) >> 1;
    this.#variables = variables;
    this.#place = place;
    this.#end = end;
  }

  /** Whether nothing was written over it yet. */
  get kept(): boolean {
    return this.#kernel.written <= this.#end;
  }

  /** Keeps where rays start, in the frame of the first vertex. */
  keepLaunch(rays: Directed): void {
    scatter(this.#kernel.memory, this.#place, KEPT, rays, 6, this.#count);
  }

  /** Keeps the block as it goes on from a surface to the next. */
  keep(surface: number): void {
    this.#kernel.exports.keepStation(this.#pairs, BYTES * this.#stationOf(surface));
  }

  #stationOf(surface: number): number {
    return this.#place + 2 * KEPT * this.#pairs * (surface + 1);
  }

  /**
   * Takes adjoints from behind the last of the first `many` surfaces back to the launch. `columns` has, for each adjoint, the variables one behind
   * the other, as many numbers each as there are rays; `launch` the adjoint by x, y, z, l, m, n and the path at the launch, where `launched` asks for
   * it. Rays that ended have what they have.
   */
  back(
    surfaces: readonly BackSurface[],
    many: number,
    seeds: readonly Directed[],
    launched: boolean,
  ): { readonly columns: Float64Array[]; readonly launch: Directed[] } {
    const { memory, adjoints, columns } = this.#kernel;
    const each = 2 * ADJOINT * this.#pairs;
    const wide = 2 * this.#pairs * this.#variables;
    const sets = Math.floor(Math.min(ADJOINTS / each, COLUMNS / Math.max(1, wide)));
    const found = { columns: [] as Float64Array[], launch: [] as Directed[] };
    for (let from = 0; from < seeds.length; from += sets) {
      const some = Math.min(sets, seeds.length - from);
      for (let set = 0; set < some; set++)
        scatter(memory, adjoints + set * each, ADJOINT, seeds[from + set], 7, this.#count);
      this.#kernel.exports.clear(BYTES * columns, BYTES * some * wide);
      for (let j = many - 1; j >= 0; j--) this.#through(surfaces[j], j, some);
      for (let set = 0; set < some; set++) {
        found.columns.push(this.#columnsOf(columns + set * wide));
        if (launched) found.launch.push(gather(memory, adjoints + set * each, this.#count));
      }
    }
    return found;
  }

  #through({ c, k, terms, mu, before, gap, thickness, changes }: BackSurface, j: number, sets: number): void {
    const kernel = this.#kernel;
    if (changes.length > 0) kernel.memory.set(changes, kernel.changes);
    if (terms.length > 0) kernel.memory.set(terms, kernel.terms);
    kernel.exports.backSurface(
      this.#pairs,
      BYTES * this.#stationOf(j),
      BYTES * this.#stationOf(j - 1),
      gap,
      BYTES * kernel.adjoints,
      sets,
      c,
      k,
      BYTES * kernel.terms,
      terms.length,
      mu,
      before,
      BYTES * kernel.changes,
      changes.length / 4,
      thickness,
      BYTES * kernel.columns,
      this.#variables,
    );
  }

  /** Columns without the lane that fills the last pair of an odd count. */
  #columnsOf(first: number): Float64Array {
    const { memory } = this.#kernel;
    const [count, variables, width] = [this.#count, this.#variables, 2 * this.#pairs];
    if (width === count) return memory.slice(first, first + width * variables);
    const own = new Float64Array(variables * count);
    for (let v = 0; v < variables; v++)
      own.set(memory.subarray(first + v * width, first + v * width + count), v * count);
    return own;
  }
}

/** Puts the first `parts` columns of rays side by side, pair by pair, `stride` numbers a ray. */
function scatter(
  memory: Float64Array,
  first: number,
  stride: number,
  rays: Directed,
  parts: number,
  count: number,
): void {
  for (let part = 0; part < parts; part++) {
    const values = rays[NAMES[part]];
    for (let i = 0; i < count; i++) memory[first + (i >> 1) * 2 * stride + 2 * part + (i & 1)] = values[i];
  }
}

function gather(memory: Float64Array, first: number, count: number): Directed {
  const found = directedColumns(count);
  for (let part = 0; part < ADJOINT; part++) {
    const values = found[NAMES[part]];
    for (let i = 0; i < count; i++) values[i] = memory[first + (i >> 1) * 2 * ADJOINT + 2 * part + (i & 1)];
  }
  return found;
}
