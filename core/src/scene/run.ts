import type { SceneModel } from './scene-model.ts';
import { emptyTally, joinTallies, type Tally } from './tally.ts';
import { SceneTracer, type TracerOptions } from './tracer.ts';

/** Fewest chunks: what a standard error is taken from. */
const FEWEST = 64;
const LARGEST = 16384;

/** How rays are cut into chunks: a power of two, so that each holds whole nets of its sequence. Depends on the number asked for alone. */
export function chunksOf(rays: number): { readonly size: number; readonly count: number } {
  const size = Math.min(LARGEST, Math.max(1, 2 ** Math.floor(Math.log2(Math.max(1, rays / FEWEST)))));
  return { size, count: Math.max(2, Math.round(rays / size)) };
}

/** A tally for a model that nothing was traced of yet. */
export function noTally(model: SceneModel): Tally {
  return emptyTally(model.detectors, model.faces.length, model.solids.length, model.sources.length);
}

/**
 * Traces chunks `from` up to `to` (left out) of a run of `rays` rays. Joining the tallies of neighbouring runs, in their order, gives
 * the tally of the whole, to the last bit.
 */
export function traceChunks(tracer: SceneTracer, rays: number, from: number, to: number): Tally {
  const { size } = chunksOf(rays);
  const { seed } = tracer.model.scene.sampling;
  let tally = noTally(tracer.model);
  for (let chunk = from; chunk < to; chunk++) tally = joinTallies(tally, tracer.chunk(chunk, size, seed));
  return tally;
}

/** A whole run at once. */
export function traceAll(model: SceneModel, rays: number, options: TracerOptions = {}): Tally {
  return traceChunks(new SceneTracer(model, options), rays, 0, chunksOf(rays).count);
}
