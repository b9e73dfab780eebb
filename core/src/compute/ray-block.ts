/** Why a ray went no further; 0 while it goes on. The numbers are stored in blocks, so their order is fixed. */
export const RAY_STATUS = {
  alive: 0,
  /** It passes the surface by, or meets it where the surface does not exist. */
  missed: 1,
  totalReflection: 2,
  /** It met a set aperture outside its clear part. */
  clipped: 3,
  /** No ray from the object through the asked pupil point could be found. */
  notAimed: 4,
  /** The medium has no index at this wavelength. */
  noIndex: 5,
  /** The direction of its diffraction order would be steeper than grazing. */
  noOrder: 6,
} as const;

const REASONS: readonly string[] = [
  'goes through',
  'misses the surface',
  'is totally reflected',
  'falls outside the aperture',
  'cannot be aimed at the stop',
  'has no refractive index there',
  'finds no way in this diffraction order',
];

/** The status in words, to follow “the ray …”. */
export function statusReason(status: number): string {
  return REASONS[status] ?? `ended with unknown status ${status}`;
}

/** Columns of positions in mm, direction cosines along x, y and z, and optical paths in mm. */
export interface Directed {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly z: Float64Array;
  readonly l: Float64Array;
  readonly m: Float64Array;
  readonly n: Float64Array;
  /** Optical path Σ n·s since the launch, mm. */
  readonly path: Float64Array;
}

/**
 * Rays as a structure of arrays, float64: one array per coordinate, one entry per ray.
 *
 * Positions are in mm in the frame of the surface that the tracer is at; directions are unit vectors.
 * A ray whose `status` is not 0 keeps the coordinates, in the frame of surface `at`, of the place where it ended.
 */
export interface RayBlock extends Directed {
  readonly capacity: number;
  /** One of RAY_STATUS. */
  readonly status: Uint8Array;
  /** Index of the surface where a ray ended; meaningless while it is alive. */
  readonly at: Int16Array;
  /** Scratch of the kernels: distance to the surface and its unit normal. */
  readonly t: Float64Array;
  readonly nx: Float64Array;
  readonly ny: Float64Array;
  readonly nz: Float64Array;
}

/** Columns of float64 in a block. */
const COLUMNS = 11;

/** A block for `capacity` rays, all zero. */
export function rayBlock(capacity: number): RayBlock {
  // Columns of one buffer: the engine takes much longer to give a dozen small ones.
  const all = new Float64Array(COLUMNS * capacity);
  return {
    capacity,
    x: columnOf(all, 0, capacity),
    y: columnOf(all, 1, capacity),
    z: columnOf(all, 2, capacity),
    l: columnOf(all, 3, capacity),
    m: columnOf(all, 4, capacity),
    n: columnOf(all, 5, capacity),
    path: columnOf(all, 6, capacity),
    status: new Uint8Array(capacity),
    at: new Int16Array(capacity),
    t: columnOf(all, 7, capacity),
    nx: columnOf(all, 8, capacity),
    ny: columnOf(all, 9, capacity),
    nz: columnOf(all, 10, capacity),
  };
}

function columnOf(all: Float64Array, number: number, length: number): Float64Array {
  return all.subarray(number * length, (number + 1) * length);
}

/** Columns of positions, directions and paths for `count` rays, all zero. */
export function directedColumns(count: number): Directed {
  const all = new Float64Array(7 * count);
  return {
    x: columnOf(all, 0, count),
    y: columnOf(all, 1, count),
    z: columnOf(all, 2, count),
    l: columnOf(all, 3, count),
    m: columnOf(all, 4, count),
    n: columnOf(all, 5, count),
    path: columnOf(all, 6, count),
  };
}
