import { mkdirSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { evaluateMeasure, Evaluation, projectText, type Project, type Requirement } from '@ulvex/core';
import { formulaEvaluator, makingRows, polish, rimRays, type PolishEnd } from '@ulvex/core/improve';
import { settle } from '@ulvex/core/relations';
import { opened } from './opened.ts';
import { roughProject, ROUGH_FORMS, type RoughForm } from './rough-forms.ts';

const FOLDER = resolve(import.meta.dirname, '../../samples/forms');

/** Shares of aperture and field through which a form is brought to its full ones, so that all rays arrive on the way. */
const STAGES = [0.35, 0.6, 0.85, 1];

type Evaluator = Awaited<ReturnType<typeof formulaEvaluator>>;

function run(project: Project, evaluate: Evaluator, last: boolean): PolishEnd {
  const work = polish(project, evaluate, {
    gain: last ? 1e-8 : 1e-5,
    slow: last ? 1e-4 : 0.01,
    evaluations: 3000,
    steps: 1500,
  });
  for (;;) {
    const step = work.next();
    if (!step.done) continue;
    if (!step.value.ok) throw new Error(`${project.name}: ${step.value.reason}`);
    return step.value.value;
  }
}

/** A form polished through its stages; as it is where nothing of it is free. */
export function madeForm(
  form: RoughForm,
  evaluate: Evaluator,
): Pick<PolishEnd, 'project' | 'before' | 'merit' | 'reason'> {
  let project = settle(roughProject(form), evaluate).project;
  if (Object.keys(form.free).length === 0) return { project, before: 0, merit: 0, reason: 'flat' };
  let end: PolishEnd | null = null;
  for (const share of STAGES) {
    const [full] = project.lenses;
    end = run(opened(project, share), evaluate, share === 1);
    const [lens] = end.project.lenses;
    project = { ...end.project, lenses: [{ ...lens, aperture: full.aperture, fields: full.fields }] };
  }
  return end!;
}

function measured(project: Project, measure: string, settings: object = {}): number {
  const found = evaluateMeasure(new Evaluation(project), { measure, lens: 'lens', settings });
  return found.ok ? found.value.value : NaN;
}

/** What a form must keep, as requirements with a little room. */
function requirements(project: Project): Requirement[] {
  const finite = project.lenses[0].object.distance !== 'infinity';
  const focal = measured(project, 'effective_focal_length');
  const spot = measured(project, 'rms_spot_radius', { field: 'worst' });
  const room = (value: number) => Number((value * 1.02).toPrecision(3));
  return [
    finite
      ? {
          id: 'magnification',
          measure: 'magnification',
          lens: 'lens',
          settings: {},
          label: 'Magnification',
          min: -1.005,
          max: -0.995,
        }
      : {
          id: 'focal_length',
          measure: 'effective_focal_length',
          lens: 'lens',
          settings: {},
          label: 'Focal length',
          min: Number((focal * 0.99).toPrecision(4)),
          max: Number((focal * 1.01).toPrecision(4)),
        },
    {
      id: 'worst_spot',
      measure: 'rms_spot_radius',
      lens: 'lens',
      settings: { field: 'worst' },
      label: 'Spot, worst field',
      max: Math.max(0.5, room(spot)),
    },
  ];
}

export async function makeStartForms(only?: string): Promise<void> {
  const evaluate = await formulaEvaluator();
  mkdirSync(FOLDER, { recursive: true });
  const lines: string[] = [];
  for (const form of ROUGH_FORMS.filter(({ id }) => only === undefined || id === only)) {
    const began = performance.now();
    const end = madeForm(form, evaluate);
    const { project } = end;
    const lens = new Evaluation(project).lens('lens');
    const rim = lens.ok ? rimRays(lens.value) : null;
    const exceeded =
      lens.ok && rim ? makingRows(lens.value.model, rim, project.making).filter(({ over }) => over > 2e-3) : null;
    const spots = project.lenses[0].fields.points.map(({ id }) =>
      measured(project, 'rms_spot_radius', { field: id }).toFixed(2),
    );
    console.log(
      `${form.id}: merit ${end.before.toFixed(1)} → ${end.merit.toFixed(2)} (${end.reason}), f ` +
        `${measured(project, 'effective_focal_length').toFixed(3)}, spots ${spots.join(' ')} µm, exceeded ` +
        `${exceeded?.map(({ title }) => title).join(', ') || (exceeded ? 'none' : 'unknown')}, ` +
        `${((performance.now() - began) / 1000).toFixed(1)} s`,
    );
    lines.push(tableLine(form, project, exceeded?.length ?? null));
    writeFileSync(
      join(FOLDER, `${form.id.replaceAll('_', '-')}.ulvex.json`),
      projectText({ ...project, requirements: requirements(project) }),
    );
  }
  if (only === undefined) writeFileSync(TABLE, `${TABLE_HEAD}${lines.join('\n')}\n`);
}

const TABLE = resolve(import.meta.dirname, '../../docs/start-forms.md');

const TABLE_HEAD = `# Start forms

Lenses to begin from, on the shelf and in \`samples/forms\`. Each was made from a rough guess
(\`trials/src/rough-forms.ts\`) by Ulvex's own polish with its usual making-limits on, aperture and field opened in four
steps: \`npm run trials -- forms\` makes all of them and this table anew. RMS spots are about the centroid, all colours by
weight, full pupil, aimed at the stop; the requirement in each file is what its test holds it to.

| form | f, mm | F-number | field | RMS spot by field, µm | must keep, µm | making-limits |
|---|---|---|---|---|---|---|
`;

function tableLine(form: RoughForm, project: Project, exceeded: number | null): string {
  const [lens] = project.lenses;
  const { kind, points } = lens.fields;
  const edge = points.at(-1)!.y;
  const field = kind === 'angle' ? `±${edge}°` : `±${edge} mm`;
  const spots = points.map(({ id }) => measured(project, 'rms_spot_radius', { field: id }).toFixed(1)).join(' · ');
  const number = measured(project, 'working_f_number');
  const keep = requirements(project).at(-1)!.max;
  return (
    `| ${form.name} | ${measured(project, 'effective_focal_length').toFixed(1)} | ${number.toFixed(1)} | ` +
    `${field} | ${spots} | ${keep} | ${exceeded === 0 ? 'held' : 'not held'} |`
  );
}
