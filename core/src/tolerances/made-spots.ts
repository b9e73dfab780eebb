import { FORM_BLOCK, formBlocks } from '../compute/quadratic-forms.ts';
import { evaluateLens, type LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { packedForm } from '../math/quadratic-response.ts';
import { RandomStream } from '../math/random.ts';
import { DepartureDraws, drawnTolerances, type DrawnTolerance } from './drawn.ts';
import { lensDepartures, withFigures } from './lens-departures.ts';
import { spotResponse, type FieldResponse } from './spot-response.ts';

/** Lenses by which a distribution is known: the same draws for every version of a design, so that differences are the design's. */
export const MADE_LENSES = 2048;
const SEED = 1;

/** Spots of a lens within the tolerances of its project. */
export interface MadeSpots {
  readonly tolerances: readonly DrawnTolerance[];
  readonly fields: readonly FieldResponse[];
  /** By field: its mean square spot in each of the lenses, mm². */
  readonly squares: readonly Float64Array[];
}

/**
 * Spots of lenses that are made within the tolerances of a project, by derivatives of rays at the design; focus is set as the project says.
 *
 * Fails without tolerances, and where rays are missing or not differentiated.
 */
export function madeSpots(lens: LensEvaluation): Outcome<MadeSpots> {
  const { tolerances = [], compensators = [] } = lens.project.tolerancing ?? {};
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) return drawn;
  if (drawn.value.length === 0) return failure('There are no tolerances: apply a grade in the Tolerance room.');
  const counted = drawn.value.map(({ tolerance }) => tolerance);
  const project = withFigures(lens.project, counted);
  if (!project.ok) return project;
  const carrying = project.value === lens.project ? success(lens) : evaluateLens(project.value, lens.model.lens.id);
  if (!carrying.ok) return carrying;
  const departures = lensDepartures(project.value, carrying.value.model, counted, compensators);
  if (!departures.ok) return departures;
  const { changes, rule, adjusting } = departures.value;
  const response = spotResponse(carrying.value, changes, rule, adjusting);
  if (!response.ok) return response;
  const { fields } = response.value;
  return success({ tolerances: drawn.value, fields, squares: drawSquares(fields, drawn.value) });
}

function drawSquares(fields: readonly FieldResponse[], drawn: readonly DrawnTolerance[]): Float64Array[] {
  const blocks = formBlocks(
    fields.map(({ square }) => packedForm(square)),
    drawn.length,
  );
  const squares = fields.map(() => new Float64Array(MADE_LENSES));
  const draws = new DepartureDraws(drawn);
  for (let from = 0; from < MADE_LENSES; from += FORM_BLOCK) {
    for (let b = 0; b < FORM_BLOCK; b++) {
      const stream = new RandomStream(SEED, from + b);
      draws.draw(stream, (i, by) => (blocks.x[i][b] = by));
    }
    blocks.evaluate();
    squares.forEach((row, k) => row.set(blocks.values[k], from));
  }
  return squares;
}

/** The largest mean square of any field, lens by lens, mm². */
export function worstSquares({ squares }: MadeSpots): Float64Array {
  return Float64Array.from(squares[0], (_, row) => Math.max(...squares.map((column) => column[row])));
}

/** The value below which a share of all lies, 0 to 1. */
export function quantileOf(values: Float64Array, share: number): number {
  const sorted = values.toSorted();
  const at = share * (sorted.length - 1);
  const below = Math.floor(at);
  return sorted[below] + (at - below) * (sorted[Math.min(sorted.length - 1, below + 1)] - sorted[below]);
}
