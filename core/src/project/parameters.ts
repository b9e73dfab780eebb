import { AREA_PLACE } from '../apertures/area.ts';
import { areaDefinition } from '../apertures/registry.ts';
import { GRADIENT_SPECS } from '../materials/gradient.ts';
import { AIR, VACUUM } from '../materials/material.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { extentToNumber, numberToExtent, objection, type Extent, type ParameterSpec } from '../math/parameter.ts';
import { phaseDefinition } from '../phases/registry.ts';
import { shapeDefinition } from '../shapes/registry.ts';
import { valueAt, type Edit } from './edit.ts';
import { FRAME_SPECS } from './frame-specs.ts';
import {
  apertureSpec,
  BEHIND_SPECS,
  fieldSpecs,
  MATERIAL_SPECS,
  MELT_SPECS,
  NM,
  OBJECT_DISTANCE,
  OBSCURATION,
  SURROUNDINGS,
  THICKNESS,
  WEIGHT,
} from './lens-specs.ts';
import { finishSlots, sceneSlots } from './scene-parameters.ts';
import type { Lens, Project, Surface } from './model.ts';

/** One number of a project: its address for people and formulas, its path for edits, its value. */
export interface Parameter {
  /** Such as `lenses.tide.surfaces.l2_front.radius`. */
  readonly address: string;
  /** Where the value lies in the document, such as `lenses.tide.surfaces.l2_front.shape.radius`. */
  readonly path: string;
  readonly spec: ParameterSpec;
  /** Infinity for `"infinity"`. */
  readonly value: number;
  /** Path of the object that holds it, where the document has none yet. */
  readonly absent?: string;
}

/** Parameters without their values. */
type Slots = readonly Omit<Parameter, 'value'>[];

interface Slot {
  readonly spec: ParameterSpec;
  readonly path: string;
  /** Its address from the surface; the id of its spec when left out. */
  readonly at?: string;
  /** Where the object lies that holds it, when the surface has none yet. */
  readonly absent?: string;
}

/** Every parameter slot of a surface, relative to the surface. */
function surfaceSlots(surface: Surface): Slot[] {
  const slots: Slot[] = (shapeDefinition(surface.shape.kind)?.parameters ?? []).map((spec) => ({
    spec,
    path: `shape.${spec.id}`,
  }));
  for (const spec of (surface.phase && phaseDefinition(surface.phase.kind)?.parameters) ?? [])
    slots.push({ spec, at: `phase.${spec.id}`, path: `phase.${spec.id}` });
  if (surface.after) slots.push({ spec: THICKNESS, path: 'after.thickness' });
  if (surface.after)
    slots.push(
      ...GRADIENT_SPECS.map((spec) => ({
        spec,
        at: `gradient.${spec.id}`,
        path: `after.gradient.${spec.id}`,
        ...(!surface.after!.gradient && { absent: 'after.gradient' }),
      })),
    );
  const area = (kind: string, at: string) => {
    for (const spec of [...(areaDefinition(kind)?.parameters ?? []), ...AREA_PLACE])
      slots.push({
        spec,
        at: at === 'aperture' && spec.id === 'semi' ? 'semi_aperture' : `${at}.${spec.id}`,
        path: `${at}.${spec.id}`,
      });
  };
  if (surface.aperture.kind !== 'automatic') area(surface.aperture.kind, 'aperture');
  for (const { id, kind } of surface.obscurations ?? []) area(kind, `obscurations.${id}`);
  // An unmoved surface has its frame's numbers too, all 0: they can be set, scanned and toleranced.
  slots.push(
    ...FRAME_SPECS.map((spec) => ({
      spec,
      path: `frame.${spec.id}`,
      ...(!surface.frame && { absent: 'frame' }),
    })),
  );
  if (surface.after)
    slots.push(
      ...BEHIND_SPECS.map((spec) => ({
        spec,
        at: `behind.${spec.id}`,
        path: `behind.${spec.id}`,
        ...(!surface.behind && { absent: 'behind' }),
      })),
    );
  return slots;
}

/** The slots of a lens but for those of its surfaces. */
function headSlots(lens: Lens): Omit<Parameter, 'value'>[] {
  const at = `lenses.${lens.id}`;
  const slots: Omit<Parameter, 'value'>[] = [
    { address: `${at}.object.distance`, path: `${at}.object.distance`, spec: OBJECT_DISTANCE },
    { address: `${at}.aperture.value`, path: `${at}.aperture.value`, spec: apertureSpec(lens.aperture.kind) },
    { address: `${at}.pupil.obscuration`, path: `${at}.pupil.obscuration`, spec: OBSCURATION },
  ];
  for (const point of lens.fields.points) {
    for (const spec of [...fieldSpecs(lens.fields.kind), WEIGHT]) {
      slots.push({
        address: `${at}.fields.${point.id}.${spec.id}`,
        path: `${at}.fields.points.${point.id}.${spec.id}`,
        spec,
      });
    }
  }
  for (const wavelength of lens.wavelengths) {
    for (const spec of [NM, WEIGHT]) {
      const address = `${at}.wavelengths.${wavelength.id}.${spec.id}`;
      slots.push({ address, path: address, spec });
    }
  }
  return slots;
}

const lensSlots = (lens: Lens): Slots => [
  ...headSlots(lens),
  ...lens.surfaces.flatMap((surface) => slotsOfSurface(lens.id, surface)),
];

const KNOWN_SLOTS = new WeakMap<Surface, { readonly lens: string; readonly slots: Slots }>();

/** The slots of a surface under their whole addresses: kept as long as the surface is the same, since they are asked for with every edit. */
function slotsOfSurface(lens: string, surface: Surface): Slots {
  const known = KNOWN_SLOTS.get(surface);
  if (known?.lens === lens) return known.slots;
  const base = `lenses.${lens}.surfaces.${surface.id}`;
  const slots = surfaceSlots(surface).map(({ spec, path, at = spec.id, absent }) => ({
    address: `${base}.${at}`,
    path: `${base}.${path}`,
    spec,
    ...(absent && { absent: `${base}.${absent}` }),
  }));
  KNOWN_SLOTS.set(surface, { lens, slots });
  return slots;
}

function projectSlots(project: Project): Omit<Parameter, 'value'>[] {
  const around = SURROUNDINGS.map((spec) => ({
    address: `surroundings.${spec.id}`,
    path: `surroundings.${spec.id}`,
    spec,
    ...(!project.surroundings && { absent: 'surroundings' }),
  }));
  const materials = project.materials
    .filter(({ id }) => id !== AIR.id && id !== VACUUM.id)
    .flatMap(({ id, dispersion, melt }) => [
      ...(MATERIAL_SPECS[dispersion.kind] ?? []).map((spec) => ({
        address: `materials.${id}.${spec.id}`,
        path: `materials.${id}.dispersion.${spec.id}`,
        spec,
      })),
      ...MELT_SPECS.map((spec) => ({
        address: `materials.${id}.melt.${spec.id}`,
        path: `materials.${id}.melt.${spec.id}`,
        spec,
        ...(!melt && { absent: `materials.${id}.melt` }),
      })),
    ]);
  return [...around, ...materials];
}

/** Every parameter of a project that its document holds, in its order. `findParameter` knows those of frames that are not there yet, too. */
export function listParameters(project: Project): Parameter[] {
  return [
    ...project.lenses.flatMap(lensSlots),
    ...(project.scenes ?? []).flatMap(sceneSlots),
    ...(project.finishes ?? []).flatMap(finishSlots),
    ...(project.states ?? []).flatMap(({ id }) => stateSlots(project, id)),
    ...projectSlots(project),
  ]
    .filter(({ absent }) => !absent)
    .map((slot) => ({
      ...slot,
      value: extentToNumber((valueAt(project, slot.path) as Extent | undefined) ?? slot.spec.fallback ?? NaN),
    }));
}

/** The slots among which an address can be. */
function slotsOf(project: Project, address: string): Slots {
  const [root, id, list, surface] = address.split('.');
  const named = <T extends { readonly id: string }>(list: readonly T[] | undefined, slots: (one: T) => Slots) => {
    const one = list?.find((entry) => entry.id === id);
    return one ? slots(one) : [];
  };
  switch (root) {
    case 'lenses':
      return named(project.lenses, (lens) => {
        if (list !== 'surfaces') return headSlots(lens);
        const one = lens.surfaces.find((entry) => entry.id === surface);
        return one ? slotsOfSurface(id, one) : [];
      });
    case 'scenes':
      return named(project.scenes, sceneSlots);
    case 'finishes':
      return named(project.finishes, finishSlots);
    case 'states':
      return stateSlots(project, id);
    default:
      return projectSlots(project);
  }
}

/** The numbers that differ in a state, each with the meaning and the limits that it has in the design. */
function stateSlots(project: Project, id: string): Slots {
  const overrides = project.states?.find((state) => state.id === id)?.overrides ?? [];
  return overrides.flatMap((override) => {
    if (override.address.startsWith('states.')) return [];
    const slot = slotsOf(project, override.address).find(({ address }) => address === override.address);
    if (!slot) return [];
    const path = `states.${id}.overrides.${override.id}.value`;
    return [{ address: `states.${id}.${override.address}`, path, spec: slot.spec }];
  });
}

/** The parameter with an address. Fails, naming the address, when there is none. */
export function findParameter(project: Project, address: string): Outcome<Parameter> {
  const slots = slotsOf(project, address);
  const slot = slots.find((entry) => entry.address === address);
  if (!slot) return failure(`There is no parameter ${address}.`);
  const stored = valueAt(project, slot.path) as Extent | undefined;
  return success({ ...slot, value: extentToNumber(stored ?? slot.spec.fallback ?? NaN) });
}

/**
 * The edit that gives a parameter a value. Fails with a sentence when the value is not legal for it.
 *
 * @param next - in the parameter's unit; Infinity where the parameter allows it
 */
export function setParameter(parameter: Parameter, next: number): Outcome<Edit> {
  const { spec } = parameter;
  const wrong = objection(spec, next);
  if (wrong) return failure(wrong);
  const value = spec.allowInfinity ? numberToExtent(next) : next;
  if (parameter.absent) return success({ kind: 'set', path: parameter.absent, value: { [spec.id]: value } });
  return success({ kind: 'set', path: parameter.path, value });
}
