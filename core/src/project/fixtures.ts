import { catalogueMaterial } from '../materials/catalogue.ts';
import type { Lens, Project } from './model.ts';

/** A small valid lens for tests: a plano-convex singlet with the stop at its front, f ≈ 97 mm, one field and one wavelength. */
export function singletLens(): Lens {
  return {
    id: 'single',
    name: 'Single lens',
    object: { distance: 'infinity' },
    aperture: { kind: 'entrance_pupil_diameter', value: 10 },
    pupil: { aim: 'paraxial', obscuration: 0 },
    fields: { kind: 'angle', points: [{ id: 'axis', x: 0, y: 0, weight: 1 }] },
    wavelengths: [{ id: 'd', nm: 587.5618, weight: 1 }],
    primary: 'd',
    stop: 'front',
    surfaces: [
      {
        id: 'front',
        shape: { kind: 'sphere', radius: 50 },
        aperture: { kind: 'automatic' },
        after: { thickness: 4, material: 'g517642', name: 'L1' },
      },
      {
        id: 'back',
        shape: { kind: 'plane' },
        aperture: { kind: 'automatic' },
        after: { thickness: 94, material: 'air' },
      },
      { id: 'image', shape: { kind: 'plane' }, aperture: { kind: 'automatic' }, after: null },
    ],
  };
}

/** A project for tests around one lens, with the catalogue records that it names. */
export function projectOf(lens: Lens = singletLens()): Project {
  const used = new Set(
    lens.surfaces.map((surface) => surface.after?.material).filter((id) => id !== undefined),
  );
  used.add('air');
  return {
    format: 'ulvex-project',
    version: 1,
    name: 'Test bench',
    notes: '',
    lenses: [lens],
    materials: [...used].map((id) => catalogueMaterial(id)).filter((record) => record !== undefined),
    requirements: [],
  };
}
