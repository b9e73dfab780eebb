import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { Goal, ImageGoal } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import type { MeritProblem } from './problem.ts';

/** The far focus of the signal lamp's mirror, mm from its vertex. */
export const IMAGE = 180;

const read = readProjectText(readFileSync('samples/signal-lamp.ulvex.json', 'utf8'));
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const { project: lamp } = read;

/** The signal lamp with its mirror tilted, in degrees, its screen at a distance, in mm, and random numbers of a seed. */
export function mirrorScene(tx: number, ty: number, distance: number, seed?: number): Project {
  const [scene] = lamp.scenes!;
  const [mirror, screen] = scene.parts;
  const parts = [
    { ...mirror, frame: { tx, ty } },
    { ...screen, frame: { dz: distance } },
  ];
  const sampling = { ...scene.sampling, ...(seed !== undefined && { seed }) };
  return { ...lamp, scenes: [{ ...scene, parts, sampling }] };
}

/** A measure of its detector with its standard error, from as many rays as its goals count. */
export function measured(project: Project, measure: string): { value: number; standardError: number } {
  const found = evaluateMeasure(new Evaluation(project), {
    measure,
    lens: 'lamp',
    settings: { detector: 'map', rays: 16_384 },
  });
  if (!found.ok) throw new Error(found.reason);
  return { value: found.value.value, standardError: found.value.standardError ?? NaN };
}

/** The square of the RMS radius is a parabola in the distance, since rays are straight: its least value, from three places. */
export function leastRadius(): number {
  const [a, b, c] = [-5, 0, 5].map((off) => measured(mirrorScene(0, 0, IMAGE + off), 'detector_rms_radius').value ** 2);
  const [slope, bend] = [(c - a) / 10, (a - 2 * b + c) / 25];
  return Math.sqrt(b - slope ** 2 / (2 * bend));
}

/**
 * Every derivative beside central differences, as a share of the largest of its column.
 *
 * @param wide - steps in the small change of each number
 */
export function worstDerivative(merit: MeritProblem, rows = Infinity, wide = 10): number {
  const columns = merit.columns(merit.start);
  let worst = 0;
  merit.numbers.forEach(({ small }, v) => {
    const step = wide * small;
    const [behind, before] = [step, -step].map((by) => merit.values(merit.start.with(v, merit.start[v] + by))!);
    let [largest, off] = [0, 0];
    for (let i = 0; i < Math.min(rows, behind.length); i++) {
      const difference = (behind[i] - before[i]) / (2 * step);
      largest = Math.max(largest, Math.abs(difference));
      off = Math.max(off, Math.abs(difference - columns[v][i]));
    }
    worst = Math.max(worst, off / (largest || 1));
  });
  return worst;
}

/** A goal for sharp spots of all fields and colours, of a lens. */
export const imageGoal = (of: string, more: Partial<ImageGoal> = {}): ImageGoal => ({
  id: 'image',
  kind: 'image_quality',
  of,
  weight: 1,
  what: 'spot',
  about: 'centroid',
  lateralColour: true,
  ...more,
});

/** A goal for the focal length of the lens `lens`, mm. */
export const focalGoal = (target: number): Goal => ({
  id: 'f',
  kind: 'measure',
  measure: 'effective_focal_length',
  of: 'lens',
  settings: {},
  weight: 1,
  target,
});
