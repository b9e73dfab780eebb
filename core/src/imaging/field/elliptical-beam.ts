import { success, type Outcome } from '../../math/outcome.ts';
import type { Triple } from '../../math/rigid.ts';
import type { FieldPoint } from '../../project/model.ts';
import { followCurvature } from './astigmatism.ts';
import { across, carried, form, tensorOf, type BeamTensor } from './curvature-tensor.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

/** An elliptical beam where it is looked at: lengths in mm, radii at 1/e² of the irradiance. */
export interface BeamEllipse {
  /** Along x and y of the plane across the ray, x as near to that of the drawing as can be: halves of the box about the ellipse. */
  readonly widths: readonly [number, number];
  /** Half axes, the larger first. */
  readonly radii: readonly [number, number];
  /** Of the larger one from that x, degrees, −90 to 90. */
  readonly turn: number;
}

export interface BeamPath {
  /** At each surface, as the beam comes to it. */
  readonly sections: readonly { readonly surface: string; readonly ellipse: BeamEllipse }[];
  /** Way along the ray from the first surface, and half widths there. */
  readonly along: readonly number[];
  readonly x: readonly number[];
  readonly y: readonly number[];
  /** Where surfaces are met along the way. */
  readonly places: readonly number[];
}

export interface EllipticalBeam {
  /** Radii of the waists of its two principal sections, mm. */
  readonly waists: readonly [number, number];
  /** How far each lies before the first vertex, mm. */
  readonly before: readonly [number, number];
  /** Turn of the first section from x, degrees. */
  readonly turn: number;
  readonly m2: number;
}

const STEPS = 24;

/**
 * A Gaussian beam of two principal sections along the chief ray of a field, through surfaces of any shape and tilt: the complex curvature
 * of `followCurvature`. Behind skew surfaces ellipse and wavefront lie askew to each other, and the ellipse turns as
 * it goes (general astigmatism, J. A. Arnaud and H. Kogelnik, Appl. Opt. 8, 1687, 1969).
 */
export function beamAlongRay(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  { waists, before, turn, m2 }: EllipticalBeam,
): Outcome<BeamPath> {
  const { model } = lens;
  const mm = model.wavelengths[wave].nm * 1e-6;
  const index = (j: number) => Math.abs(model.indices[wave][j]);
  const found = followCurvature(lens, field, wave, model.lens.pupil.aim, (direction, _way, at, axis) => {
    const [ex, ey] = across(direction, axis);
    const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
    const mix = (p: number, q: number): Triple => [0, 1, 2].map((i) => p * ex[i] + q * ey[i]) as unknown as Triple;
    const from = at[0] * direction[0] + at[1] * direction[1] + at[2] * direction[2];
    const [one, other] = ([0, 1] as const).map((k) => {
      const z = before[k] + from;
      const length = (Math.PI * index(0) * waists[k] ** 2) / (mm * m2);
      return [-z / (z * z + length * length), length / (z * z + length * length)] as const;
    });
    const [a, b] = [mix(c, s), mix(-s, c)];
    return { re: tensorOf(a, b, one[0], 0, other[0]), im: tensorOf(a, b, one[1], 0, other[1]) };
  });
  if (!found.ok) return found;
  const { steps } = found.value;
  const sections: { surface: string; ellipse: BeamEllipse }[] = [];
  const [along, x, y, places]: number[][] = [[], [], [], []];
  let way = 0;
  steps.forEach((step, j) => {
    const surface = model.surfaces[step.surface].id;
    if (j > 0) way += step.way;
    places.push(way);
    sections.push({ surface, ellipse: ellipseOf(step.arrives, step.before, step.x, index(step.surface), mm * m2) });
    const next = steps[j + 1];
    if (!next) return;
    for (let k = 0; k <= STEPS; k++) {
      const far = (next.way * k) / STEPS;
      const { widths } = ellipseOf(
        carried(step.leaves, step.out, far),
        step.out,
        step.x,
        index(step.surface + 1),
        mm * m2,
      );
      along.push(way + far);
      x.push(widths[0]);
      y.push(widths[1]);
    }
  });
  return success({ sections, along, x, y, places });
}

/** The ellipse of a beam: the irradiance goes as exp(−2 rᵀ W r) with W = πn Im Q/(λM²). */
function ellipseOf({ im }: BeamTensor, direction: Triple, axis: Triple, index: number, mm: number): BeamEllipse {
  const [a, b] = across(direction, axis);
  const scale = (Math.PI * index) / mm;
  const [xx, xy, yy] = [scale * form(im, a, a), scale * form(im, a, b), scale * form(im, b, b)];
  const area = xx * yy - xy * xy;
  const [mean, half] = [(xx + yy) / 2, Math.hypot((xx - yy) / 2, xy)];
  // The larger radius lies where the irradiance falls more slowly.
  const turn = half < 1e-12 * mean ? 0 : (Math.atan2(-2 * xy, yy - xx) * 90) / Math.PI;
  return {
    widths: [Math.sqrt(yy / area), Math.sqrt(xx / area)],
    radii: [1 / Math.sqrt(mean - half), 1 / Math.sqrt(mean + half)],
    turn,
  };
}
