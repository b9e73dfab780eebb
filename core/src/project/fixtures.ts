import { catalogueMaterial } from '../materials/catalogue.ts';
import type { Material } from '../materials/material.ts';
import type { Lens, Project, Surface } from './model.ts';

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

/** A material of constant index, for closed forms. Its id says the index: `n1_5`. */
export function constantMaterial(index: number): Material {
  return {
    id: `n${String(index).replace('.', '_')}`,
    label: String(index),
    family: 'constant index',
    dispersion: { kind: 'constant', index },
    range: [1, 1e6],
  };
}

/** A surface of a test lens in few words; behind it `index` (1 for air) or a mirror. */
export interface Quick {
  readonly r?: number;
  readonly k?: number;
  readonly t?: number;
  readonly n?: number | 'mirror';
  readonly semi?: number;
  readonly phase?: NonNullable<Surface['phase']>;
  readonly shape?: Surface['shape'];
  readonly frame?: NonNullable<Surface['frame']>;
  readonly behind?: NonNullable<Surface['behind']>;
  readonly obscurations?: NonNullable<Surface['obscurations']>;
}

/**
 * A lens from radii, thicknesses and indices, with ids s1, s2 … and a flat image surface at the end. Stop: the first
 * surface; object at infinity; entrance pupil 10 mm; axis and 587.5618 nm. `change` overrides any of it.
 */
export function quickProject(surfaces: readonly Quick[], change: Partial<Lens> = {}): Project {
  const materials = new Map<string, Material>();
  const built: Surface[] = surfaces.map(({ r = Infinity, k, t = 0, n = 1, semi, ...rest }, i) => {
    const material = constantMaterial(n === 'mirror' ? 1 : n);
    if (material.label !== '1') materials.set(material.id, material);
    const radius = Number.isFinite(r) ? r : ('infinity' as const);
    return {
      id: `s${i + 1}`,
      shape: k === undefined ? { kind: 'sphere', radius } : { kind: 'conic', radius, conic: k },
      aperture: semi === undefined ? { kind: 'automatic' } : { kind: 'circle', semi },
      ...(n === 'mirror' && { reflects: true }),
      ...rest,
      after: { thickness: t, material: material.label === '1' ? 'air' : material.id },
    };
  });
  built.push({ id: 'image', shape: { kind: 'plane' }, aperture: { kind: 'automatic' }, after: null });
  const lens: Lens = { ...singletLens(), id: 'lens', stop: 's1', surfaces: built, ...change };
  return { ...projectOf(lens), materials: [catalogueMaterial('air')!, ...materials.values()] };
}

/** A project for tests around one lens, with the catalogue records that it names. */
export function projectOf(lens: Lens = singletLens()): Project {
  const used = new Set(lens.surfaces.map((surface) => surface.after?.material).filter((id) => id !== undefined));
  used.add('air');
  return {
    format: 'ulvex-project',
    version: 3,
    name: 'Test bench',
    notes: '',
    lenses: [lens],
    materials: [...used].map((id) => catalogueMaterial(id)).filter((record) => record !== undefined),
    requirements: [],
  };
}
