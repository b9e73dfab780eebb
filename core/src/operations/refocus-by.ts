import type { CurvePanel } from '../analyses/panels.ts';
import { Evaluation, type LensEvaluation } from '../imaging/evaluation.ts';
import { fieldMtf, modulation } from '../imaging/mtf.ts';
import { REFOCUS_CHOICE } from '../imaging/refocus.ts';
import { fieldSpot, forEachArrival } from '../imaging/spot.ts';
import { wavefront, wavefrontNumbers } from '../imaging/wavefront.ts';
import { minimumNear } from '../math/minimum.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import type { FieldPoint, Lens, Project } from '../project/model.ts';
import { findParameter, setParameter } from '../project/parameters.ts';
import { defineOperation } from './operation.ts';
import { OPERATION_TITLES } from './titles.ts';

const CRITERIA = ['RMS spot', 'RMS spot in x', 'RMS spot in y', 'RMS wavefront', 'MTF'] as const;
type Criterion = (typeof CRITERIA)[number];

interface Choice {
  readonly criterion: Criterion;
  readonly about: 'centroid' | 'chief';
  readonly frequency: number;
}

/** Places to each side of the best one at which the curve is drawn. */
const SIDES = 12;

/**
 * What is to be least for one field, all colours by weight: an RMS in µm or waves, or what a modulation (mean of tangential and sagittal)
 * lacks to 1. NaN where it has none.
 */
function missOf(lens: LensEvaluation, field: FieldPoint, { criterion, about, frequency }: Choice): number {
  const { model } = lens;
  if (criterion === 'MTF') {
    const found = fieldMtf(lens, field, { method: 'simple', frequencies: [frequency], detail: 'draft' });
    return found.ok ? 1 - (modulation(found.value.tangential[0]) + modulation(found.value.sagittal[0])) / 2 : NaN;
  }
  if (criterion === 'RMS wavefront') {
    let [sum, total] = [0, 0];
    for (const [wave, { weight }] of model.wavelengths.entries()) {
      if (weight === 0) continue;
      const front = wavefront(lens.inFocus(), field, wave, REFOCUS_CHOICE);
      if (!front.ok) return NaN;
      sum += weight * wavefrontNumbers(front.value).rms ** 2;
      total += weight;
    }
    return Math.sqrt(sum / total);
  }
  const spot = fieldSpot(lens, field, REFOCUS_CHOICE);
  if (!spot.ok) return NaN;
  const centre = about === 'chief' ? spot.value.chief : spot.value.centroid;
  if (!centre) return NaN;
  let [sum, total] = [0, 0];
  forEachArrival(spot.value.colours, ({ x, y }, i, weight) => {
    const dx = criterion === 'RMS spot in y' ? 0 : x[i] - centre[0];
    const dy = criterion === 'RMS spot in x' ? 0 : y[i] - centre[1];
    sum += weight * (dx * dx + dy * dy);
    total += weight;
  });
  return total > 0 ? 1000 * Math.sqrt(sum / total) : NaN;
} // prettier-ignore

export const refocusBy = defineOperation({
  id: 'refocus_by',
  title: OPERATION_TITLES.refocus_by,
  meaning:
    'Turns one number of the chosen surface, or the object distance, to where the criterion is best over all weighted fields and colours, and shows what each field by itself would have wanted. MTF is the mean of tangential and sagittal, full pupil.',
  on: 'surface',
  settings: {
    number: { kind: 'choice', title: 'Turn', options: ['distance behind it', 'radius', 'object distance'], fallback: 'distance behind it' },
    criterion: { kind: 'choice', title: 'Criterion', options: CRITERIA, fallback: 'RMS spot' },
    about: { kind: 'choice', title: 'About', options: ['centroid', 'chief'], fallback: 'centroid', when: { setting: 'criterion', is: ['RMS spot', 'RMS spot in x', 'RMS spot in y'] } },
    frequency: { kind: 'number', title: 'Cycles', unit: '/mm', min: 0.1, max: 1e5, fallback: 50, when: { setting: 'criterion', is: ['MTF'] } },
  },
  run({ project, lens, first }, { number, criterion, about, frequency }) {
    const choice: Choice = { criterion: criterion as Criterion, about: about as Choice['about'], frequency };
    const surface = lens.surfaces[first];
    const address = number === 'object distance' ? `lenses.${lens.id}.object.distance` : `lenses.${lens.id}.surfaces.${surface.id}.${number === 'radius' ? 'radius' : 'thickness'}`;
    const parameter = findParameter(project, address);
    if (!parameter.ok) return failure(`${surfaceTitle(lens, first)} has no ${number}: choose another.`);
    const { spec, value: start } = parameter.value;
    if (!Number.isFinite(start)) return failure(`The ${number} is infinite: give it a value first.`);
    const fields = lens.fields.points.filter(({ weight }) => weight > 0);
    if (fields.length === 0) return failure('No field point has a weight.');
    const turned = spec.transform === 'reciprocal';
    const seen = (value: number) => (turned ? 1 / value : value);
    const tried = trier(project, lens, (x) => setParameter(parameter.value, seen(x)));
    const missesAt = (x: number): number[] | null => {
      const at = tried(x);
      return at && fields.map((field) => missOf(at, field, choice));
    };
    const weights = fields.reduce((sum, { weight }) => sum + weight, 0);
    const together = (misses: readonly number[] | null) => {
      if (!misses) return NaN;
      const square = criterion === 'MTF' ? 1 : 2;
      return (misses.reduce((sum, miss, k) => sum + fields[k].weight * miss ** square, 0) / weights) ** (1 / square);
    };
    const step = 1e-4 * Math.max(Math.abs(seen(start)), turned ? 1e-3 : 1);
    const before = together(missesAt(seen(start)));
    const best = minimumNear((x) => together(missesAt(x)), seen(start), step, 1e-3);
    if (!best || Number.isNaN(before)) return failure(`${criterion} has no best value near ${told(start)} ${spec.unit}: rays are missing, or it falls without end.`);
    const own = fields.map((field) => minimumNear((x) => { const at = tried(x); return at ? missOf(at, field, choice) : NaN; }, best.x, step, 1e-2));
    const edit = setParameter(parameter.value, seen(best.x));
    if (!edit.ok) return edit;
    const value = seen(best.x);
    const unit = criterion === 'MTF' ? '' : criterion === 'RMS wavefront' ? ' λ' : ' µm';
    const shown = (miss: number) => `${told(criterion === 'MTF' ? 1 - miss : miss)}${unit}`;
    return success({
      edits: [edit.value],
      label: `Refocus by ${criterion}`,
      notes: [
        `${number} ${told(start)} → ${told(value)} ${spec.unit}`,
        `${criterion} over the fields ${shown(before)} → ${shown(best.value)}`,
        `by itself ${fields.map(({ id }, k) => `${id} wants ${own[k] ? told(seen(own[k].x)) : '–'}`).join(', ')} ${spec.unit}`,
      ],
      panels: [curveAbout(best.x, own.flatMap((one) => (one ? [one.x] : [])), step, missesAt, together, { seen, fields, number, unit: spec.unit, criterion, start: seen(start) })],
    });
  },
}); // prettier-ignore

/** The lens with the number tried, or null where that is not legal; what was tried last is kept. */
function trier(project: Project, lens: Lens, edit: (x: number) => Outcome<Edit>) {
  const known = new Map<number, LensEvaluation | null>();
  return (x: number): LensEvaluation | null => {
    let found = known.get(x);
    if (found === undefined) {
      const made = edit(x);
      const evaluated = made.ok ? new Evaluation(applyEdits(project, [made.value]).project).lens(lens.id) : null;
      known.set(x, (found = evaluated?.ok ? evaluated.value : null));
    }
    return found;
  };
} // prettier-ignore

interface CurveWords {
  readonly seen: (x: number) => number;
  readonly fields: readonly FieldPoint[];
  readonly number: string;
  readonly unit: string;
  readonly criterion: Criterion | string;
  readonly start: number;
}

/** The criterion against the number, for all fields together and each by itself, wide enough for where each field is best. */
function curveAbout(best: number, own: readonly number[], step: number, missesAt: (x: number) => number[] | null, together: (misses: readonly number[] | null) => number, { seen, fields, number, unit, criterion, start }: CurveWords): CurvePanel {
  const reach = 1.6 * Math.max(4 * step, Math.abs(start - best), ...own.map((x) => Math.abs(x - best)));
  const xs = Array.from({ length: 2 * SIDES + 1 }, (_, k) => best + ((k - SIDES) / SIDES) * reach);
  const misses = xs.map(missesAt);
  const told = (miss: number) => (criterion === 'MTF' ? 1 - miss : miss);
  const x = xs.map(seen);
  return {
    kind: 'curves',
    title: criterion,
    x: { title: number, unit },
    y: { title: criterion, unit: criterion === 'MTF' ? '' : criterion === 'RMS wavefront' ? 'λ' : 'µm' },
    curves: [
      { name: 'all fields', tint: 'ink', x, y: misses.map((at) => told(together(at))) },
      ...fields.map(({ id }, k) => ({ name: id, tint: { field: k }, stroke: 'dashed' as const, x, y: misses.map((at) => told(at?.[k] ?? NaN)) })),
    ],
  };
} // prettier-ignore

const told = (value: number) => Number(value.toPrecision(6));
