import { lumensPerWatt } from '../light/luminous.ts';
import type { Detector, Scene } from '../project/scene.ts';
import { MOMENTS, type DetectorTally } from './tally.ts';

/** What detectors count apart: the light of one source at one wavelength. */
export interface Channel {
  /** Index and id of the source. */
  readonly source: number;
  readonly id: string;
  /** Index of the wavelength, and nm. */
  readonly wave: number;
  readonly nm: number;
  /** lm/W. */
  readonly lumens: number;
}

/** The channels of a scene: each wavelength that each source has. */
export function channelsOf(
  sources: readonly { readonly id: string; readonly waves: readonly number[] }[],
  waves: readonly number[],
): Channel[] {
  return sources.flatMap(({ id, waves: own }, source) =>
    [...new Set(own)].map((wave) => ({ source, id, wave, nm: waves[wave], lumens: lumensPerWatt(waves[wave]) })),
  );
}

/** Index of a channel by source and wavelength, `source × waves + wave`; 0 for what no source has. */
export function channelTable(channels: readonly Channel[], sources: number, waves: number): Int32Array {
  const table = new Int32Array(sources * waves);
  channels.forEach(({ source, wave }, k) => (table[source * waves + wave] = k));
  return table;
}

/** What is looked at of all that a detector counted. */
export interface Look {
  /** In W or in lm; as the detector says when left out. */
  readonly light?: Detector['light'] | undefined;
  /** Light of one source alone, by id. */
  readonly source?: string | undefined;
  /** Light of one wavelength alone, nm. */
  readonly nm?: number | undefined;
}

/** What a detector counted, as it is looked at: W or lm. */
export interface Counted {
  /** Sums, and sums of squares, over chunks of what a chunk brought into each cell. */
  readonly sum: Float64Array;
  readonly squares: Float64Array;
  /** The moments of each chunk, one after another. */
  readonly moments: Float64Array;
  /** Rays counted. */
  readonly hits: number;
}

/**
 * What a detector counted, as it is looked at. Nothing is traced for it.
 *
 * Sources are independent, so the variances of their light add. Those of the wavelengths of one source add, too, where only some of them are
 * looked at.
 */
export function countedOf(
  { detector, channels }: { readonly detector: Pick<Detector, 'light'>; readonly channels: readonly Channel[] },
  tally: DetectorTally,
  { light = detector.light, source, nm }: Look = {},
): Counted {
  const photometric = light === 'photometric';
  const seen = channels.map(
    (channel) => (source === undefined || channel.id === source) && (nm === undefined || channel.nm === nm),
  );
  const weights = channels.map(({ lumens }, c) => (seen[c] ? (photometric ? lumens : 1) : 0));
  if (channels.length === 0 || (channels.length === 1 && weights[0] === 1))
    return { sum: tally.flux, squares: tally.squares, moments: tally.moments, hits: tally.hits[0] };
  const squares = photometric ? tally.lumenSquares : tally.wattSquares;
  const pieces =
    squares && nm === undefined
      ? wholeSources(channels, seen, weights, squares)
      : weights.flatMap((weight, c) =>
          seen[c] ? [{ parts: [{ c, weight }], squares: tally.squares, at: c, by: weight * weight }] : [],
        );
  const sum = new Float64Array(tally.cells);
  const variance = new Float64Array(tally.cells);
  for (const piece of pieces) addPiece(tally, piece, sum, variance);
  // Squares whose spread is that variance.
  const spread = variance.map((value, cell) => value + (sum[cell] * sum[cell]) / Math.max(1, tally.chunks));
  return {
    sum,
    squares: spread,
    moments: momentsOf(tally.moments, weights),
    hits: tally.hits.reduce((hits, count, c) => (seen[c] ? hits + count : hits), 0),
  };
}

/** Light whose sums of squares are known: channels with their weights, and the squares times `by`, list number `at`. */
interface Piece {
  readonly parts: readonly { readonly c: number; readonly weight: number }[];
  readonly squares: Float64Array;
  readonly at: number;
  readonly by: number;
}

/** Each source that is seen, with all of its wavelengths. */
function wholeSources(
  channels: readonly Channel[],
  seen: readonly boolean[],
  weights: readonly number[],
  squares: Float64Array,
): Piece[] {
  const sources = [...new Set(channels.flatMap(({ source }, c) => (seen[c] ? [source] : [])))];
  return sources.map((source) => ({
    parts: weights.flatMap((weight, c) => (channels[c].source === source ? [{ c, weight }] : [])),
    squares,
    at: source,
    by: 1,
  }));
}

function addPiece(
  { flux, cells, chunks }: DetectorTally,
  { parts, squares, at, by }: Piece,
  sum: Float64Array,
  variance: Float64Array,
): void {
  for (let cell = 0; cell < cells; cell++) {
    let own = 0;
    for (const { c, weight } of parts) own += weight * flux[c * cells + cell];
    sum[cell] += own;
    if (own !== 0) variance[cell] += by * squares[at * cells + cell] - (own * own) / Math.max(1, chunks);
  }
}

function momentsOf(moments: Float64Array, weights: readonly number[]): Float64Array {
  const channels = weights.length;
  const chunks = moments.length / (channels * MOMENTS);
  const out = new Float64Array(chunks * MOMENTS);
  for (let chunk = 0; chunk < chunks; chunk++)
    for (let c = 0; c < channels; c++)
      for (let k = 0; k < MOMENTS; k++)
        out[chunk * MOMENTS + k] += weights[c] * moments[(chunk * channels + c) * MOMENTS + k];
  return out;
}

/**
 * What sources launch, in W or in lm.
 *
 * @param only - id of the one source that counts; all of them when left out
 */
export function launchedFlux(
  {
    sources,
    scene,
  }: {
    readonly sources: readonly { readonly id: string; readonly watts: number }[];
    readonly scene: Pick<Scene, 'sources'>;
  },
  light: Detector['light'],
  only?: string,
): number {
  return sources.reduce((sum, { id, watts }) => {
    if (only !== undefined && id !== only) return sum;
    if (light === 'radiometric') return sum + watts;
    const lines = scene.sources.find((one) => one.id === id)!.light;
    const whole = lines.reduce((all, { weight }) => all + weight, 0);
    return sum + lines.reduce((lumens, { nm, weight }) => lumens + (weight / whole) * watts * lumensPerWatt(nm), 0);
  }, 0);
}
