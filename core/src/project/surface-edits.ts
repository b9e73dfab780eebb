import type { AreaDefinition } from '../apertures/area.ts';
import { areaDefinition, type ApertureArea, type ObscurationArea } from '../apertures/registry.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { phaseDefinition, type Phase } from '../phases/registry.ts';
import { numberToExtent } from '../math/parameter.ts';
import type { Grid } from '../math/spline2d.ts';
import { shapeDefinition, shapeNumbers, type Shape, type ShapeKind } from '../shapes/registry.ts';
import type { Edit } from './edit.ts';
import { surfaceTitle, type Gesture } from './lens-edits.ts';
import type { Lens, Obscuration, Surface, SurfaceAperture, SurfaceFrame } from './model.ts';

function find(lens: Lens, id: string): { surface: Surface; path: string; title: string } {
  const index = lens.surfaces.findIndex((surface) => surface.id === id);
  if (index < 0) throw new Error(`the lens ${lens.id} has no surface ${id}`);
  return {
    surface: lens.surfaces[index],
    path: `lenses.${lens.id}.surfaces.${id}`,
    title: surfaceTitle(lens, index),
  };
}

/**
 * Another kind of shape for a surface: numbers that both kinds have are taken over, the others begin at their fallbacks, needed ones
 * without a fallback as a flat has them.
 */
export function setShapeKind(lens: Lens, id: string, kind: ShapeKind): Gesture {
  const { surface, path, title } = find(lens, id);
  const definition = shapeDefinition(kind)!;
  const before = surface.shape as unknown as Readonly<Record<string, unknown>>;
  const numbers = definition.parameters.flatMap((spec) => {
    if (before[spec.id] !== undefined) return [[spec.id, before[spec.id]] as const];
    if (spec.fallback !== undefined) return [];
    return [[spec.id, spec.allowInfinity ? 'infinity' : (spec.min ?? 1)] as const];
  });
  const shape = { kind, ...Object.fromEntries(numbers) } as Shape;
  return {
    edits: [{ kind: 'set', path: `${path}.shape`, value: shape }],
    label: `${title}: ${definition.title.toLowerCase()}`,
    focus: id,
  };
}

/** Puts a grid of sags on a surface: its conic stays below it. */
export function setSagGrid(lens: Lens, id: string, grid: Grid): Gesture {
  const { surface, path, title } = find(lens, id);
  const { radius, conic } = shapeNumbers(surface.shape);
  const shape: Shape = {
    kind: 'sampled_sag',
    radius: numberToExtent(radius),
    ...(conic !== 0 && { conic }),
    grid,
  };
  return {
    edits: [{ kind: 'set', path: `${path}.shape`, value: shape }],
    label: `${title}: sampled sag`,
    focus: id,
  };
}

/** Lets a surface diffract in another way, or not at all for null; numbers that both ways have are taken over. */
export function setPhaseKind(lens: Lens, id: string, kind: Phase['kind'] | null): Gesture {
  const { surface, path, title } = find(lens, id);
  const definition = kind === null ? undefined : phaseDefinition(kind)!;
  const before = (surface.phase ?? {}) as Readonly<Record<string, unknown>>;
  const numbers = definition?.parameters.flatMap(({ id: name, fallback }) => {
    if (before[name] !== undefined) return [[name, before[name]] as const];
    return fallback === undefined ? [[name, 0] as const] : [];
  });
  return {
    edits: [{ kind: 'set', path: `${path}.phase`, value: numbers && { kind, ...Object.fromEntries(numbers) } }],
    label: `${title}: ${definition?.title.toLowerCase() ?? 'diffracts no more'}`,
    focus: id,
  };
}

/** An area of a kind that is about `semi` mm large. */
function areaOf(definition: AreaDefinition<ObscurationArea>, semi: number): ObscurationArea {
  if (definition.kind === 'polygon') {
    const corners = Array.from({ length: 6 }, (_, i) => {
      const angle = (Math.PI * (2 * i + 1)) / 6;
      return [semi * Math.cos(angle), semi * Math.sin(angle)].map(tidy) as [number, number];
    });
    return { kind: 'polygon', points: corners };
  }
  const numbers = definition.parameters.flatMap((spec) => {
    if (spec.fallback !== undefined) return [];
    if (spec.id === 'arms') return [[spec.id, 3] as const];
    return [[spec.id, tidy(spec.id === 'width' ? semi / 10 : semi)] as const];
  });
  return { kind: definition.kind, ...Object.fromEntries(numbers) } as ObscurationArea;
}

const tidy = (value: number) => Math.round(value * 1000) / 1000;

/** Another kind of aperture, as large as the present semi-aperture `semi` in mm. */
export function setApertureKind(lens: Lens, id: string, kind: SurfaceAperture['kind'], semi: number): Gesture {
  const { path, title } = find(lens, id);
  const definition = areaDefinition(kind);
  const value = definition ? (areaOf(definition, semi) as ApertureArea) : { kind: 'automatic' };
  return {
    edits: [{ kind: 'set', path: `${path}.aperture`, value }],
    label: `${title}: ${definition ? `aperture ${definition.title.toLowerCase()}` : 'automatic aperture'}`,
    focus: id,
  };
}

/** Puts an obscuration on a surface, a third as large as its semi-aperture `semi` in mm. */
export function addObscuration(lens: Lens, id: string, kind: ObscurationArea['kind'], semi: number): Gesture {
  const { surface, path, title } = find(lens, id);
  const present = surface.obscurations ?? [];
  let number = 1;
  while (present.some((entry) => entry.id === `${kind}${number}`)) number++;
  const definition = areaDefinition(kind)!;
  const size = kind === 'spider' ? semi : semi / 3;
  const entry: Obscuration = { id: `${kind}${number}`, ...areaOf(definition, size) };
  return {
    edits: [{ kind: 'set', path: `${path}.obscurations`, value: [...present, entry] }],
    label: `${title}: obscuration`,
    focus: id,
  };
}

/** Takes an obscuration off a surface. */
export function removeObscuration(lens: Lens, id: string, which: string): Gesture {
  const { surface, path, title } = find(lens, id);
  const rest = (surface.obscurations ?? []).filter((entry) => entry.id !== which);
  return {
    edits: [{ kind: 'set', path: `${path}.obscurations`, value: rest.length > 0 ? rest : undefined }],
    label: `${title}: obscuration taken off`,
    focus: id,
  };
}

/** What follows a surface that is moved: see `SurfaceFrame.axis`; an id instead: all up to that surface goes along, the rest stays. */
export type Follow = NonNullable<SurfaceFrame['axis']> | { readonly upTo: string };

/** How things follow a surface as the document has it. */
export function followOf(lens: Lens, id: string): Follow {
  const { surface } = find(lens, id);
  const axis = surface.frame?.axis ?? 'return';
  const end = lens.surfaces.find((entry) => entry.behind?.returnTo === id);
  return axis === 'carry' && end ? { upTo: end.id } : axis;
}

/** Chooses what follows a surface that is moved. Fails where a group would end before it begins. */
export function setFollow(lens: Lens, id: string, follow: Follow): Outcome<Gesture> {
  const { surface, path, title } = find(lens, id);
  const edits: Edit[] = [];
  const order = lens.surfaces.map((entry) => entry.id);
  for (const entry of lens.surfaces) {
    if (entry.behind?.returnTo !== id) continue;
    const { returnTo: _ended, ...rest } = entry.behind;
    const value = Object.keys(rest).length > 0 ? rest : undefined;
    edits.push({ kind: 'set', path: `lenses.${lens.id}.surfaces.${entry.id}.behind`, value });
  }
  const axis = typeof follow === 'string' ? follow : 'carry';
  const { axis: _before, ...frame } = surface.frame ?? {};
  edits.push({ kind: 'set', path: `${path}.frame`, value: axis === 'return' ? frame : { ...frame, axis } });
  if (typeof follow !== 'string') {
    if (order.indexOf(follow.upTo) < order.indexOf(id)) return failure('A group ends behind where it begins.');
    const end = find(lens, follow.upTo);
    if (end.surface.after === null) return failure('Behind the image surface nothing is left that could stay.');
    edits.push({ kind: 'set', path: `${end.path}.behind`, value: { ...end.surface.behind, returnTo: id } });
  }
  const label = {
    return: `${title} is moved alone`,
    carry: `${title} takes along what follows`,
    reflect: `${title} reflects the axis`,
  };
  const grouped = typeof follow !== 'string' && `${title} is moved with all up to ${find(lens, follow.upTo).title}`;
  return success({ edits, label: grouped || label[axis], focus: id });
}

/** Corners of a polygon as people write them: `x y; x y; …`. */
export function cornersText(points: readonly (readonly [number, number])[]): string {
  return points.map(([x, y]) => `${x} ${y}`).join('; ');
}

/** Reads corners as `x y; x y; …`, in mm. Fails, saying which one is wrong. */
export function readCorners(text: string): Outcome<[number, number][]> {
  const parts = text.split(/[;\n]/).filter((part) => part.trim() !== '');
  if (parts.length < 3) return failure('A polygon needs three corners or more: x y; x y; x y.');
  if (parts.length > 500) return failure('At most 500 corners.');
  const points: [number, number][] = [];
  for (const [i, part] of parts.entries()) {
    const numbers = part
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    if (numbers.length !== 2 || !numbers.every(Number.isFinite))
      return failure(`Corner ${i + 1}, “${part.trim()}”, is not two numbers.`);
    points.push([numbers[0], numbers[1]]);
  }
  return success(points);
}
