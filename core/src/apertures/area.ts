import type { Kind } from '../math/kinds.ts';
import type { ParameterSpec } from '../math/parameter.ts';

/** Part of the x–y plane of a surface: what an aperture lets through, or an obscuration covers. */
export interface CompiledArea {
  contains(x: number, y: number): boolean;
  /** Largest distance from the axis of the surface at which it contains anything, mm; Infinity for unbounded ones. */
  readonly reach: number;
  /** Whether it is its own mirror image in x = 0. */
  readonly mirrorX: boolean;
  /** Radius where it is no more than a circle about the axis: the kernels know those. */
  readonly circle?: number;
}

/** Everything the rest of Ulvex knows about one kind of area. */
export interface AreaDefinition<R extends { readonly kind: string }> extends Kind<R> {
  /** The area about its own centre, before it is placed; `AREA_PLACE` comes on top of its numbers. */
  compile(record: R): CompiledArea;
}

/** Types a definition by its record without naming the type twice. */
export function defineArea<R extends { readonly kind: string }>(definition: AreaDefinition<R>): AreaDefinition<R> {
  return definition;
}

/** Where an area lies on its surface: its centre, and a turn about it. */
export interface AreaPlace {
  readonly dx?: number;
  readonly dy?: number;
  readonly turn?: number;
}

/** A length in mm of an area. */
export function size(id: string, title: string, meaning: string): ParameterSpec {
  return { id, title, meaning, unit: 'mm', kind: 'length', above: 0, transform: 'value' };
}

const shift = (axis: 'x' | 'y'): ParameterSpec => ({
  id: `d${axis}`,
  title: `Centre ${axis}`,
  meaning: `Centre of the area in ${axis}, from the axis of the surface.`,
  unit: 'mm',
  kind: 'length',
  fallback: 0,
  transform: 'value',
});

export const AREA_PLACE: readonly ParameterSpec[] = [
  shift('x'),
  shift('y'),
  {
    id: 'turn',
    title: 'Turn',
    meaning: 'Right-handed turn of the area about its centre, from x toward y.',
    unit: '°',
    kind: 'angle',
    fallback: 0,
    transform: 'value',
  },
];

/** An area moved to its place. */
export function placeArea(area: CompiledArea, { dx = 0, dy = 0, turn = 0 }: AreaPlace): CompiledArea {
  const round = area.circle !== undefined;
  if (dx === 0 && dy === 0 && (turn === 0 || round)) return area;
  const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  return {
    contains: (x, y) => area.contains(c * (x - dx) + s * (y - dy), c * (y - dy) - s * (x - dx)),
    reach: area.reach + Math.hypot(dx, dy),
    mirrorX: dx === 0 && (round || (turn % 180 === 0 && area.mirrorX)),
  };
}
