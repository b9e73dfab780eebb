import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { failure, success } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import { MADE_LENSES, madeSpots, quantileOf, worstSquares, type MadeSpots } from '../tolerances/made-spots.ts';
import { toleranceTitle } from '../tolerances/titles.ts';
import { defineAnalysis } from './analysis.ts';
import type { BarPanel, Curve, CurvePanel, Tint } from './panels.ts';

/** Points of a curve of shares. */
const POINTS = 100;
const MICROMETRES = 1000;

const spotOf = (square: number) => MICROMETRES * Math.sqrt(Math.max(0, square));

/** Shares of lenses below a spot, in equal steps of the share. */
function shareCurve(squares: Float64Array): Pick<Curve, 'x' | 'y'> {
  const sorted = squares.toSorted();
  const at = Array.from({ length: POINTS + 1 }, (_, k) => Math.round((k / POINTS) * (sorted.length - 1)));
  return { x: at.map((row) => spotOf(sorted[row])), y: at.map((row) => (row + 0.5) / sorted.length) };
}

/** Departures, in equal steps of their share, by which a standard deviation is known. */
const STEPS = 64;

/** Standard deviation that each tolerance alone gives the spot of each field, µm. */
function deviations({ tolerances, fields }: MadeSpots): number[][] {
  return tolerances.map(({ distribution }, t) => {
    const at = Array.from({ length: STEPS }, (_, k) => distribution.quantile((k + 0.5) / STEPS));
    return fields.map(({ square: { value, slopes, curvatures } }) => {
      const spots = at.map((x) => spotOf(value + slopes[t] * x + curvatures[t][t] * x * x));
      const mean = spots.reduce((sum, spot) => sum + spot, 0) / STEPS;
      return Math.sqrt(spots.reduce((sum, spot) => sum + (spot - mean) ** 2, 0) / STEPS);
    });
  });
}

function contributions(project: Project, made: MadeSpots, tint: (field: string) => Tint, most: number): BarPanel {
  const rows = deviations(made).map((row, t) => ({ row, t, all: Math.hypot(...row) }));
  const listed = rows.sort((a, b) => b.all - a.all).slice(0, most);
  return {
    kind: 'bars',
    title: 'σ by each tolerance alone',
    value: { title: 'σ of the spot', unit: 'µm' },
    names: listed.map(({ t }) => toleranceTitle(project, made.tolerances[t].tolerance)),
    series: made.fields.map(({ field }, k) => ({
      name: field.id,
      tint: tint(field.id),
      values: listed.map(({ row }) => row[k]),
    })),
  };
}

export const madeSpotCharts = defineAnalysis({
  id: 'made_spots',
  title: 'Spots as made',
  topic: 'image',
  question: 'How sharp will it be when it is made?',
  meaning:
    'The share of lenses whose RMS spot is smaller than a value, by field and for the worst field, made within the ' +
    'tolerances of the project and focused as it says; and the standard deviation that each tolerance alone gives the ' +
    'spots. By first derivatives of rays at the design, products of tolerances included: the Tolerance room compares ' +
    'them with traced trials.',
  wide: true,
  settings: { rows: { kind: 'integer', title: 'Tolerances listed', min: 1, max: 100, fallback: 8 } },
  exact: true,
  // eslint-disable-next-line require-yield -- about 50 ms
  *evaluate(lens, { rows }) {
    if (isAfocal(lens.model.lens))
      return failure('The image lies at infinity: the spots of made lenses are not computed yet.');
    const found = madeSpots(lens);
    if (!found.ok) return found;
    const made = found.value;
    const worst = worstSquares(made);
    const { points } = lens.model.lens.fields;
    const tint = (field: string): Tint => ({ field: points.findIndex(({ id }) => id === field) });
    const shares: CurvePanel = {
      kind: 'curves',
      title: 'share of lenses',
      x: { title: 'RMS spot', unit: 'µm' },
      y: { title: 'share below', unit: '', range: [0, 1] },
      curves: [
        ...made.fields.map(({ field }, k) => ({
          name: field.id,
          tint: tint(field.id),
          ...shareCurve(made.squares[k]),
        })),
        { name: 'worst field', tint: 'ink', stroke: 'dashed', ...shareCurve(worst) },
      ],
      figures: [
        {
          name: 'design, worst',
          value: spotOf(Math.max(...made.fields.map(({ square }) => square.value))),
          unit: 'µm',
        },
        ...[0.5, 0.9, 0.98].map((share) => ({
          name: `${100 * share} % below`,
          value: spotOf(quantileOf(worst, share)),
          unit: 'µm',
        })),
      ],
    };
    return success({
      panels: [shares, contributions(lens.project, made, tint, rows)],
      columns: 2,
      about: [`${made.tolerances.length} tolerances`, `${MADE_LENSES} lenses by derivatives at the design`],
    });
  },
});
