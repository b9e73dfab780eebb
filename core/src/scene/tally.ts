import type { Channel } from './channels.ts';
import type { CompiledDetector } from './detectors.ts';

/** Numbers of a moment record: flux, flux·x, flux·y, flux·x², flux·y². */
export const MOMENTS = 5;

/** Where light ended, W: sums over chunks, each of which stands for the whole flux once. */
export interface Ledger {
  readonly launched: number;
  /** At faces that carry a detector. */
  readonly detected: number;
  /** At all other faces. */
  readonly absorbed: number;
  /** On the way through bodies. */
  readonly inBodies: number;
  readonly escaped: number;
  /** Rays that fell below the threshold or met too many faces. */
  readonly cutOff: number;
  /** Net of what was ended and strengthened by lot. */
  readonly byLot: number;
}

const LEDGER_KEYS = ['launched', 'detected', 'absorbed', 'inBodies', 'escaped', 'cutOff', 'byLot'] as const;

const ledgerOf = (value: (key: keyof Ledger) => number) =>
  Object.fromEntries(LEDGER_KEYS.map((key) => [key, value(key)])) as Record<keyof Ledger, number>;

/** Where light ended, in the words of tables, and of places with little room. */
const ENDS: readonly (readonly [key: keyof Ledger, title: string, short: string])[] = [
  ['detected', 'absorbed at faces with a detector', 'on detectors'],
  ['absorbed', 'absorbed at other faces', 'absorbed elsewhere'],
  ['inBodies', 'absorbed in bodies', 'absorbed in bodies'],
  ['escaped', 'escaped from the scene', 'escaped'],
  ['cutOff', 'below the threshold', 'below threshold'],
  ['byLot', 'balance of random choices', 'sampling balance'],
];

/** The energy book of a run, W: sums of its ledger over the chunks, each of which stands for the whole flux. */
export const energyOf = ({ ledger, chunks }: Pick<Tally, 'ledger' | 'chunks'>): Ledger =>
  ledgerOf((key) => ledger[key] / chunks);

/** The lines of an energy book that hold more than rounding: W and their share of what was launched. */
export function energyLines(energy: Ledger) {
  return ENDS.filter(([key]) => Math.abs(energy[key]) > 1e-12 * energy.launched).map(([key, title, short]) => ({
    key,
    title,
    short,
    watts: energy[key],
    share: energy[key] / energy.launched,
  }));
}

/** What one detector has counted over some chunks. */
export interface DetectorTally {
  readonly id: string;
  readonly cells: number;
  readonly chunks: number;
  /** Sums, and sums of squares, over chunks of what a chunk brought into each cell, W: channel by channel. */
  readonly flux: Float64Array;
  readonly squares: Float64Array;
  /** Sums of squares over chunks of all wavelengths of each source together, W² and lm²; null where each source has one. */
  readonly wattSquares: Float64Array | null;
  readonly lumenSquares: Float64Array | null;
  /** The moments of each chunk, one after another, each channel by channel; W. */
  readonly moments: Float64Array;
  /** Rays counted, by channel. */
  readonly hits: Float64Array;
}

/** What a run of chunks has found. Plain data, joined with `joinTallies` in the order of their chunks. */
export interface Tally {
  readonly chunks: number;
  readonly rays: number;
  readonly ledger: Ledger;
  readonly detectors: readonly DetectorTally[];
  /** By face, and by solid: absorbed W, summed over chunks. */
  readonly faces: Float64Array;
  readonly solids: Float64Array;
  /** By source: rays launched, and of them those that met anything. */
  readonly launched: Float64Array;
  readonly met: Float64Array;
  /** Events that should not be: see `Mishap`. */
  readonly mishaps: readonly Mishap[];
}

/** Bodies that overlap or are open: how often rays showed it, and where first. */
export interface Mishap {
  readonly kind: 'overlap' | 'leak' | 'opaque';
  /** Names of the bodies. */
  readonly between: readonly string[];
  readonly count: number;
  readonly at: readonly [number, number, number];
}

/** A tally of nothing. */
export function emptyTally(
  detectors: readonly CompiledDetector[],
  faces: number,
  solids: number,
  sources: number,
): Tally {
  return {
    chunks: 0,
    rays: 0,
    ledger: ledgerOf(() => 0),
    detectors: detectors.map((detector) => ({ ...emptyCount(detector), moments: new Float64Array(0) })),
    faces: new Float64Array(faces),
    solids: new Float64Array(solids),
    launched: new Float64Array(sources),
    met: new Float64Array(sources),
    mishaps: [],
  };
}

/** Two runs of chunks as one; `b` follows `a`. */
export function joinTallies(a: Tally, b: Tally): Tally {
  return {
    chunks: a.chunks + b.chunks,
    rays: a.rays + b.rays,
    ledger: ledgerOf((key) => a.ledger[key] + b.ledger[key]),
    detectors: a.detectors.map((one, i) => {
      const other = b.detectors[i];
      const moments = new Float64Array(one.moments.length + other.moments.length);
      moments.set(one.moments);
      moments.set(other.moments, one.moments.length);
      const both = (a: Float64Array | null, b: Float64Array | null) => a && b && added(a, b);
      return {
        id: one.id,
        cells: one.cells,
        chunks: one.chunks + other.chunks,
        flux: added(one.flux, other.flux),
        squares: added(one.squares, other.squares),
        wattSquares: both(one.wattSquares, other.wattSquares),
        lumenSquares: both(one.lumenSquares, other.lumenSquares),
        moments,
        hits: added(one.hits, other.hits),
      };
    }),
    faces: added(a.faces, b.faces),
    solids: added(a.solids, b.solids),
    launched: added(a.launched, b.launched),
    met: added(a.met, b.met),
    mishaps: joinMishaps(a.mishaps, b.mishaps),
  };
}

function added(a: Float64Array, b: Float64Array): Float64Array {
  const sum = a.slice();
  for (let i = 0; i < b.length; i++) sum[i] += b[i];
  return sum;
}

function joinMishaps(a: readonly Mishap[], b: readonly Mishap[]): Mishap[] {
  const joined = [...a];
  for (const one of b) {
    const same = joined.findIndex(({ kind, between }) => kind === one.kind && between.join() === one.between.join());
    if (same < 0) joined.push(one);
    else joined[same] = { ...joined[same], count: joined[same].count + one.count };
  }
  return joined;
}

/** Chunks as they are summed up, one after another. */
export class TallySum {
  chunks = 0;
  rays = 0;
  readonly ledger: Record<keyof Ledger, number>;
  readonly faces: Float64Array;
  readonly solids: Float64Array;
  readonly launched: Float64Array;
  readonly met: Float64Array;
  readonly #detectors: readonly (ReturnType<typeof emptyCount> & { readonly moments: number[] })[];
  readonly #channels: readonly (readonly Channel[])[];
  readonly #mishaps = new Map<string, { -readonly [K in keyof Mishap]: Mishap[K] }>();

  constructor(
    detectors: readonly Pick<CompiledDetector, 'id' | 'size' | 'channels'>[],
    faces: number,
    solids: number,
    sources: number,
  ) {
    this.ledger = ledgerOf(() => 0);
    this.faces = new Float64Array(faces);
    this.solids = new Float64Array(solids);
    this.launched = new Float64Array(sources);
    this.met = new Float64Array(sources);
    this.#detectors = detectors.map((detector) => ({ ...emptyCount(detector), moments: [] }));
    this.#channels = detectors.map(({ channels }) => channels);
  }

  /** Adds what detector d has counted in one chunk, channel by channel, and leaves zeros in `map` for the next. */
  addMap(d: number, map: Float64Array, moments: Float64Array, hits: Float64Array): void {
    const one = this.#detectors[d];
    if (one.wattSquares) addTogether(map, one.cells, this.#channels[d], one.wattSquares, one.lumenSquares!);
    addCells(map, one.flux, one.squares);
    for (const moment of moments) one.moments.push(moment);
    hits.forEach((count, c) => (one.hits[c] += count));
  }

  /** Notes something that should not be, and where it was seen first. */
  mishap(kind: Mishap['kind'], between: readonly string[], at: Mishap['at']): void {
    const key = `${kind} ${between.join(' ')}`;
    const known = this.#mishaps.get(key);
    if (known) known.count++;
    else this.#mishaps.set(key, { kind, between, count: 1, at });
  }

  /** What has been summed up; the sum is not to be added to afterwards. */
  tally(): Tally {
    return {
      chunks: this.chunks,
      rays: this.rays,
      ledger: this.ledger,
      detectors: this.#detectors.map((one) => ({
        ...one,
        chunks: this.chunks,
        moments: Float64Array.from(one.moments),
      })),
      faces: this.faces,
      solids: this.solids,
      launched: this.launched,
      met: this.met,
      mishaps: [...this.#mishaps.values()],
    };
  }
}

function emptyCount({ id, size: { length }, channels }: Pick<CompiledDetector, 'id' | 'size' | 'channels'>) {
  const count = Math.max(1, channels.length);
  const sources = sourcesOf(channels);
  const white = channels.length > sources;
  return {
    id,
    cells: length,
    chunks: 0,
    flux: new Float64Array(count * length),
    squares: new Float64Array(count * length),
    wattSquares: white ? new Float64Array(sources * length) : null,
    lumenSquares: white ? new Float64Array(sources * length) : null,
    hits: new Float64Array(count),
  };
}

/** Adds the squares of all channels of each source together. */
function addTogether(
  map: Float64Array,
  cells: number,
  channels: readonly Channel[],
  wattSquares: Float64Array,
  lumenSquares: Float64Array,
): void {
  const sources = sourcesOf(channels);
  for (let source = 0; source < sources; source++) {
    const own = channels.flatMap((channel, c) => (channel.source === source ? [{ ...channel, from: c * cells }] : []));
    for (let cell = 0; cell < cells; cell++) {
      let [watts, photometric] = [0, 0];
      for (const { from, lumens } of own) {
        watts += map[from + cell];
        photometric += lumens * map[from + cell];
      }
      wattSquares[source * cells + cell] += watts * watts;
      lumenSquares[source * cells + cell] += photometric * photometric;
    }
  }
}

function sourcesOf(channels: readonly Channel[]): number {
  return new Set(channels.map(({ source }) => source)).size;
}

/** The loop over cells by itself, which compilers take to sooner. */
function addCells(map: Float64Array, sum: Float64Array, squares: Float64Array): void {
  const cells = sum.length;
  for (let cell = 0; cell < cells; cell++) {
    const value = map[cell];
    if (value !== 0) {
      sum[cell] += value;
      squares[cell] += value * value;
      map[cell] = 0;
    }
  }
}
