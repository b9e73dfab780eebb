import { RAY_STATUS } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { clearStretches } from '../evaluation/vignetting.ts';

/** Directions in which the edge of a pencil is looked for. */
const EDGES = 360;

/**
 * Projected solid angle of a field's pencil at the image, sr: the area that its edge encloses among the direction cosines (L, M), which
 * for an evenly bright object is its irradiance over radiance (M. Reiss, J. Opt. Soc. Am. 35, 283, 1945). Losses are left out.
 *
 * `full`: the whole pupil; `clipped`: what set apertures let through, each direction out to its last clear radius. The obscuration is
 * not taken off.
 *
 * @param edges - directions in which the edge is looked for, an even number
 */
export function projectedSolidAngle(
  lens: LensEvaluation,
  field: FieldPoint,
  pupil: 'full' | 'clipped',
  { wave = lens.model.primary, aim = lens.model.lens.pupil.aim, edges = EDGES } = {},
): Outcome<number> {
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const turns = Array.from({ length: edges }, (_, k) => (2 * Math.PI * k) / edges);
  let radii = turns.map(() => 1);
  if (pupil === 'clipped') {
    const clear = clearStretches(lens, field, turns, { wave, aim });
    if (!clear.ok) return clear;
    radii = clear.value.map((stretches) => stretches.at(-1)?.[1] ?? 0);
  }
  const px = Float64Array.from(turns, (turn, k) => radii[k] * Math.cos(turn));
  const py = Float64Array.from(turns, (turn, k) => radii[k] * Math.sin(turn));
  const rays = traceBundle(aimer.value, { field, wave, px, py, aim }, { clip: false });
  const lost = rays.status.findIndex((status) => status !== RAY_STATUS.alive);
  if (lost >= 0) return failure(`Edge rays of field ${field.id} do not reach the image.`, field.id);
  const index = lens.model.indices[wave][lens.model.surfaces.length - 1];
  // Polygons of all corners and of every other one: their errors fall with the square of the number (Richardson).
  const polygon = (step: number) => {
    let sum = 0;
    for (let k = 0; k < edges; k += step) {
      const next = (k + step) % edges;
      sum += rays.l[k] * rays.m[next] - rays.l[next] * rays.m[k];
    }
    return Math.abs(sum) / 2;
  };
  const area = pupil === 'full' ? (4 * polygon(1) - polygon(2)) / 3 : polygon(1);
  return success(area * index * index);
}

/** The same over that on the axis: relative illumination. */
export function relativeIllumination(
  lens: LensEvaluation,
  field: FieldPoint,
  pupil: 'full' | 'clipped',
  aim = lens.model.lens.pupil.aim,
  edges = EDGES,
): Outcome<number> {
  const axis = projectedSolidAngle(lens, { id: 'axis', x: 0, y: 0, weight: 1 }, pupil, { aim, edges });
  if (!axis.ok) return axis;
  const here = projectedSolidAngle(lens, field, pupil, { aim, edges });
  return here.ok ? success(here.value / axis.value) : here;
}
