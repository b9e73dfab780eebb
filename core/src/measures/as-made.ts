import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { MADE_LENSES, madeSpots, quantileOf, worstSquares, type MadeSpots } from '../tolerances/made-spots.ts';
import { defineMeasure, type Measured } from './measure.ts';

/** Mean squares of the spots of one field, of all by their weights, or of the worst in each lens. */
function squaresOf(made: MadeSpots, field: string): Outcome<Float64Array> {
  const { fields, squares } = made;
  const all = fields.reduce((sum, one) => sum + one.field.weight, 0);
  if (field === 'worst') return success(worstSquares(made));
  if (field === 'all')
    return success(
      Float64Array.from(squares[0], (_, row) =>
        fields.reduce((sum, one, k) => sum + (one.field.weight / all) * squares[k][row], 0),
      ),
    );
  const at = fields.findIndex((one) => one.field.id === field);
  return at < 0 ? failure(`The field ${field} has no weight.`, field) : success(squares[at]);
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
    const found = madeSpots(lens);
    if (!found.ok) return found;
    const squares = squaresOf(found.value, field);
    if (!squares.ok) return squares;
    const value = 1000 * Math.sqrt(Math.max(0, quantileOf(squares.value, share / 100)));
    return success({ value, how: `${found.value.tolerances.length} tolerances, ${MADE_LENSES} lenses by derivatives` });
  },
});
