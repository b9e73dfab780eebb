import { RAY_STATUS, statusReason, type RayBlock } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { surfaceCalled } from '../../project/lens-edits.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { LensEvaluation, RayChoice, TracedBundle } from '../evaluation/lens-evaluation.ts';

/** What a spot is measured about. */
export type SpotReference = 'centroid' | 'chief';

export type Point = readonly [x: number, y: number];

/** Rays of one field and one colour at the image surface. */
export interface ColourSpot {
  /** Index of the wavelength in the model. */
  readonly wave: number;
  readonly bundle: TracedBundle;
  /** Share of this colour in the whole spot; the shares of all colours sum to 1. */
  readonly share: number;
  /** Where the chief ray of this colour meets the image; null when it does not. */
  readonly chief: Point | null;
}

/** The spot of one field in all its colours. Lengths in mm, in the image surface's own x and y. */
export interface FieldSpot {
  readonly field: FieldPoint;
  readonly colours: readonly ColourSpot[];
  readonly centroid: Point;
  /** Chief ray of the primary wavelength; null when it does not arrive. */
  readonly chief: Point | null;
  readonly launched: number;
  readonly arrived: number;
  /** Reasons for which rays did not arrive, with how many rays each. */
  readonly losses: readonly { readonly reason: string; readonly surface: string; readonly count: number }[];
}

/**
 * Traces the spot of a field: every wavelength of weight above 0, or the one asked for.
 *
 * Fails when the lens cannot be traced or no ray arrives.
 *
 * @param only - index of the one wavelength to use
 */
export function fieldSpot(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: RayChoice,
  only?: number,
): Outcome<FieldSpot> {
  const { model } = lens;
  const waves =
    only === undefined ? [...model.wavelengths.keys()].filter((w) => model.wavelengths[w].weight > 0) : [only];
  const total = waves.reduce((sum, wave) => sum + model.wavelengths[wave].weight, 0);
  const colours: ColourSpot[] = [];
  for (const wave of waves) {
    const bundle = lens.bundle(field, wave, choice);
    if (!bundle.ok) return bundle;
    const share = only === undefined ? model.wavelengths[wave].weight / total : 1;
    colours.push({ wave, bundle: bundle.value, share, chief: chiefPoint(lens, field, wave, choice) });
  }
  const launched = colours.reduce((sum, { bundle }) => sum + bundle.rays.capacity, 0);
  const losses = countLosses(lens, colours);
  const arrived = launched - losses.reduce((sum, loss) => sum + loss.count, 0);
  if (arrived === 0) {
    const worst = losses[0];
    if (!worst) return failure(`Field ${field.id} has no rays: every wavelength has weight 0.`, field.id);
    return failure(
      `No ray of field ${field.id} reaches the image: at ${surfaceCalled(model.lens, worst.surface)} the ray ${worst.reason}.`,
      field.id,
    );
  }
  const centroid = meanPoint(colours);
  const chief = chiefPoint(lens, field, only ?? model.primary, choice);
  return success({ field, colours, centroid, chief, launched, arrived, losses });
}

function chiefPoint(lens: LensEvaluation, field: FieldPoint, wave: number, choice: RayChoice): Point | null {
  const chief = lens.chief(field, wave, choice.aim);
  if (!chief.ok || chief.value.status[0] !== RAY_STATUS.alive) return null;
  return [chief.value.x[0], chief.value.y[0]];
}

function countLosses(lens: LensEvaluation, colours: readonly ColourSpot[]): FieldSpot['losses'] {
  const counts = new Map<string, { reason: string; surface: string; count: number }>();
  for (const { bundle } of colours) {
    const { status, at, capacity } = bundle.rays;
    for (let i = 0; i < capacity; i++) {
      if (status[i] === RAY_STATUS.alive) continue;
      const key = `${status[i]} ${at[i]}`;
      const known = counts.get(key);
      if (known) known.count++;
      else
        counts.set(key, {
          reason: statusReason(status[i]),
          surface: lens.model.surfaces[at[i]].id,
          count: 1,
        });
    }
  }
  return [...counts.values()].sort((a, b) => b.count - a.count);
}

/** Calls back for every ray that arrived, with its share of the whole spot (not normalised for losses). */
export function forEachArrival(
  colours: readonly ColourSpot[],
  visit: (rays: RayBlock, i: number, weight: number) => void,
): void {
  for (const { bundle, share } of colours) {
    const { rays, points } = bundle;
    for (let i = 0; i < rays.capacity; i++) {
      if (rays.status[i] === RAY_STATUS.alive) visit(rays, i, share * points.weight[i]);
    }
  }
}

function meanPoint(colours: readonly ColourSpot[]): Point {
  let total = 0;
  let x = 0;
  let y = 0;
  forEachArrival(colours, (rays, i, weight) => {
    total += weight;
    x += weight * rays.x[i];
    y += weight * rays.y[i];
  });
  return [x / total, y / total];
}

/** The point a spot is measured about. Fails where the chief ray is asked for and does not arrive. */
export function referencePoint(spot: FieldSpot, reference: SpotReference): Outcome<Point> {
  if (reference === 'centroid') return success(spot.centroid);
  return spot.chief
    ? success(spot.chief)
    : failure(`The chief ray of field ${spot.field.id} does not reach the image.`);
}

/**
 * RMS radius in mm: √(Σ w |r − r₀|²/Σ w) over the rays that arrive, about the polychromatic centroid or the chief ray
 * of the primary wavelength.
 */
export function rmsRadius(spot: FieldSpot, reference: SpotReference): Outcome<number> {
  const centre = referencePoint(spot, reference);
  if (!centre.ok) return centre;
  const [cx, cy] = centre.value;
  let total = 0;
  let sum = 0;
  forEachArrival(spot.colours, (rays, i, weight) => {
    total += weight;
    sum += weight * ((rays.x[i] - cx) ** 2 + (rays.y[i] - cy) ** 2);
  });
  return success(Math.sqrt(sum / total));
}

/** Largest distance in mm of a traced ray from the reference point; grows with the sampling, so it is no exact maximum. */
export function largestRadius(spot: FieldSpot, reference: SpotReference): Outcome<number> {
  const centre = referencePoint(spot, reference);
  if (!centre.ok) return centre;
  const [cx, cy] = centre.value;
  let largestSq = 0;
  forEachArrival(spot.colours, (rays, i) => {
    largestSq = Math.max(largestSq, (rays.x[i] - cx) ** 2 + (rays.y[i] - cy) ** 2);
  });
  return success(Math.sqrt(largestSq));
}

/**
 * Spots of all fields of weight above 0. Fails with the first field that has none.
 */
export function weightedSpots(lens: LensEvaluation, choice: RayChoice): Outcome<FieldSpot[]> {
  const spots: FieldSpot[] = [];
  for (const field of lens.model.lens.fields.points) {
    if (field.weight === 0) continue;
    const spot = fieldSpot(lens, field, choice);
    if (!spot.ok) return spot;
    spots.push(spot.value);
  }
  return spots.length > 0 ? success(spots) : failure('No field point has a weight.');
}

/** √(Σ w_f rms_f²/Σ w_f) in mm over the fields. */
export function rmsOverFields(spots: readonly FieldSpot[], reference: SpotReference): Outcome<number> {
  let total = 0;
  let sum = 0;
  for (const spot of spots) {
    const rms = rmsRadius(spot, reference);
    if (!rms.ok) return rms;
    total += spot.field.weight;
    sum += spot.field.weight * rms.value ** 2;
  }
  return success(Math.sqrt(sum / total));
}
