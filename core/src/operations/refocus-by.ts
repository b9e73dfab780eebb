import type { CurvePanel } from '../analyses/panels.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { tooFewRays } from '../imaging/evaluation/lost-rays.ts';
import { REFOCUS_CHOICE } from '../imaging/point/refocus.ts';
import { minimumNear } from '../math/minimum.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import type { FieldPoint, Lens, Project } from '../project/model.ts';
import { findParameter, setParameter, type Parameter } from '../project/parameters.ts';
import { redirected } from '../project/states.ts';
import { defineOperation, type OwnChoice } from './operation.ts';
import {
  bestPlace,
  CRITERIA,
  CRITERION_UNITS,
  criterionValue,
  missOf,
  type Criterion,
  type CriterionChoice,
} from './refocus-criteria.ts';
import { OPERATION_TITLES } from './titles.ts';

/** Places to each side of the best one at which the curve is drawn. */
const SIDES = 12;

/** A modulation below which the best place is worth a word. */
const POOR = 0.2;

const NO_FOCUS = 'the light has no focus after the lens. Nothing is moved.';

export const refocusBy = defineOperation({
  id: 'refocus_by',
  title: OPERATION_TITLES.refocus_by,
  meaning:
    'Turns one number of the chosen surface, or the object distance, to where the criterion is best over ' +
    'all weighted fields and colours, and shows what each field by itself would have wanted. MTF is the ' +
    'mean of tangential and sagittal, full pupil.',
  on: 'surface',
  image: true,
  settings: {
    number: {
      kind: 'choice',
      title: 'Turn',
      options: ['distance after it', 'radius', 'object distance'],
      fallback: 'distance after it',
    },
    criterion: { kind: 'choice', title: 'Criterion', options: CRITERIA, fallback: 'RMS spot' },
    about: {
      kind: 'choice',
      title: 'About',
      options: ['centroid', 'chief'],
      fallback: 'centroid',
      when: { setting: 'criterion', is: ['RMS spot', 'RMS spot in x', 'RMS spot in y'] },
    },
    states: { kind: 'choice', title: 'Over', options: ['this state', 'every state'], fallback: 'this state' },
    fields: { kind: 'fields', title: 'Fields', fallback: 'all' },
    at: { kind: 'surface', title: 'Sharp on', also: ['image'], fallback: 'image' },
    frequency: {
      kind: 'number',
      title: 'Cycles',
      unit: '/mm',
      min: 0.1,
      max: 1e5,
      fallback: 50,
      when: { setting: 'criterion', is: ['MTF'] },
    },
  },
  run(
    { project: given, base: design, state, lens, first },
    { number, criterion, about, frequency, states, at, fields: asked },
  ) {
    const choice = { criterion, about, frequency } as CriterionChoice; // both are choices from these lists
    const found = turnable(given, design, lens, first, number);
    if (!found.ok) return found;
    const { base, rounded, parameter, seen } = found.value;
    const { spec, value: start } = parameter;
    const chosen = chosenFields(lens, asked);
    if (!chosen.ok) return chosen;
    const target = lens.surfaces.findIndex(({ id }) => id === (at === 'image' ? lens.surfaces.at(-1)!.id : at));
    if (target < 0) return failure(`There is no surface “${at}”.`);
    if (lens.surfaces.findIndex(({ id }) => id === lens.stop) > target)
      return failure(`The stop lies after ${surfaceTitle(lens, target)}: choose a surface after the stop.`);
    const seenIn =
      states === 'every state' ? ['designed', ...(base.states ?? []).map(({ id }) => id)] : [state ?? 'designed'];
    const judge = new Judge(
      trier(base, state, seenIn, lens.id, target, (x) => setParameter(parameter, seen(x))),
      chosen.value,
      choice,
      seenIn.length,
    );
    const few = judge.tooFew(seen(start));
    if (few) return failure(few);
    const step = 1e-4 * Math.max(Math.abs(seen(start)), spec.transform === 'reciprocal' ? 1e-3 : 1);
    const before = judge.together(seen(start));
    const best = bestPlace((x, own) => judge.together(x, own), choice, seen(start), step);
    if (!best || Number.isNaN(before))
      return failure(
        `${criterion} has no best value near ${sixDigits(start)} ${spec.unit}: rays are missing, or it falls without end.`,
      );
    const edit = setParameter(parameter, seen(best.x));
    if (!edit.ok) return edit;
    const value = seen(best.x);
    if (number === 'distance after it' && first === lens.surfaces.length - 2 && start > 0 && value <= 0)
      return failure(
        `${criterion} would be best ${sixDigits(-value)} mm before ${surfaceTitle(lens, first)}: ${NO_FOCUS}`,
      );
    const wants = wantsOf(base, seenIn, chosen.value);
    const own = wants.map(({ index }) => judge.ownBest(index, best.x, step));
    return success({
      edits: [...rounded, edit.value],
      label: `Refocus by ${criterion}`,
      notes: [
        `${number} ${sixDigits(start)} → ${sixDigits(value)} ${spec.unit}`,
        ...outcomeNotes(choice, before, best.value),
      ],
      choices: {
        title: 'by itself',
        of: wants.flatMap(({ name }, k) => ownChoice(found.value, name, own[k], criterion)),
      },
      panels: [
        curveAbout(
          best.x,
          own.flatMap((one) => (one ? [one.x] : [])),
          step,
          judge,
          { seen, wants, number, unit: spec.unit, criterion: choice.criterion, start: seen(start) },
        ),
      ],
    });
  },
});

/** What the criterion was and is, and a word if even the best is poor. */
function outcomeNotes({ criterion, frequency }: CriterionChoice, before: number, best: number): string[] {
  const shown = (miss: number) => `${sixDigits(criterionValue(criterion, miss))} ${CRITERION_UNITS[criterion]}`.trim();
  const notes = [`${criterion} over the fields ${shown(before)} → ${shown(best)}`];
  if (criterion === 'MTF' && 1 - best < POOR)
    notes.push(
      `! even the best is poor: choose a lower frequency than ${sixDigits(frequency)}/mm, or improve the lens first`,
    );
  return notes;
}

/** The number that is turned. */
interface Turnable {
  readonly base: Project;
  /** What makes a plane a flat sphere, so that it has a radius. */
  readonly rounded: readonly Edit[];
  readonly parameter: Parameter;
  /** From the number to what is searched over, and back: 1/radius in place of a radius. */
  readonly seen: (value: number) => number;
}

function turnable(given: Project, design: Project, lens: Lens, first: number, number: string): Outcome<Turnable> {
  const surface = lens.surfaces[first];
  const path = `lenses.${lens.id}.surfaces.${surface.id}`;
  // A plane has no radius of its own; as a sphere that is flat it has one.
  const rounded: Edit[] =
    number === 'radius' && surface.shape.kind === 'plane'
      ? [{ kind: 'set', path: `${path}.shape`, value: { kind: 'sphere', radius: 'infinity' } }]
      : [];
  const [project, base] = [given, design].map((one) => applyEdits(one, rounded).project);
  const address =
    number === 'object distance'
      ? `lenses.${lens.id}.object.distance`
      : `${path}.${number === 'radius' ? 'radius' : 'thickness'}`;
  const parameter = findParameter(project, address);
  if (!parameter.ok) return failure(`${surfaceTitle(lens, first)} has no ${number}: choose another.`);
  if (number !== 'radius' && !Number.isFinite(parameter.value.value))
    return failure(`The ${number} is infinite: give it a value first.`);
  const turned = parameter.value.spec.transform === 'reciprocal';
  return success({ base, rounded, parameter: parameter.value, seen: (value) => (turned ? 1 / value : value) });
}

/** Each field in each state that counts, by the index of its miss. */
function wantsOf(base: Project, seenIn: readonly string[], fields: readonly FieldPoint[]): CurveWords['wants'] {
  const stateName = (id: string) => base.states?.find((one) => one.id === id)?.name ?? 'as designed';
  return seenIn.flatMap((id, s) =>
    fields.map((field, k) => ({
      name: seenIn.length > 1 ? `${field.id}, ${stateName(id)}` : field.id,
      field: k,
      index: s * fields.length + k,
    })),
  );
}

/** What one field would have wanted, to be chosen instead; none if it has no best place. */
function ownChoice(
  { parameter, rounded, seen }: Turnable,
  name: string,
  at: { readonly x: number } | null,
  criterion: string,
): OwnChoice[] {
  const wish = at && setParameter(parameter, seen(at.x));
  if (!at || !wish?.ok) return [];
  return [
    {
      name,
      words: `wants ${sixDigits(seen(at.x))} ${parameter.spec.unit}`,
      label: `Refocus by ${criterion} of ${name}`,
      edits: [...rounded, wish.value],
    },
  ];
}

/** How far lenses miss the criterion with the number at a place, by field within state. */
class Judge {
  readonly lenses: (x: number) => readonly LensEvaluation[] | null;
  readonly #fields: readonly FieldPoint[];
  readonly #choice: CriterionChoice;
  readonly #weights: number;

  constructor(
    lenses: (x: number) => readonly LensEvaluation[] | null,
    fields: readonly FieldPoint[],
    choice: CriterionChoice,
    states: number,
  ) {
    this.lenses = lenses;
    this.#fields = fields;
    this.#choice = choice;
    this.#weights = states * fields.reduce((sum, { weight }) => sum + weight, 0);
  }

  /** Why too few rays arrive to judge by; null if enough do. */
  tooFew(x: number): string | null {
    const reasons = this.lenses(x)?.map((one) => tooFewRays(one, REFOCUS_CHOICE)) ?? [];
    return reasons.find((reason) => reason !== null) ?? null;
  }

  misses(x: number, choice = this.#choice): number[] | null {
    return this.lenses(x)?.flatMap((one) => this.#fields.map((field) => missOf(one, field, choice))) ?? null;
  }

  /** All of them as one: their weighted mean (MTF) or root mean square; NaN if any is missing. */
  together(x: number, choice = this.#choice): number {
    return this.joined(this.misses(x, choice), choice);
  }

  joined(misses: readonly number[] | null, choice = this.#choice): number {
    if (!misses) return NaN;
    const power = choice.criterion === 'MTF' ? 1 : 2;
    const fields = this.#fields;
    const sum = misses.reduce((all, miss, k) => all + fields[k % fields.length].weight * miss ** power, 0);
    return (sum / this.#weights) ** (1 / power);
  }

  /** Where one field in one state is best, near a place. */
  ownBest(index: number, near: number, step: number): ReturnType<typeof minimumNear> {
    const { length } = this.#fields;
    const miss = (x: number) => {
      const lenses = this.lenses(x);
      return lenses ? missOf(lenses[Math.floor(index / length)], this.#fields[index % length], this.#choice) : NaN;
    };
    return minimumNear(miss, near, step, 1e-2);
  }
}

/** The fields that count: those that are named, or all with a weight. */
function chosenFields({ fields: { points } }: Lens, asked: string): Outcome<readonly FieldPoint[]> {
  if (asked === 'all' || asked.trim() === '') {
    const weighted = points.filter(({ weight }) => weight > 0);
    return weighted.length > 0 ? success(weighted) : failure('No field point has a weight.');
  }
  const ids = asked.trim().split(/\s+/);
  const unknown = ids.find((id) => !points.some((point) => point.id === id));
  if (unknown) return failure(`There is no field “${unknown}”; there are ${points.map(({ id }) => id).join(', ')}.`);
  // One that is chosen counts, whatever its weight is.
  return success(
    points
      .filter(({ id }) => ids.includes(id))
      .map((point) => ({ ...point, weight: point.weight > 0 ? point.weight : 1 })),
  );
}

/** The lens with the number tried, in each state that counts, or null where that is not legal; what was tried is kept. */
function trier(
  base: Project,
  state: string | null,
  seenIn: readonly string[],
  lens: string,
  target: number,
  edit: (x: number) => Outcome<Edit>,
) {
  const known = new Map<number, readonly LensEvaluation[] | null>();
  const evaluate = (x: number): readonly LensEvaluation[] | null => {
    const made = edit(x);
    if (!made.ok) return null;
    const project = upTo(applyEdits(base, redirected(base, state, [made.value])).project, lens, target);
    const evaluation = new Evaluation(project);
    const lenses = seenIn.map((id) => {
      const seen = evaluation.inState(id);
      const found = seen.ok ? seen.value.lens(lens) : seen;
      return found.ok ? found.value : null;
    });
    return lenses.includes(null) ? null : (lenses as LensEvaluation[]);
  };
  return (x: number): readonly LensEvaluation[] | null => {
    let found = known.get(x);
    if (found === undefined) known.set(x, (found = evaluate(x)));
    return found;
  };
}

/** The project with a lens that ends at one of its surfaces: what is looked at there is its image. */
function upTo(project: Project, id: string, target: number): Project {
  const cut = (lens: Lens): Lens => {
    if (lens.id !== id || target === lens.surfaces.length - 1) return lens;
    const { rays: _rays, ...rest } = lens;
    return { ...rest, surfaces: [...lens.surfaces.slice(0, target), { ...lens.surfaces[target], after: null }] };
  };
  return { ...project, lenses: project.lenses.map(cut) };
}

interface CurveWords {
  readonly seen: (x: number) => number;
  /** Fields, in each state that counts, by the index of their miss. */
  readonly wants: readonly { readonly name: string; readonly field: number; readonly index: number }[];
  readonly number: string;
  readonly unit: string;
  readonly criterion: Criterion;
  readonly start: number;
}

/** The criterion against the number, for all fields together and each by itself, wide enough for where each field is best. */
function curveAbout(
  best: number,
  own: readonly number[],
  step: number,
  judge: Judge,
  { seen, wants, number, unit, criterion, start }: CurveWords,
): CurvePanel {
  const reach = 1.6 * Math.max(4 * step, Math.abs(start - best), ...own.map((x) => Math.abs(x - best)));
  const xs = Array.from({ length: 2 * SIDES + 1 }, (_, k) => best + ((k - SIDES) / SIDES) * reach);
  const misses = xs.map((x) => judge.misses(x));
  const drawn = (miss: number) => criterionValue(criterion, miss);
  const x = xs.map(seen);
  return {
    kind: 'curves',
    title: criterion,
    x: { title: number, unit },
    y: { title: criterion, unit: CRITERION_UNITS[criterion] },
    curves: [
      { name: 'all fields', tint: 'ink', x, y: misses.map((at) => drawn(judge.joined(at))) },
      ...wants.map(({ name, field, index }) => ({
        name,
        tint: { field },
        stroke: 'dashed' as const,
        x,
        y: misses.map((at) => drawn(at?.[index] ?? NaN)),
      })),
    ],
  };
}

/** A number of six digits, as a note says it. */
const sixDigits = (value: number) => (Number.isFinite(value) ? Number(value.toPrecision(6)) : '∞');
