import { inspectKept, type RayStep } from '../imaging/section/ray-inspection.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { surfaceCalled } from '../project/lens-edits.ts';
import { defineMeasure, type Measure, type Measured } from './measure.ts';

const RAY = { kind: 'id', title: 'Kept ray', fallback: '' } as const;
const SURFACE = { kind: 'id', title: 'Surface', fallback: '' } as const;

/** A number of a kept ray at a surface; the image surface where none is named. */
function keptRayMeasure<const Q extends readonly string[]>(
  about: Pick<Measure, 'id' | 'title' | 'unit' | 'meaning'>,
  quantities: Q,
  read: (step: RayStep, quantity: Q[number]) => number | null,
) {
  return defineMeasure({
    ...about,
    settings: {
      ray: RAY,
      surface: SURFACE,
      quantity: { kind: 'choice', title: 'Quantity', options: quantities, fallback: quantities[0] },
    },
    evaluate(lens, settings): Outcome<Measured> {
      const ray = inspectKept(lens, settings.ray);
      if (!ray.ok) return ray;
      const { steps, end, kept } = ray.value;
      const surface = settings.surface || lens.model.surfaces[lens.model.surfaces.length - 1].id;
      if (!lens.model.surfaces.some(({ id }) => id === surface)) return failure(`There is no surface “${surface}”.`);
      const step = steps.find((one) => one.surface === surface);
      const value = step ? read(step, settings.quantity) : null;
      const name = kept.name ?? kept.id;
      if (value === null)
        return failure(
          end
            ? `The ray ${name} ${end.reason} at ${surfaceCalled(lens.model.lens, end.surface)}.`
            : `The ray ${name} has none there.`,
          surface,
        );
      return success({ value, how: `${name} at ${surfaceCalled(lens.model.lens, surface)}` });
    },
  });
}

export const rayPosition = keptRayMeasure(
  {
    id: 'ray_position',
    title: 'Ray position',
    unit: 'mm',
    meaning:
      'Where a kept ray meets a surface: x, y, z in the surface’s own frame or (global) in that of the ' +
      'first vertex, its distance from the axis of the surface, or its optical path since the launch, Σ ' +
      'n·s.',
  },
  ['y', 'x', 'z', 'radius', 'global x', 'global y', 'global z', 'path'],
  ({ local, global, path }, quantity) => {
    if (quantity === 'path') return path;
    if (quantity === 'radius') return Math.hypot(local[0], local[1]);
    return (quantity.startsWith('global') ? global : local)['xyz'.indexOf(quantity.at(-1)!)];
  },
);

export const rayAngle = keptRayMeasure(
  {
    id: 'ray_angle',
    title: 'Ray angle',
    unit: '°',
    meaning:
      'Angle of a kept ray at a surface: of incidence or refraction against the normal, without sign; or of ' +
      'its direction after the surface against the surface’s z axis, in x or y, positive where it climbs.',
  },
  ['incidence', 'refraction', 'y', 'x'],
  ({ incidence, refraction, direction: [l, m, n] }, quantity) => {
    if (quantity === 'incidence') return incidence;
    if (quantity === 'refraction') return refraction;
    return (Math.atan2(quantity === 'x' ? l : m, Math.abs(n)) * 180) / Math.PI;
  },
);

export const rayFlux = keptRayMeasure(
  {
    id: 'ray_flux',
    title: 'Ray flux',
    unit: '%',
    meaning:
      'Share of its flux that a kept ray has behind a surface: less what surfaces reflect, by their finishes or ' +
      'bare, for light that is unpolarised at each, and what media with a record of their transmittance absorb. ' +
      'Mirrors without a finish reflect all.',
  },
  ['flux'],
  ({ flux }) => flux * 100,
);
