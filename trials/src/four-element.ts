import { writeFileSync } from 'node:fs';
import {
  applyEdits,
  backupText,
  commit,
  EMPTY_HISTORY,
  evaluateMeasure,
  Evaluation,
  nameState,
  type Edit,
  type Goal,
  type Project,
  type Tracked,
} from '@ulvex/core';
import {
  allGlasses,
  formulaEvaluator,
  makingRows,
  polish,
  rimRays,
  search,
  type FormulaEvaluator,
} from '@ulvex/core/improve';
import { findOperation, operate } from '@ulvex/core/operations';
import { settle } from '@ulvex/core/relations';
import { opened } from './opened.ts';
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
  const goal = (id: string, measure: string, more: object, settings: object = {}): Goal => ({
    id,
    kind: 'measure',
    measure,
    of: 'lens',
    settings: settings as Record<string, unknown>,
    weight: 1,
    ...more,
  });
  return {
    ...project,
    goals: [
      ...project.goals!.slice(0, 1),
      goal('f', 'effective_focal_length', { target: 36 }),
      goal(
        'd',
        'distortion',
        { min: -REFERENCE.distortion, max: REFERENCE.distortion },
        { field: 'edge', scale: 'paraxial image' },
      ),
      goal('b', 'paraxial_image_distance', { min: REFERENCE.back }),
      goal('l', 'total_length', { max: REFERENCE.length }),
    ],
  };
}

/** What a stage or a search has made of a lens, as the history tells it. */
type Told = (edits: readonly Edit[], label: string, name: string) => void;

/** Polishes with aperture and field opened step by step; each step is told with its edits. */
function polished(
  start: Project,
  evaluate: FormulaEvaluator,
  told: Told,
): { readonly project: Project; readonly evaluations: number } {
  let project = start;
  let evaluations = 0;
  const [full] = start.lenses;
  for (const share of [0.35, 0.6, 0.85, 1]) {
    const stage = opened(
      { ...project, lenses: [{ ...project.lenses[0], aperture: full.aperture, fields: full.fields }] },
      share,
    );
    const percent = `${(100 * share).toFixed(0)} %`;
    const [lens] = stage.lenses;
    told(
      [
        { kind: 'set', path: 'lenses.lens.aperture.value', value: lens.aperture.value },
        ...lens.fields.points.map(({ id, y }): Edit => ({
          kind: 'set',
          path: `lenses.lens.fields.points.${id}.y`,
          value: y,
        })),
      ],
      `Aperture and field at ${percent}`,
      '',
    );
    const run = polish(stage, evaluate, {
      gain: share < 1 ? 1e-5 : 1e-9,
      slow: share < 1 ? 0.01 : 1e-5,
      steps: 3000,
      evaluations: 6000,
    });
    let step = run.next();
    while (!step.done) step = run.next();
    if (!step.value.ok) throw new Error(step.value.reason);
    const end = step.value.value;
    evaluations += end.evaluations;
    project = end.project;
    told(
      end.edits,
      `Polish: merit ${end.before.toPrecision(4)} → ${end.merit.toPrecision(4)}`,
      share === 1 ? 'Polished, its own glasses' : `Polished at ${percent}`,
    );
    console.log(
      `  opened to ${percent}: merit ${end.before.toFixed(1)} → ${end.merit.toFixed(3)} (${end.reason}, ${end.evaluations} evaluations)`,
    );
  }
  return { project, evaluations };
}

/**
 * The rough four-element form polished to the reference's data; figures are printed. With a seed, searched with exchange of glass from there.
 *
 * @param file - where the path is written with its history; nowhere when left out
 */
export async function fourElement(seed?: number, minutes = 10, file?: string): Promise<void> {
  const evaluate = await formulaEvaluator();
  const began = performance.now();
  const start = {
    ...settle(roughFour(), evaluate).project,
    name: 'Four elements, the way there',
    notes: NOTES,
    requirements: REQUIREMENTS,
  };
  let tracked: Tracked = nameState({ project: start, history: EMPTY_HISTORY }, -1, 'The rough form');
  const told: Told = (edits, label, name) => {
    // Times of a made-up morning, a minute apart.
    tracked = commit(tracked, edits, label, Date.UTC(2026, 8, 14, 8, tracked.history.entries.length));
    if (name !== '') tracked = nameState(tracked, tracked.history.head, name);
  };
  const { project, evaluations } = polished(start, evaluate, told);
  const seconds = (performance.now() - began) / 1000;
  console.log(`four elements, polish alone: ${figures(project)}, ${evaluations} evaluations, ${seconds.toFixed(1)} s`);
  if (seed !== undefined) searched(project, seed, minutes, told);
  if (file === undefined) return;
  writeFileSync(file, backupText([{ id: 'f047e1e3e27', savedAt: Date.UTC(2026, 8, 14, 9), tracked }]));
}

const NOTES = `How a lens like that of the tide camera comes about, step by step in the history: a rough guess of four elements, polished with \
aperture and field opened in four steps, then searched with exchange of glass.

Go back to any state by name and go another way from there.`;

const REQUIREMENTS: Project['requirements'] = [
  { id: 'focal', measure: 'effective_focal_length', lens: 'lens', settings: {}, min: 35.5, max: 36.5 },
  {
    id: 'spot',
    label: 'Spot, worst field',
    measure: 'rms_spot_radius',
    lens: 'lens',
    settings: { field: 'worst', pupil: 'full' },
    max: 8.21,
  },
  {
    id: 'distortion',
    label: 'Distortion, edge',
    measure: 'distortion',
    lens: 'lens',
    settings: { field: 'edge', scale: 'paraxial image' },
    min: -0.6871,
    max: 0.6871,
  },
  { id: 'length', measure: 'total_length', lens: 'lens', settings: {}, max: 42.21 },
];

const spotsOf = (project: Project) =>
  project.lenses[0].fields.points.map(({ id }) => measured(project, 'rms_spot_radius', { field: id, pupil: 'full' }));

/** What a lens is like, beside the reference. */
function figures(project: Project): string {
  const lens = new Evaluation(project).lens('lens');
  const rim = lens.ok ? rimRays(lens.value) : null;
  const exceeded =
    lens.ok && rim ? makingRows(lens.value.model, rim, project.making).filter(({ over }) => over > 1e-3).length : NaN;
  const told = (measure: string, digits: number, settings = {}) => measured(project, measure, settings).toFixed(digits);
  const spots = spotsOf(project).map((one) => one.toFixed(2));
  const distortion = told('distortion', 3, { field: 'edge', scale: 'paraxial image' });
  return (
    `spots ${spots.join(' ')} µm (reference ${REFERENCE.spots.join(' ')}), f ${told('effective_focal_length', 4)}, ` +
    `distortion ${distortion} %, back ${told('paraxial_image_distance', 4)}, length ${told('total_length', 4)}, ` +
    `making-limits exceeded: ${exceeded}`
  );
}

/** A search from the polished lens for a time; the share of the reference's RMS over its fields that is reached. */
function searched(start: Project, seed: number, minutes: number, told: Told): void {
  const glass = {
    lens: 'lens',
    surfaces: start.lenses[0].surfaces.flatMap(({ id, after }) => (after?.name === undefined ? [] : [id])),
    shortlist: allGlasses(),
  };
  const run = search(start, null, { seed, starts: 0, glass });
  const began = performance.now();
  const root = (spots: readonly number[]) => Math.sqrt(spots.reduce((sum, one) => sum + one * one, 0) / spots.length);
  let step = run.next();
  while (!step.done && performance.now() - began < 60_000 * minutes) step = run.next();
  if (step.done) throw new Error(step.value.ok ? 'the search ended' : step.value.reason);
  const { gallery, trials, evaluations } = step.value;
  const { project, glasses, merit } = gallery[0];
  const materials = project.materials.filter(({ id }) => !start.materials.some((one) => one.id === id));
  told(
    [
      ...materials.map((item): Edit => ({
        kind: 'insert',
        list: 'materials',
        after: start.materials.at(-1)?.id ?? null,
        item,
      })),
      { kind: 'set', path: 'lenses', value: project.lenses },
    ],
    `From the search: merit ${merit.toPrecision(4)}`,
    'Searched, other glasses',
  );
  const share = root(spotsOf(project)) / root(REFERENCE.spots);
  console.log(
    `seed ${seed}, ${minutes} min: ${share.toFixed(3)} of the reference, ${figures(project)}, ${trials} ` +
      `trials, ${evaluations} evaluations, ${glasses.join(' ')}`,
  );
}
