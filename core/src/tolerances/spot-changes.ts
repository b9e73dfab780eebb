import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { FieldPoint } from '../project/model.ts';
import { BundleGradients, seedOf } from '../sequence/bundle-gradients.ts';
import { pupilPoints } from '../sequence/pupil-sampling.ts';
import { VariableList, type LinearChange } from './linear-changes.ts';

/** Rings of the sampling, of twice as many arms, in each colour. */
export const SPOT_RINGS = 4;

/** One field of the image: where rays arrive about their centroid, and how that changes with each departure and with focus, √weight times mm. */
export interface SpotChanges {
  readonly field: FieldPoint;
  readonly rows: Float64Array;
  /** Per unit of each departure. */
  readonly changes: readonly Float64Array[];
  /** Per mm of the last distance. */
  readonly focus: Float64Array;
}

/**
 * Spots of the weighted fields and their derivatives by departures, rays staying aimed at their points of the full pupil.
 *
 * Fails where a ray does not arrive, or rays are not differentiated.
 *
 * @param departures - what each departure changes of the lens
 */
export function spotChanges(
  lens: LensEvaluation,
  departures: readonly (readonly LinearChange[])[],
): Outcome<readonly SpotChanges[]> {
  const { model } = lens;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const variables = new VariableList();
  const focus = variables.numberOf({ kind: 'thickness', surface: model.surfaces.length - 2 });
  const parts = departures.map((changes) =>
    changes.map(({ variable, by }) => ({ at: variables.numberOf(variable), by })),
  );
  const gradients = BundleGradients.of(aimer.value, variables.all);
  if (!gradients.ok) return gradients;
  const { px, py, weight } = pupilPoints(
    { kind: 'polar', rings: SPOT_RINGS, arms: 2 * SPOT_RINGS },
    model.lens.pupil.obscuration,
  );
  const waves = [...model.wavelengths.keys()].filter((wave) => model.wavelengths[wave].weight > 0);
  const all = waves.reduce((sum, wave) => sum + model.wavelengths[wave].weight, 0);
  const count = px.length;
  const seeds = [seedOf(count), seedOf(count)];
  seeds[0].x.fill(1);
  seeds[1].y.fill(1);
  const share = Float64Array.from(
    { length: count * waves.length },
    (_, i) => (weight[i % count] * model.wavelengths[waves[Math.floor(i / count)]].weight) / all,
  );
  const found: SpotChanges[] = [];
  for (const field of model.lens.fields.points.filter((point) => point.weight > 0)) {
    const columns = Array.from({ length: departures.length + 2 }, () => axesOf(share.length));
    for (const [k, wave] of waves.entries()) {
      const bundle = gradients.value.trace(field, wave, px, py);
      if (!bundle.whole)
        return failure(
          `A ray of the field ${field.id} does not arrive: the effect of manufacturing errors is not known.`,
        );
      const backs = bundle.back(seeds);
      [bundle.rays.x, bundle.rays.y].forEach((values, axis) => columns[0][axis].set(values, k * count));
      backs.forEach((by, axis) => {
        addPart(columns[1][axis], k * count, by, focus * count, count, 1);
        parts.forEach((terms, i) => {
          for (const term of terms) addPart(columns[i + 2][axis], k * count, by, term.at * count, count, term.by[wave]);
        });
      });
    }
    const [rows, byFocus, ...changes] = columns.map((axes) => aboutCentroid(axes, share));
    found.push({ field, rows, changes, focus: byFocus });
  }
  return found.length > 0 ? success(found) : failure('No field point has a weight.');
}

const axesOf = (length: number) => [new Float64Array(length), new Float64Array(length)];

/** Adds a stretch of derivatives, times a factor, to a column. */
function addPart(to: Float64Array, at: number, from: Float64Array, start: number, count: number, factor: number): void {
  for (let i = 0; i < count; i++) to[at + i] += factor * from[start + i];
}

/** Both axes in one column, less their weighted means, times the roots of the weights. */
function aboutCentroid(axes: readonly Float64Array[], share: Float64Array): Float64Array {
  const rows = new Float64Array(axes.length * share.length);
  axes.forEach((values, axis) => {
    const mean = dot(values, share);
    for (let i = 0; i < share.length; i++) rows[axis * share.length + i] = Math.sqrt(share[i]) * (values[i] - mean);
  });
  return rows;
}

/** Σ aᵢbᵢ. */
export function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}
