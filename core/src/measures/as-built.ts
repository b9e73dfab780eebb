import type { LensEvaluation } from '../imaging/evaluation/evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { isGas } from '../materials/material.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { WORKSHOP_NAMES, type WorkshopName } from '../project/improve.ts';
import type { FieldPoint } from '../project/model.ts';
import { BundleGradients, seedOf } from '../sequence/bundle-gradients.ts';
import type { LensModel } from '../sequence/lens-model.ts';
import { pupilPoints } from '../sequence/pupil-sampling.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';
import { defineMeasure, type Measured } from './measure.ts';

/** Limits of what a workshop keeps to: each number lies evenly between them. */
export interface WorkshopGrade {
  /** Radii, ± %. */
  readonly radius: number;
  /** Thicknesses and gaps, ± mm. */
  readonly thickness: number;
  /** Refractive indices, ±. */
  readonly index: number;
  /** Tilt of each surface in each direction, ± minutes of arc. */
  readonly wedge: number;
  /** Shift of each element in each direction, ± mm. */
  readonly decentre: number;
}

export const WORKSHOP_GRADES = {
  precise: { radius: 0.05, thickness: 0.02, index: 0.0003, wedge: 0.5, decentre: 0.01 },
  usual: { radius: 0.1, thickness: 0.05, index: 0.0005, wedge: 1, decentre: 0.03 },
  coarse: { radius: 0.2, thickness: 0.1, index: 0.001, wedge: 3, decentre: 0.1 },
} as const satisfies Record<WorkshopName, WorkshopGrade>;

/** Something that is not made exactly: what moves together, and its standard deviation in the units of solvers. */
export interface Inexact {
  readonly variables: readonly SolverVariable[];
  readonly deviation: number;
}

/**
 * All that is not made exactly of a lens: radii, thicknesses, indices, tilts of surfaces and shifts of elements; the
 * distance to the image is set.
 */
export function inexactNumbers(model: LensModel, grade: WorkshopGrade): Inexact[] {
  const { surfaces } = model;
  const last = surfaces.length - 1;
  // Even between limits ±t: the standard deviation is t/√3.
  const even = (limit: number) => limit / Math.sqrt(3);
  const found: Inexact[] = [];
  const solid = (medium: number) => {
    const material = model.media[medium];
    return material !== undefined && !isGas(material);
  };
  for (let j = 0; j < last; j++) {
    const { shape, reflects, gap } = surfaces[j];
    const works = reflects || solid(j) !== solid(j + 1) || model.media[j] !== model.media[j + 1];
    if (works && shape.curvature !== 0)
      found.push({
        variables: [{ kind: 'shape', id: 'radius', surface: j }],
        deviation: even((Math.abs(shape.form?.c ?? shape.curvature) * grade.radius) / 100),
      });
    if (works)
      for (const id of ['tx', 'ty'] as const)
        found.push({
          variables: [{ kind: 'place', part: 'frame', id, surface: j }],
          deviation: even(grade.wedge / 60),
        });
    if (j < last - 1 && gap !== 0)
      found.push({ variables: [{ kind: 'thickness', surface: j }], deviation: even(grade.thickness) });
    if (solid(j + 1) && !reflects)
      found.push({ variables: [{ kind: 'index', surface: j }], deviation: even(grade.index) });
  }
  for (let front = 0; front < last; front++) {
    if (!solid(front + 1) || solid(front)) continue;
    let back = front + 1;
    while (back < last && solid(back + 1)) back++;
    const group = Array.from({ length: back - front + 1 }, (_, k) => front + k);
    for (const id of ['dx', 'dy'] as const)
      found.push({
        variables: group.map((surface) => ({ kind: 'place', part: 'frame', id, surface })),
        deviation: even(grade.decentre),
      });
  }
  return found;
}

const RINGS = 4;

/** One field of the image: where rays arrive about their centroid, and how that changes with each number and with focus, √weight times mm. */
interface FieldRows {
  readonly field: FieldPoint;
  readonly rows: Float64Array;
  readonly changes: readonly Float64Array[];
  readonly focus: Float64Array;
}

/**
 * What is to be expected of one field, mm: its rows as drawn with focus set, √weight times what rays miss, and the
 * deviation that each error brings.
 */
export interface ExpectedField {
  readonly field: FieldPoint;
  readonly rows: Float64Array;
  readonly deviations: Float64Array;
}

/**
 * The spots that are to be expected after manufacture: E|R − F·a|² over independent errors ε with the image distance set by a for the least sum over
 * the weighted fields. With R = r + Σ ε d linear in the errors it is |P r|² + Σ σ² |P d|², where P takes away what focus can (J. Meiron, J. Opt. Soc.
 * Am. 55, 1105 (1965), with a compensator); `rows` are P r, `deviations` σ |P d|.
 */
export function expectedFields(lens: LensEvaluation, inexact: readonly Inexact[]): Outcome<readonly ExpectedField[]> {
  const fields = fieldRows(lens, inexact);
  if (!fields.ok) return fields;
  const over = (pick: (rows: FieldRows) => number) =>
    fields.value.reduce((sum, one) => sum + one.field.weight * pick(one), 0);
  const own = over(({ focus }) => product(focus, focus));
  const share = (pick: (rows: FieldRows) => Float64Array) =>
    own > 0 ? over((one) => product(one.focus, pick(one))) / own : 0;
  const nominal = share(({ rows }) => rows);
  const shares = inexact.map((_, k) => share(({ changes }) => changes[k]));
  return success(
    fields.value.map(({ field, rows, changes, focus }) => {
      const left = (values: Float64Array, by: number) => values.map((value, i) => value - by * focus[i]);
      const deviations = Float64Array.from(inexact, ({ deviation }, k) => {
        const one = left(changes[k], shares[k]);
        return deviation * Math.sqrt(product(one, one));
      });
      return { field, rows: left(rows, nominal), deviations };
    }),
  );
}

/** The mean square spot of a field that is to be expected, mm². */
export function expectedSquare({ rows, deviations }: ExpectedField): number {
  return product(rows, rows) + product(deviations, deviations);
}

function fieldRows(lens: LensEvaluation, inexact: readonly Inexact[]): Outcome<readonly FieldRows[]> {
  const { model } = lens;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const focus: SolverVariable = { kind: 'thickness', surface: model.surfaces.length - 2 };
  const variables = [...inexact.flatMap((one) => one.variables), focus];
  const gradients = BundleGradients.of(aimer.value, variables);
  if (!gradients.ok) return gradients;
  const { px, py, weight } = pupilPoints(
    { kind: 'polar', rings: RINGS, arms: 2 * RINGS },
    model.lens.pupil.obscuration,
  );
  const waves = [...model.wavelengths.keys()].filter((wave) => model.wavelengths[wave].weight > 0);
  const all = waves.reduce((sum, wave) => sum + model.wavelengths[wave].weight, 0);
  const count = px.length;
  const seeds = [seedOf(count), seedOf(count)];
  seeds[0].x.fill(1);
  seeds[1].y.fill(1);
  const found: FieldRows[] = [];
  for (const field of model.lens.fields.points.filter((point) => point.weight > 0)) {
    const share = Float64Array.from(
      { length: count * waves.length },
      (_, i) => (weight[i % count] * model.wavelengths[waves[Math.floor(i / count)]].weight) / all,
    );
    const columns = Array.from({ length: variables.length + 1 }, () => [
      new Float64Array(share.length),
      new Float64Array(share.length),
    ]);
    for (const [k, wave] of waves.entries()) {
      const bundle = gradients.value.trace(field, wave, px, py);
      if (!bundle.whole)
        return failure(
          `A ray of the field ${field.id} does not arrive: the effect of manufacturing errors is not known.`,
        );
      const backs = bundle.back(seeds);
      [bundle.rays.x, bundle.rays.y].forEach((values, axis) => columns[0][axis].set(values, k * count));
      for (let v = 0; v < variables.length; v++)
        backs.forEach((by, axis) => columns[v + 1][axis].set(by.subarray(count * v, count * v + count), k * count));
    }
    const [rows, ...changes] = columns.map((axes) => aboutCentroid(axes, share));
    let next = 0;
    found.push({
      field,
      rows,
      changes: inexact.map((one) =>
        one.variables.map(() => changes[next++]).reduce((sum, column) => sum.map((value, i) => value + column[i])),
      ),
      focus: changes.at(-1)!,
    });
  }
  return found.length > 0 ? success(found) : failure('No field point has a weight.');
}

/** Both axes in one column, less their weighted means, times the roots of the weights. */
function aboutCentroid(axes: readonly Float64Array[], share: Float64Array): Float64Array {
  const rows = new Float64Array(axes.length * share.length);
  axes.forEach((values, axis) => {
    const mean = product(values, share);
    for (let i = 0; i < share.length; i++) rows[axis * share.length + i] = Math.sqrt(share[i]) * (values[i] - mean);
  });
  return rows;
}

function product(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}

export const asBuiltSpot = defineMeasure({
  id: 'as_built_spot',
  title: 'As-built spot',
  unit: 'µm',
  slow: true,
  meaning:
    'The root mean square of the RMS spot radius that is to be expected when radii, thicknesses, indices, ' +
    'tilts of surfaces and shifts of elements lie evenly within the limits of a workshop, and focus is ' +
    'set behind them: √(|P r|² + Σ σ² |P ∂r/∂p|²), linear in the errors. Precise: radii ± 0.05 %, ' +
    'thicknesses ± 0.02 mm, indices ± 0.0003, tilts ± 0.5′, shifts ± 0.01 mm; usual: ± 0.1 %, 0.05 mm, ' +
    '0.0005, 1′, 0.03 mm; coarse: ± 0.2 %, 0.1 mm, 0.001, 3′, 0.1 mm. `all`: over the weighted fields; ' +
    '`worst`: the largest of them.',
  settings: {
    field: { kind: 'field', title: 'Field', also: ['all', 'worst'], fallback: 'all' },
    workshop: { kind: 'choice', title: 'Workshop', options: WORKSHOP_NAMES, fallback: 'usual' },
  },
  evaluate(lens, { field, workshop }): Outcome<Measured> {
    if (isAfocal(lens.model.lens))
      return failure('The image lies at infinity: the effect of manufacturing errors is not computed yet.');
    const inexact = inexactNumbers(lens.model, WORKSHOP_GRADES[workshop as WorkshopName]);
    const fields = expectedFields(lens, inexact);
    if (!fields.ok) return fields;
    const found = fields.value.map((one) => ({ field: one.field, square: expectedSquare(one) }));
    const how = `${inexact.length} errors, focus set, ${RINGS} × ${2 * RINGS} rays a colour`;
    const told = (square: number): Outcome<Measured> => success({ value: 1000 * Math.sqrt(square), how });
    if (field === 'worst') return told(Math.max(...found.map(({ square }) => square)));
    if (field === 'all') {
      const weights = found.reduce((sum, one) => sum + one.field.weight, 0);
      return told(found.reduce((sum, one) => sum + one.field.weight * one.square, 0) / weights);
    }
    const one = found.find((entry) => entry.field.id === field);
    return one ? told(one.square) : failure(`The field ${field} has no weight, or is not there.`);
  },
});
