import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { success, type Outcome } from '../math/outcome.ts';
import type { ImageGoal } from '../project/improve.ts';
import type { FieldPoint } from '../project/model.ts';
import { pupilPoints, type PupilPoints } from '../sequence/pupil-sampling.ts';
import { asBuiltRows } from './as-built-rows.ts';
import { asMadeRows } from './as-made-rows.ts';
import type { ImageRows } from './image-rows.ts';
import { PEAK_POWER, PeakRows } from './peak-rows.ts';
import { RayRows } from './ray-rows.ts';
import { TransferRows } from './transfer-rows.ts';

/** Kinds of shapes that leave no more than low orders. */
const PLAIN: ReadonlySet<string> = new Set(['plane', 'sphere', 'conic', 'ideal_lens']);

/** Where the pupil is sampled for an image goal, and why so. */
export interface ImageSampling {
  readonly points: PupilPoints;
  readonly rings: number;
  readonly arms: number;
  readonly why: string;
}

/**
 * Rings and arms that integrate the squares of aberrations up to a stated order exactly: n rings of Gauss nodes in ρ² do powers of ρ up to
 * 4n − 2, m arms do cosines up to m − 1 (G. W. Forbes, J. Opt. Soc. Am. A 5, 1943, 1988). For extremes, which lie at the rim or in
 * the middle as often as not, points are put there, too.
 */
export function imageSampling(lens: LensEvaluation, goal: ImageGoal): ImageSampling {
  const { model } = lens;
  // By the kind, whatever its terms are now: rows stay the same all through a run.
  const aspheric = model.lens.surfaces.some(({ shape }) => !PLAIN.has(shape.kind));
  const rings = goal.rings ?? (aspheric ? 6 : 4);
  const arms = 2 * rings;
  const halved = model.mirrorX ? '; half of them traced, the rest is its mirror image' : '';
  const inside = pupilPoints({ kind: 'polar', rings, arms }, model.lens.pupil.obscuration);
  if (goal.what === 'mtf')
    return {
      points: inside,
      rings,
      arms,
      why: 'The pupil on the reference sphere with its true amplitude, as the MTF tile has it, by polynomials as fine as its wavefront wants',
    };
  if (isAsBuilt(goal))
    return {
      points: inside,
      rings,
      arms,
      why: 'Rays as drawn with focus set, and what every error of a radius, thickness, index, tilt or shift brings to the spot of each field',
    };
  if (goal.by === 'peak')
    return {
      points: withEdges(inside, arms, model.lens.pupil.obscuration),
      rings,
      arms,
      why: `${rings} rings × ${arms} arms, the rim and the middle${halved}; extremes count by a mean of power ${PEAK_POWER}, which is smooth`,
    };
  const order = 2 * rings - 1;
  const why =
    `${rings} rings × ${arms} arms: ray aberrations up to order ${order} in the pupil are integrated ` +
    `exactly${aspheric && goal.rings === undefined ? ', more because of aspheres' : ''}${halved}`;
  return { points: inside, rings, arms, why };
}

/** Points of a pupil with one more ring at the rim, and one around the obscuration or a point in the middle; weights sum to 1. */
function withEdges({ px, py, weight }: PupilPoints, arms: number, inner: number): PupilPoints {
  const around = (radius: number) =>
    Array.from({ length: arms }, (_, k) => {
      const angle = (2 * Math.PI * (k + 0.5)) / arms;
      return [radius * Math.cos(angle), radius * Math.sin(angle)] as const;
    });
  const edges = [...around(1), ...(inner > 0 ? around(inner) : [[0, 0] as const])];
  const all = px.length + edges.length;
  return {
    px: Float64Array.from([...px, ...edges.map(([x]) => x)]),
    py: Float64Array.from([...py, ...edges.map(([, y]) => y)]),
    weight: Float64Array.from([...weight.map((one) => (one * px.length) / all), ...edges.map(() => 1 / all)]),
  };
}

/**
 * An image goal made ready for a version of a lens. Fails where there is nothing that counts, or that cannot be counted in its image.
 *
 * @param only - fields that count, with their weights; all of the lens by default
 */
export function imageRows(goal: ImageGoal, lens: LensEvaluation, only?: readonly FieldPoint[]): Outcome<ImageRows> {
  const madeBy = isAsBuilt(goal) ? goal.workshop! : null;
  if (madeBy) return madeBy === 'tolerances' ? asMadeRows(lens) : asBuiltRows(madeBy, lens);
  if (goal.what === 'mtf') return TransferRows.of(goal, lens, only);
  const rays = RayRows.of(goal, lens, imageSampling(lens, goal).points, only);
  if (!rays.ok || goal.by !== 'peak') return rays;
  return success(new PeakRows(goal, lens, rays.value));
}

/** Whether it is about the lens as manufactured. */
const isAsBuilt = ({ what, by, workshop }: ImageGoal) => what === 'spot' && by !== 'peak' && workshop !== undefined;

/** The unit in which an image goal is told. */
export function imageUnit({ what }: ImageGoal): string {
  return { spot: 'µm', wavefront: 'λ', mtf: '' }[what];
}
