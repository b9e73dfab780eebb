import type { Bench } from './bench.ts';

/** In Improve: the radii of the tide camera are free, and its spots and focal length are goals. */
export async function improveRadii(bench: Bench): Promise<void> {
  await bench.click('free-radii');
  await bench.waitFor('numbers', () => bench.has('free-6'));
  await bench.select('add-goal', ':spot');
  await bench.settled();
  await bench.select('add-goal', 'effective_focal_length');
  await bench.settled();
}

/** In Improve: all radii and thicknesses of the tide camera are free; its spots and what the Brief requires are goals. */
export async function improveAll(bench: Bench): Promise<void> {
  await bench.click('free-radii');
  await bench.waitFor('numbers', () => bench.has('free-6'));
  await bench.click('free-thicknesses');
  await bench.waitFor('more numbers', () => bench.has('free-14'));
  await bench.select('add-goal', ':spot');
  await bench.settled();
  await bench.click('goals-from-brief');
  await bench.settled();
}
