import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { fieldMtf, modulation } from '../imaging/point/mtf.ts';
import { REFOCUS_CHOICE } from '../imaging/point/refocus.ts';
import { fieldSpot, forEachArrival } from '../imaging/point/spot.ts';
import { wavefront, wavefrontNumbers } from '../imaging/wavefront/wavefront.ts';
import { minimumNear } from '../math/minimum.ts';
import type { FieldPoint } from '../project/model.ts';

export const CRITERIA = ['RMS spot', 'RMS spot in x', 'RMS spot in y', 'RMS wavefront', 'MTF'] as const;
export type Criterion = (typeof CRITERIA)[number];

/** What is to be least, and how it is measured. */
export interface CriterionChoice {
  readonly criterion: Criterion;
  readonly about: 'centroid' | 'chief';
  readonly frequency: number;
}

/** Unit of what a criterion is told in. */
export const CRITERION_UNITS: Readonly<Record<Criterion, 'µm' | 'λ' | ''>> = {
  'RMS spot': 'µm',
  'RMS spot in x': 'µm',
  'RMS spot in y': 'µm',
  'RMS wavefront': 'λ',
  MTF: '',
};

/** The value of a criterion as a reader knows it, of what misses: a modulation where it is one. */
export const criterionValue = (criterion: Criterion, miss: number): number => (criterion === 'MTF' ? 1 - miss : miss);

/**
 * What is to be least for one field, all colours by weight: an RMS in µm or waves, or what a modulation (mean of tangential and sagittal)
 * lacks to 1. NaN if it has none.
 */
export function missOf(lens: LensEvaluation, field: FieldPoint, choice: CriterionChoice): number {
  if (choice.criterion === 'MTF') {
    const found = fieldMtf(lens, field, {
      method: 'simple',
      frequencies: [choice.frequency],
      detail: 'draft',
    });
    return found.ok ? 1 - (modulation(found.value.tangential[0]) + modulation(found.value.sagittal[0])) / 2 : NaN;
  }
  return choice.criterion === 'RMS wavefront' ? wavefrontMiss(lens, field) : spotMiss(lens, field, choice);
}

function wavefrontMiss(lens: LensEvaluation, field: FieldPoint): number {
  let [sum, total] = [0, 0];
  for (const [wave, { weight }] of lens.model.wavelengths.entries()) {
    if (weight === 0) continue;
    const front = wavefront(lens.inFocus(), field, wave, REFOCUS_CHOICE);
    if (!front.ok) return NaN;
    sum += weight * wavefrontNumbers(front.value).rms ** 2;
    total += weight;
  }
  return Math.sqrt(sum / total);
}

function spotMiss(lens: LensEvaluation, field: FieldPoint, { criterion, about }: CriterionChoice): number {
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
}

/** Frequencies through which a search by MTF comes to its own: each twice the one before, so that the main lobe is never lost. */
const LADDER = 5;
/** Places to each side at which it is looked whether another lobe is higher, in widths of the one that was found. */
const LOBES = 10;
/** Part of the modulation that tells how wide a lobe is. */
const LOBE = 0.1;

/** A place and what misses there. */
export interface BestPlace {
  readonly x: number;
  readonly value: number;
}

/**
 * The best place of one number by a criterion. A wavefront and a modulation have side lobes far from the focus: the search starts from the
 * smallest spot, comes to a frequency through lower ones, and looks at last whether a neighbouring lobe is higher.
 * Null if nothing is best near the start.
 *
 * @param miss - at a place, by a choice; NaN if it has none
 */
export function bestPlace(
  miss: (x: number, choice: CriterionChoice) => number,
  choice: CriterionChoice,
  start: number,
  step: number,
): BestPlace | null {
  const by = (own: CriterionChoice, from: number, exact = 1e-3) => minimumNear((x) => miss(x, own), from, step, exact);
  if (choice.criterion.startsWith('RMS spot')) return by(choice, start);
  const spot = by({ ...choice, criterion: 'RMS spot', about: 'centroid' }, start);
  if (choice.criterion === 'RMS wavefront') return better(by(choice, spot?.x ?? start), by(choice, start));
  let at = spot?.x ?? start;
  for (let k = LADDER; k > 0; k--) at = by({ ...choice, frequency: choice.frequency / 2 ** k }, at, 1e-2)?.x ?? at;
  const main = better(by(choice, at), by(choice, start));
  if (!main) return null;
  let best = main;
  const width = lobeWidth((x) => miss(x, choice), main, step);
  for (let k = -LOBES; k <= LOBES; k++) {
    const x = main.x + (k * width) / 2;
    if (miss(x, choice) < best.value - 1e-6) best = better(best, by(choice, x)) ?? best;
  }
  return best;
}

function better(one: BestPlace | null, other: BestPlace | null): BestPlace | null {
  if (!one || !other) return one ?? other;
  return other.value < one.value ? other : one;
}

/** How far from a minimum the miss has risen by a part of a modulation. */
function lobeWidth(miss: (x: number) => number, { x, value }: BestPlace, step: number): number {
  const rise = Math.min(LOBE, (1 - value) / 2);
  let width = Math.abs(step);
  for (let k = 0; k < 24 && !(Math.max(miss(x + width), miss(x - width)) - value > rise); k++) width *= 1.5;
  return width;
}
