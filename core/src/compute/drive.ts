import type { JobContext } from './protocol.ts';

/** How long a job works between two looks at its messages, ms. */
export const CHUNK = 20;

export interface Driving<Step> {
  /** Takes each step as it comes. */
  readonly onStep?: (step: Step) => void;
  /** Whether the job looks at its messages after a step, `since` ms after the last look; after `CHUNK` by default. */
  readonly due?: (step: Step, since: number) => boolean;
  /** Called before each look: sends what was gathered. */
  readonly flush?: () => void;
  /** What is to be done before the work goes on after a look; `took` is how long the last step was, ms. */
  readonly between?: (step: Step, took: number) => Promise<void>;
}

/** Looks at its messages after each step, for steps that are long. */
export const EVERY_STEP: { readonly due: () => boolean } = { due: () => true };

/**
 * Runs the work of a job to its end, and lets messages in between its steps, so that it can be cancelled and is known to be alive. Every job that
 * takes longer than a moment goes through here.
 *
 * @returns what the work returns; undefined when the job was cancelled
 */
export async function drive<Step, Result>(
  work: Generator<Step, Result, void>,
  context: Pick<JobContext<never>, 'pause' | 'cancelled'>,
  { onStep, due = (_, since) => since >= CHUNK, flush, between }: Driving<Step> = {},
): Promise<Result | undefined> {
  let looked = performance.now();
  for (;;) {
    const begun = performance.now();
    const step = work.next();
    if (step.done) {
      flush?.();
      return step.value;
    }
    const now = performance.now();
    onStep?.(step.value);
    if (!due(step.value, now - looked)) continue;
    flush?.();
    await context.pause();
    if (context.cancelled()) return undefined;
    await between?.(step.value, now - begun);
    looked = performance.now();
  }
}
