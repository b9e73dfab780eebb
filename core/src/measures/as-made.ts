import { FORM_BLOCK, formBlocks } from '../compute/quadratic-forms.ts';
import type { LensEvaluation } from '../imaging/evaluation/evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { packedForm } from '../math/quadratic-response.ts';
import { RandomStream } from '../math/random.ts';
import { drawnTolerances, type DrawnTolerance } from '../tolerances/drawn.ts';
import { lensDepartures } from '../tolerances/lens-departures.ts';
import { spotResponse, type SpotResponse } from '../tolerances/spot-response.ts';
import { defineMeasure, type Measured } from './measure.ts';

/** Trials by which the distribution is known: the same draws for every version of a design, so that differences are the design's. */
const TRIALS = 2048;
const SEED = 1;

/**
 * Spots of trials by the derivatives of rays at the design, mm, rising.
 *
 * Fails without tolerances, and where rays are missing or not differentiated.
 *
 * @param field - id of a field, `worst` or `all`
 */
function madeSpots(
  lens: LensEvaluation,
  field: string,
): Outcome<{ readonly spots: Float64Array; readonly count: number }> {
  const { tolerances = [], compensators = [] } = lens.project.tolerancing ?? {};
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) return drawn;
  if (drawn.value.length === 0) return failure('There are no tolerances: apply a grade in the Tolerance room.');
  const departures = lensDepartures(
    lens.project,
    lens.model,
    drawn.value.map(({ tolerance }) => tolerance),
    compensators,
  );
  if (!departures.ok) return departures;
  const response = spotResponse(lens, departures.value.changes, departures.value.rule);
  if (!response.ok) return response;
  if (field !== 'all' && field !== 'worst' && !response.value.fields.some((one) => one.field.id === field))
    return failure(`The field ${field} has no weight.`, field);
  return success({ spots: spotsOf(response.value, drawn.value, field), count: drawn.value.length });
}

function spotsOf({ fields }: SpotResponse, drawn: readonly DrawnTolerance[], field: string): Float64Array {
  const counted = fields.filter((one) => field === 'all' || field === 'worst' || one.field.id === field);
  const blocks = formBlocks(
    counted.map(({ square }) => packedForm(square)),
    drawn.length,
  );
  const all = counted.reduce((sum, one) => sum + one.field.weight, 0);
  const spots = new Float64Array(TRIALS);
  for (let from = 0; from < TRIALS; from += FORM_BLOCK) {
    for (let b = 0; b < FORM_BLOCK; b++) {
      const stream = new RandomStream(SEED, from + b);
      for (let i = 0; i < drawn.length; i++) blocks.x[i][b] = drawn[i].distribution.quantile(stream.uniform());
    }
    blocks.evaluate();
    for (let b = 0; b < FORM_BLOCK; b++) {
      let [largest, mean] = [0, 0];
      counted.forEach((one, k) => {
        largest = Math.max(largest, blocks.values[k][b]);
        mean += (one.field.weight / all) * blocks.values[k][b];
      });
      spots[from + b] = Math.sqrt(Math.max(0, field === 'all' ? mean : largest));
    }
  }
  return spots.sort();
}

export const asMadeSpot = defineMeasure({
  id: 'as_made_spot',
  title: 'As-made spot',
  unit: 'µm',
  slow: true,
  meaning:
    'The RMS spot radius that a share of lenses made within the tolerances of the project keeps, focus set as the project says: 90 % of them ' +
    'have a smaller one. By first derivatives of rays at the design, products of tolerances included: spot² = |r + Σ x ∂r/∂x|², over 2,048 lenses ' +
    'drawn from the distributions. As a goal it makes a lens insensitive to what it will be made with.',
  settings: {
    field: { kind: 'field', title: 'Field', also: ['all', 'worst'], fallback: 'worst' },
    share: { kind: 'integer', title: 'Share of lenses, %', min: 1, max: 99, fallback: 90 },
  },
  evaluate(lens, { field, share }): Outcome<Measured> {
    if (isAfocal(lens.model.lens))
      return failure('The image lies at infinity: the spots of made lenses are not computed yet.');
    const found = madeSpots(lens, field);
    if (!found.ok) return found;
    const { spots, count } = found.value;
    const at = (share / 100) * (spots.length - 1);
    const below = Math.floor(at);
    const value = 1000 * (spots[below] + (at - below) * (spots[Math.min(spots.length - 1, below + 1)] - spots[below]));
    return success({ value, how: `${count} tolerances, ${TRIALS} lenses by derivatives` });
  },
});
