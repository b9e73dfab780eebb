import { inspectRay, type RayStep } from '../imaging/section/ray-inspection.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { surfaceCalled, surfaceTitle } from '../project/lens-edits.ts';
import { defineMeasure, type Measured } from './measure.ts';

const SURFACE = { kind: 'surface', title: 'Surface', also: [], fallback: '' } as const;

/** Index of a surface of the lens; the image surface for an empty id. */
function surfaceIndex({ model }: LensEvaluation, id: string): Outcome<number> {
  const index = id === '' ? model.surfaces.length - 1 : model.surfaces.findIndex((one) => one.id === id);
  return index < 0 ? failure(`There is no surface “${id}”.`) : success(index);
}

export const paraxialRay = defineMeasure({
  id: 'paraxial_ray',
  title: 'Paraxial ray',
  unit: '',
  meaning:
    'Of the paraxial marginal or chief ray at the primary wavelength: its height y on a surface, mm; its ' +
    'slope u (the tangent of its angle) before or behind the surface; or its angle of incidence i = u + ' +
    'y·c, rad. A zone of 0.7 is the ray through 0.7 of the pupil, or of 0.7 of the largest field. Without ' +
    'a surface: the image.',
  settings: {
    ray: { kind: 'choice', title: 'Ray', options: ['marginal', 'chief'], fallback: 'marginal' },
    surface: SURFACE,
    quantity: {
      kind: 'choice',
      title: 'Quantity',
      options: ['height', 'slope behind', 'slope before', 'incidence'],
      fallback: 'height',
    },
    zone: { kind: 'number', title: 'Zone', unit: '', min: 0, max: 1, fallback: 1 },
  },
  evaluate(lens, { ray, surface, quantity, zone }): Outcome<Measured> {
    const data = lens.primary();
    if (!data.ok) return data;
    const index = surfaceIndex(lens, surface);
    if (!index.ok) return index;
    const j = index.value;
    const { y, u } = ray === 'chief' ? data.value.chief : data.value.marginal;
    const how = `${ray} ray, zone ${zone}, at ${surfaceTitle(lens.model.lens, j)}`;
    switch (quantity) {
      case 'height':
        return success({ value: zone * y[j], unit: 'mm', how });
      case 'slope behind':
        return success({ value: zone * u[j + 1], how });
      case 'slope before':
        return success({ value: zone * u[j], how });
      default:
        return success({ value: zone * (u[j] + y[j] * lens.model.surfaces[j].shape.curvature), how });
    }
  },
});

/** What a real ray has at a surface, by name, with its unit. */
const REAL: Readonly<Record<string, readonly [unit: string, read: (step: RayStep) => number | null]>> = {
  y: ['mm', ({ local }) => local[1]],
  x: ['mm', ({ local }) => local[0]],
  z: ['mm', ({ local }) => local[2]],
  radius: ['mm', ({ local }) => Math.hypot(local[0], local[1])],
  'angle y': ['°', ({ direction: [, m, n] }) => degrees(Math.atan2(m, Math.abs(n)))],
  'angle x': ['°', ({ direction: [l, , n] }) => degrees(Math.atan2(l, Math.abs(n)))],
  incidence: ['°', ({ incidence }) => incidence],
  refraction: ['°', ({ refraction }) => refraction],
  path: ['mm', ({ path }) => path],
};
const degrees = (radians: number) => (radians * 180) / Math.PI;

export const realRay = defineMeasure({
  id: 'real_ray',
  title: 'Real ray',
  unit: '',
  meaning:
    'Of the real ray from a field through the point px, py of the pupil (its rim at 1): where it meets a ' +
    'surface, x, y, z or its distance from the axis in the surface’s own frame, mm; its angle to the ' +
    'surface’s z axis after it in x or y, of incidence or of refraction, °; or its optical path since ' +
    'the launch, mm. Without a surface: the image.',
  settings: {
    field: { kind: 'field', title: 'Field', also: [], fallback: null },
    wavelength: { kind: 'wavelength', title: 'Wavelength', also: ['primary'], fallback: 'primary' },
    px: { kind: 'number', title: 'Pupil x', unit: '', min: -1, max: 1, fallback: 0 },
    py: { kind: 'number', title: 'Pupil y', unit: '', min: -1, max: 1, fallback: 1 },
    surface: SURFACE,
    quantity: { kind: 'choice', title: 'Quantity', options: Object.keys(REAL), fallback: 'y' },
  },
  evaluate(lens, { field, wavelength, px, py, surface, quantity }): Outcome<Measured> {
    const index = surfaceIndex(lens, surface);
    if (!index.ok) return index;
    const { id } = lens.model.surfaces[index.value];
    const ray = inspectRay(lens, { kind: 'pupil', field, px, py }, wavelength === 'primary' ? null : wavelength);
    if (!ray.ok) return ray;
    const step = ray.value.steps.find((one) => one.surface === id);
    const [unit, read] = REAL[quantity];
    const value = step ? read(step) : null;
    if (value === null) {
      const { end } = ray.value;
      return failure(
        end ? `The ray ${end.reason} at ${surfaceCalled(lens.model.lens, end.surface)}.` : 'The ray has none there.',
        id,
      );
    }
    return success({
      value,
      unit,
      how: `${field}, pupil ${px}, ${py}, at ${surfaceCalled(lens.model.lens, id)}`,
    });
  },
});
