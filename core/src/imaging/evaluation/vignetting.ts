import { RAY_STATUS } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import type { LensEvaluation } from './lens-evaluation.ts';

/** Which colour and aim a look at vignetting uses; the primary wavelength and the lens's own aim by default. */
export interface VignettingChoice {
  readonly wave?: number;
  readonly aim?: 'paraxial' | 'stop';
}

/** Radii at which a search along one direction of the pupil first looks, and how often it then halves. */
const RADII = 48;
const HALVINGS = 32;

/** A stretch of a radius of the pupil on which rays arrive at the image. */
type Stretch = readonly [from: number, to: number];

/**
 * Where, along directions of the unvignetted pupil, rays arrive at the image through the set apertures: for each direction the
 * stretches of its radius, from the obscuration to the rim. Edges are found to 1e-10 of the pupil's radius; what is narrower than a
 * fiftieth of it may be missed.
 *
 * @param directions - angles from +px toward +py, radians
 */
export function clearStretches(
  lens: LensEvaluation,
  field: FieldPoint,
  directions: readonly number[],
  { wave = lens.model.primary, aim }: VignettingChoice = {},
): Outcome<Stretch[][]> {
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const inner = lens.model.lens.pupil.obscuration;
  const [cosines, sines] = [directions.map(Math.cos), directions.map(Math.sin)];
  const arrives = (which: ArrayLike<number>, radii: ArrayLike<number>): boolean[] => {
    const px = Float64Array.from(radii, (radius, i) => radius * cosines[which[i]]);
    const py = Float64Array.from(radii, (radius, i) => radius * sines[which[i]]);
    const { status } = traceBundle(aimer.value, { field, wave, px, py, ...(aim && { aim }) }, { clip: true });
    return Array.from(status, (one) => one === RAY_STATUS.alive);
  };

  const radiusAt = (k: number) => inner + ((1 - inner) * k) / RADII;
  const which = directions.flatMap((_, d) => new Array<number>(RADII + 1).fill(d));
  const first = arrives(
    which,
    which.map((_, i) => radiusAt(i % (RADII + 1))),
  );

  // Every change from one radius to the next is halved down, all of them together.
  const changes = first.flatMap((here, i) =>
    i % (RADII + 1) > 0 && here !== first[i - 1]
      ? [
          {
            direction: which[i],
            low: radiusAt((i % (RADII + 1)) - 1),
            high: radiusAt(i % (RADII + 1)),
            opens: here,
          },
        ]
      : [],
  );
  for (let round = 0; round < HALVINGS && changes.length > 0; round++) {
    const middles = changes.map(({ low, high }) => (low + high) / 2);
    const passing = arrives(
      changes.map(({ direction }) => direction),
      middles,
    );
    changes.forEach((change, i) => {
      if (passing[i] === change.opens) change.high = middles[i];
      else change.low = middles[i];
    });
  }
  return success(
    directions.map((_, d) => {
      const edges = changes.filter(({ direction }) => direction === d).map(({ low, high }) => (low + high) / 2);
      const bounds = [...(first[d * (RADII + 1)] ? [inner] : []), ...edges];
      if (bounds.length % 2 === 1) bounds.push(1);
      return Array.from({ length: bounds.length / 2 }, (_, i): Stretch => [bounds[2 * i], bounds[2 * i + 1]]);
    }),
  );
}

/** How far out rays pass along a direction of the pupil, in its radii: 1 where nothing is vignetted, 0 where none passes. */
export function pupilLimit(
  lens: LensEvaluation,
  field: FieldPoint,
  direction: number,
  choice: VignettingChoice = {},
): Outcome<number> {
  const found = clearStretches(lens, field, [direction], choice);
  return found.ok ? success(found.value[0].at(-1)?.[1] ?? 0) : found;
}

/**
 * Share of the pupil's area through which rays arrive at the image, 0 to 1, by stretches along `arms` directions.
 */
export function clearShare(
  lens: LensEvaluation,
  field: FieldPoint,
  arms: number,
  choice: VignettingChoice = {},
): Outcome<number> {
  if (arms < 1) return failure('A pupil fraction needs at least one direction.');
  const directions = Array.from({ length: arms }, (_, j) => (2 * Math.PI * (j + 0.5)) / arms);
  const found = clearStretches(lens, field, directions, choice);
  if (!found.ok) return found;
  const inner = lens.model.lens.pupil.obscuration;
  const area = found.value.flat().reduce((sum, [from, to]) => sum + (to * to - from * from), 0);
  return success(area / arms / (1 - inner * inner));
}
