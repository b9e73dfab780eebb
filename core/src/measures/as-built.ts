import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { isGas } from '../materials/material.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { WORKSHOP_NAMES, type WorkshopName } from '../project/improve.ts';
import type { FieldPoint } from '../project/model.ts';
import type { LensModel } from '../sequence/lens-model.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';
import { dot, SPOT_RINGS, spotChanges, type SpotChanges } from '../tolerances/spot-changes.ts';
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
  const ones = lens.model.wavelengths.map(() => 1);
  const fields = spotChanges(
    lens,
    inexact.map(({ variables }) => variables.map((variable) => ({ variable, by: ones }))),
  );
  if (!fields.ok) return fields;
  const over = (pick: (rows: SpotChanges) => number) =>
    fields.value.reduce((sum, one) => sum + one.field.weight * pick(one), 0);
  const own = over(({ focus }) => dot(focus, focus));
  const share = (pick: (rows: SpotChanges) => Float64Array) =>
    own > 0 ? over((one) => dot(one.focus, pick(one))) / own : 0;
  const nominal = share(({ rows }) => rows);
  const shares = inexact.map((_, k) => share(({ changes }) => changes[k]));
  return success(
    fields.value.map(({ field, rows, changes, focus }) => {
      const left = (values: Float64Array, by: number) => values.map((value, i) => value - by * focus[i]);
      const deviations = Float64Array.from(inexact, ({ deviation }, k) => {
        const one = left(changes[k], shares[k]);
        return deviation * Math.sqrt(dot(one, one));
      });
      return { field, rows: left(rows, nominal), deviations };
    }),
  );
}

/** The mean square spot of a field that is to be expected, mm². */
export function expectedSquare({ rows, deviations }: ExpectedField): number {
  return dot(rows, rows) + dot(deviations, deviations);
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
    const how = `${inexact.length} errors, focus set, ${SPOT_RINGS} × ${2 * SPOT_RINGS} rays a colour`;
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
