import { evaluateMeasure, Evaluation, type Goal, type Project } from '@ulvex/core';
import { allGlasses, formulaEvaluator, makingRows, polish, rimRays, search } from '@ulvex/core/improve';
import { findOperation, operate } from '@ulvex/core/operations';
import { settle } from '@ulvex/core/relations';
import { applyEdits } from '@ulvex/core';
import { roughProject, ROUGH_FORMS } from './rough-forms.ts';

/** What the four-element lens of the reference has: spots of its fields, distortion at the edge, distance to the image, length. */
const REFERENCE = { spots: [6.74, 5.81, 8.21], distortion: 0.6871, back: 30.6439, length: 42.2038 };

export function measured(project: Project, measure: string, settings: object = {}): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: 'lens', settings });
  return found.ok ? found.value.value : NaN;
}

/** The rough form in the size of the reference, with its wishes. */
export function roughFour(): Project {
  const rough = roughProject(ROUGH_FORMS.find(({ id }) => id === 'four_element')!);
  const [lens] = rough.lenses;
  const span = [lens.surfaces[0].id, lens.surfaces.at(-2)!.id] as const;
  const scaled = operate(findOperation('scale')!, rough, 'lens', span, { factor: 0.72 });
  if (!scaled.ok) throw new Error(scaled.reason);
  const { project } = applyEdits(rough, scaled.value.edits);
  const goal = (id: string, measure: string, more: object, settings: object = {}): Goal => ({ id, kind: 'measure', measure, of: 'lens', settings: settings as Record<string, unknown>, weight: 1, ...more }); // prettier-ignore
  return {
    ...project,
    goals: [
      ...project.goals!.slice(0, 1),
      goal('f', 'effective_focal_length', { target: 36 }),
      goal('d', 'distortion', { min: -REFERENCE.distortion, max: REFERENCE.distortion }, { field: 'edge' }),
      goal('b', 'paraxial_image_distance', { min: REFERENCE.back }),
      goal('l', 'total_length', { max: REFERENCE.length }),
    ],
  };
}

function opened(project: Project, share: number): Project {
  const [lens] = project.lenses;
  const points = lens.fields.points.map((point) => ({ ...point, y: point.y * share }));
  return { ...project, lenses: [{ ...lens, aperture: { ...lens.aperture, value: lens.aperture.value * share }, fields: { ...lens.fields, points } }] }; // prettier-ignore
}

/** The rough four-element form polished to the reference's data; figures are printed. With a seed, searched with exchange of glass from there. */
export async function fourElement(seed?: number, minutes = 10): Promise<void> {
  const evaluate = await formulaEvaluator();
  const began = performance.now();
  let project = settle(roughFour(), evaluate).project;
  let evaluations = 0;
  for (const share of [0.35, 0.6, 0.85, 1]) {
    const [full] = project.lenses;
    const run = polish(opened(project, share), evaluate, { gain: share < 1 ? 1e-5 : 1e-9, slow: share < 1 ? 0.01 : 1e-5, steps: 3000, evaluations: 6000 }); // prettier-ignore
    for (;;) {
      const step = run.next();
      if (!step.done) continue;
      if (!step.value.ok) throw new Error(step.value.reason);
      const end = step.value.value;
      evaluations += end.evaluations;
      const [lens] = end.project.lenses;
      project = { ...end.project, lenses: [{ ...lens, aperture: full.aperture, fields: full.fields }] };
      console.log(`  opened to ${(100 * share).toFixed(0)} %: merit ${end.before.toFixed(1)} → ${end.merit.toFixed(3)} (${end.reason}, ${end.evaluations} evaluations)`); // prettier-ignore
      break;
    }
  }
  const seconds = (performance.now() - began) / 1000;
  const spots = project.lenses[0].fields.points.map(({ id }) => measured(project, 'rms_spot_radius', { field: id, pupil: 'full' })); // prettier-ignore
  const lens = new Evaluation(project).lens('lens');
  const rim = lens.ok ? rimRays(lens.value) : null;
  const exceeded = lens.ok && rim ? makingRows(lens.value.model, rim, project.making).filter(({ over }) => over > 1e-3) : []; // prettier-ignore
  console.log(`four elements, polish alone: spots ${spots.map((one) => one.toFixed(2)).join(' ')} µm (reference ${REFERENCE.spots.join(' ')}), f ${measured(project, 'effective_focal_length').toFixed(4)}, distortion ${measured(project, 'distortion', { field: 'edge' }).toFixed(3)} %, back ${measured(project, 'paraxial_image_distance').toFixed(4)}, length ${measured(project, 'total_length').toFixed(4)}, making-limits exceeded: ${exceeded.length}, ${evaluations} evaluations, ${seconds.toFixed(1)} s`); // prettier-ignore
  if (seed !== undefined) searched(project, seed, minutes);
}

/** A search from the polished lens for a time; the share of the reference's RMS over its fields that is reached. */
function searched(start: Project, seed: number, minutes: number): void {
  const glass = { lens: 'lens', surfaces: start.lenses[0].surfaces.flatMap(({ id, after }) => (after?.name === undefined ? [] : [id])), shortlist: allGlasses() }; // prettier-ignore
  const run = search(start, null, { seed, starts: 0, glass });
  const began = performance.now();
  const root = (spots: readonly number[]) =>
    Math.sqrt(spots.reduce((sum, one) => sum + one * one, 0) / spots.length);
  for (;;) {
    const step = run.next();
    if (step.done) throw new Error(step.value.ok ? '' : step.value.reason);
    if (performance.now() - began < 60_000 * minutes) continue;
    const { gallery, trials, evaluations } = step.value;
    const { project, glasses } = gallery[0];
    const spots = project.lenses[0].fields.points.map(({ id }) => measured(project, 'rms_spot_radius', { field: id, pupil: 'full' })); // prettier-ignore
    const lens = new Evaluation(project).lens('lens');
    const rim = lens.ok ? rimRays(lens.value) : null;
    const exceeded = lens.ok && rim ? makingRows(lens.value.model, rim, project.making).filter(({ over }) => over > 1e-3).length : NaN; // prettier-ignore
    console.log(`seed ${seed}, ${minutes} min: spots ${spots.map((one) => one.toFixed(2)).join(' ')} µm, ${(root(spots) / root(REFERENCE.spots)).toFixed(3)} of the reference, f ${measured(project, 'effective_focal_length').toFixed(4)}, distortion ${measured(project, 'distortion', { field: 'edge' }).toFixed(3)} %, back ${measured(project, 'paraxial_image_distance').toFixed(3)}, length ${measured(project, 'total_length').toFixed(3)}, limits exceeded ${exceeded}, ${trials} trials, ${evaluations} evaluations, ${glasses.join(' ')}`); // prettier-ignore
    return;
  }
}
