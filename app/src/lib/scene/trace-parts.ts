/** How long a job may keep a worker, ms: what is drawn meanwhile waits no longer for it. */
const SLICE = 400;

/**
 * How many batches the next job takes: about a slice of time, but so many that making the scene ready for tracing, which each job does before its
 * first batch, takes a fifth of it at most.
 *
 * @param first - ms to the first batch
 * @param whole - ms to the last one
 */
export function nextBatches(batches: number, first: number, whole: number): number {
  if (batches < 2) return 2;
  const each = Math.max(0.1, (whole - first) / (batches - 1));
  const wanted = Math.max(SLICE, 4 * Math.max(0, first - each)) / each;
  return Math.max(2, Math.min(2 * batches, Math.ceil(wanted)));
}
