import { atOnce } from '../math/steps.ts';
import type { SceneModel } from './scene-model.ts';
import { joinTallies, TallySum, type Tally } from './tally.ts';
import { BlockTracer, canTraceBlocks } from './block-tracer.ts';
import { SceneTracer, type ChunkTracer, type TracerOptions } from './tracer.ts';

/** Fewest chunks: what a standard error is taken from. */
const FEWEST = 64;
const LARGEST = 16384;

/** Chunks that are summed up together, wherever they are traced: what a worker reports at a time. */
export const BATCH = 8;

/** How rays are cut into chunks: a power of two, so that each holds whole nets of its sequence. Depends on the number asked for alone. */
export function chunksOf(rays: number): { readonly size: number; readonly count: number } {
  const size = Math.min(LARGEST, Math.max(1, 2 ** Math.floor(Math.log2(Math.max(1, rays / FEWEST)))));
  return { size, count: Math.max(2, Math.round(rays / size)) };
}

/** Nothing yet of a model. */
export function noTally({ detectors, faces, solids, sources }: SceneModel): TallySum {
  return new TallySum(detectors, faces.length, solids.length, sources.length);
}

/** What traces a model fastest here; what is watched, or polarised, is followed ray by ray. */
export function tracerOf(model: SceneModel, options: TracerOptions = {}): ChunkTracer {
  const plain = new SceneTracer(model, options);
  const watched = options.watch !== undefined || options.polarised !== undefined;
  return !watched && canTraceBlocks(model) ? new BlockTracer(model, plain.starts) : plain;
}

/**
 * Traces chunks `from` (a multiple of `BATCH`) up to `to` (left out) of a run of `rays` rays. Joining the tallies of all batches, in their
 * order, gives the tally of the whole, to the last bit.
 */
export function traceChunks(tracer: ChunkTracer, rays: number, from: number, to: number): Tally {
  return atOnce(traceSteps(tracer, rays, from, to));
}

/** `traceChunks`, giving way after each chunk. */
export function* traceSteps(tracer: ChunkTracer, rays: number, from: number, to: number): Generator<void, Tally, void> {
  const { size } = chunksOf(rays);
  const { seed } = tracer.model.scene.sampling;
  let tally = noTally(tracer.model).tally();
  for (let batch = from; batch < to; batch += BATCH) {
    const sum = noTally(tracer.model);
    for (let chunk = batch; chunk < Math.min(to, batch + BATCH); chunk++) {
      tracer.chunk(chunk, size, seed, sum);
      yield;
    }
    tally = joinTallies(tally, sum.tally());
  }
  return tally;
}

/** A whole run at once. */
export function traceAll(model: SceneModel, rays: number, options: TracerOptions = {}): Tally {
  return traceChunks(tracerOf(model, options), rays, 0, chunksOf(rays).count);
}
