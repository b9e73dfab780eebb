import { RAY_STATUS } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { LensEvaluation, RayChoice } from '../evaluation/lens-evaluation.ts';
import { airyRing } from '../wavefront/image-cone.ts';
import { imageUnit } from '../evaluation/image-space.ts';
import { fieldSpot, largestRadius, referencePoint, rmsRadius, type FieldSpot, type SpotReference } from './spot.ts';

export interface SpotDiagramChoice {
  readonly reference: SpotReference;
  readonly pupil: RayChoice['pupil'];
  readonly rings: number;
  readonly arms: number;
}

/** Points of one colour, in µm (mrad for an image at infinity) from the reference point of the spot. */
export interface SpotColour {
  readonly nm: number;
  readonly x: Float32Array;
  readonly y: Float32Array;
}

/** The picture of one field. */
export interface SpotPicture {
  readonly field: string;
  readonly colours: readonly SpotColour[];
  /** In the unit of the image, as everything here. */
  readonly rms: number;
  /** Largest distance of a traced ray from the reference point. */
  readonly largest: number;
  readonly launched: number;
  readonly arrived: number;
  /**
   * Semi-axes along x and y of the first dark ring that a perfect lens with the same cone of light would show,
   * primary wavelength; null without one.
   */
  readonly airy: readonly [number, number] | null;
}

export interface SpotDiagram {
  /** A failure where a field has no spot; the others are there all the same. */
  readonly pictures: readonly { readonly field: string; readonly spot: Outcome<SpotPicture> }[];
  readonly unit: 'µm' | 'mrad';
  readonly aim: 'paraxial' | 'stop';
}

/** Spots of every field, ready to be drawn to a common scale. Fails only where nothing at all can be traced. */
export function spotDiagram(lens: LensEvaluation, choice: SpotDiagramChoice): Outcome<SpotDiagram> {
  const pupil = lens.pupil();
  if (!pupil.ok) return pupil;
  const { points } = lens.model.lens.fields;
  if (points.length === 0) return failure('No field point is given.');
  const rays: RayChoice = {
    sampling: { kind: 'polar', rings: choice.rings, arms: choice.arms },
    pupil: choice.pupil,
  };
  const pictures = points.map((field) => {
    const spot = fieldSpot(lens, field, rays);
    return { field: field.id, spot: spot.ok ? picture(lens, spot.value, choice) : spot };
  });
  return success({
    pictures,
    unit: imageUnit(lens.model.lens),
    aim: lens.model.lens.pupil.aim,
  });
}

function picture(lens: LensEvaluation, spot: FieldSpot, { reference, pupil }: SpotDiagramChoice): Outcome<SpotPicture> {
  const centre = referencePoint(spot, reference);
  if (!centre.ok) return centre;
  const rms = rmsRadius(spot, reference);
  if (!rms.ok) return rms;
  const largest = largestRadius(spot, reference);
  if (!largest.ok) return largest;
  const [cx, cy] = centre.value;
  const colours = spot.colours.map(({ wave, bundle: { rays } }) => {
    const x = new Float32Array(rays.capacity);
    const y = new Float32Array(rays.capacity);
    let arrived = 0;
    for (let i = 0; i < rays.capacity; i++) {
      if (rays.status[i] !== RAY_STATUS.alive) continue;
      x[arrived] = (rays.x[i] - cx) * 1000;
      y[arrived] = (rays.y[i] - cy) * 1000;
      arrived++;
    }
    return { nm: lens.model.wavelengths[wave].nm, x: x.slice(0, arrived), y: y.slice(0, arrived) };
  });
  return success({
    field: spot.field.id,
    colours,
    rms: rms.value * 1000,
    largest: largest.value * 1000,
    launched: spot.launched,
    arrived: spot.arrived,
    airy: airyRing(lens, spot.field, { pupil }),
  });
}
