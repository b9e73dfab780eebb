import type { Extent, Lens, Material, Project, Surface } from '@ulvex/core';

/** A prescription in the neutral schema of the reference files. */
export interface ReferenceLens {
  readonly name: string;
  readonly wavelengths: readonly { readonly um: number; readonly weight: number }[];
  readonly primary: number;
  readonly aperture: { readonly type: 'EPD' | 'stopSemiAperture'; readonly value: number };
  readonly object: { readonly distance: Extent };
  readonly field: {
    readonly type: 'angle' | 'objectHeight';
    readonly values: number[];
    readonly weights?: number[];
  };
  readonly stop: number;
  readonly pupilObscurationRatio?: number;
  readonly surfaces: readonly ReferenceSurface[];
  readonly glasses?: Readonly<Record<string, { family?: string; B: number[]; C: number[] }>>;
  readonly toleranceOverrides?: Readonly<Record<string, unknown>>;
}

interface ReferenceSurface {
  readonly radius: Extent;
  readonly conic?: number;
  readonly asphere?: Readonly<Record<string, number>>;
  readonly thickness: number;
  readonly material: string | number;
  readonly semiAperture?: number;
  readonly decentreX?: number;
  readonly decentreY?: number;
  readonly tiltX?: number;
  readonly tiltY?: number;
  readonly tiltZ?: number;
}

export const LENS_ID = 'lens';

/** Id of the field with this value in a project made by `toProject`. */
export function fieldId(lens: ReferenceLens, value: number): string {
  const index = lens.field.values.indexOf(value);
  return index >= 0 ? `f${index + 1}` : '';
}

/** The project that says the same as a reference prescription. */
export function toProject(reference: ReferenceLens): Project {
  const materials: Material[] = [
    { id: 'air', label: 'air', family: 'gas', dispersion: { kind: 'constant', index: 1 }, range: [1, 1e6] },
  ];
  for (const [key, glass] of Object.entries(reference.glasses ?? {})) {
    materials.push({
      id: `m${key}`,
      label: key,
      family: glass.family ?? 'glass',
      dispersion: { kind: 'sellmeier', b: glass.B, c: glass.C },
      range: [1, 1e6],
    });
  }
  const surfaces: Surface[] = reference.surfaces.map((surface, j) => ({
    id: `s${j + 1}`,
    shape: shapeOf(surface),
    ...(surface.material === 'mirror' && { reflects: true }),
    aperture:
      surface.semiAperture === undefined ? { kind: 'automatic' } : { kind: 'circle', semi: surface.semiAperture },
    frame: {
      dx: surface.decentreX ?? 0,
      dy: surface.decentreY ?? 0,
      tx: surface.tiltX ?? 0,
      ty: surface.tiltY ?? 0,
      tz: surface.tiltZ ?? 0,
    },
    after: { thickness: surface.thickness, material: mediumOf(surface.material, materials) },
  }));
  surfaces.push({ id: 'image', shape: { kind: 'plane' }, aperture: { kind: 'automatic' }, after: null });
  const { field } = reference;
  const lens: Lens = {
    id: LENS_ID,
    name: reference.name,
    object: { distance: reference.object.distance },
    aperture: {
      kind: reference.aperture.type === 'EPD' ? 'entrance_pupil_diameter' : 'stop_semi_aperture',
      value: reference.aperture.value,
    },
    pupil: { aim: 'paraxial', obscuration: reference.pupilObscurationRatio ?? 0 },
    fields: {
      kind: field.type === 'angle' ? 'angle' : 'object_height',
      points: field.values.map((y, i) => ({ id: `f${i + 1}`, x: 0, y, weight: field.weights?.[i] ?? 1 })),
    },
    wavelengths: reference.wavelengths.map(({ um, weight }, i) => ({
      id: `w${i + 1}`,
      nm: um * 1000,
      weight,
    })),
    primary: `w${reference.primary + 1}`,
    stop: `s${reference.stop}`,
    surfaces,
  };
  return {
    format: 'ulvex-project',
    version: 3,
    name: reference.name,
    notes: '',
    lenses: [lens],
    materials,
    requirements: [],
  };
}

function shapeOf(surface: ReferenceSurface): Surface['shape'] {
  const terms = Object.entries(surface.asphere ?? {}).map(([order, value]) => [`a${order}`, value] as const);
  if (terms.length > 0) {
    return {
      kind: 'even_asphere',
      radius: surface.radius,
      conic: surface.conic ?? 0,
      ...Object.fromEntries(terms),
    };
  }
  if (surface.conic) return { kind: 'conic', radius: surface.radius, conic: surface.conic };
  return { kind: 'sphere', radius: surface.radius };
}

function mediumOf(material: string | number, materials: Material[]): string {
  if (material === 'air' || material === 'mirror') return 'air'; // behind a mirror the core keeps the medium in front
  if (typeof material === 'string') return `m${material}`;
  const id = `n${materials.length}`;
  materials.push({
    id,
    label: String(material),
    family: 'constant index',
    dispersion: { kind: 'constant', index: material },
    range: [1, 1e6],
  });
  return id;
}
