import { Kinds } from '../math/kinds.ts';
import { placeArea, type AreaDefinition, type CompiledArea } from './area.ts';
import { circle } from './circle.ts';
import { ellipse } from './ellipse.ts';
import { polygon } from './polygon.ts';
import { rectangle } from './rectangle.ts';
import { spider } from './spider.ts';

/** What an aperture can be, in menu order. */
export const APERTURE_AREAS = [circle, rectangle, ellipse, polygon] as const;
/** What can stand in the way, in menu order. */
export const OBSCURATION_AREAS = [circle, rectangle, ellipse, polygon, spider] as const;

type RecordOf<D> = D extends AreaDefinition<infer R> ? R : never;
export type ApertureArea = RecordOf<(typeof APERTURE_AREAS)[number]>;
export type ObscurationArea = RecordOf<(typeof OBSCURATION_AREAS)[number]>;

/** Every kind of area. */
export const AREAS = OBSCURATION_AREAS;

/** Areas by kind. */
export const AREA_KINDS = new Kinds<AreaDefinition<ObscurationArea>>('area', AREAS);

/** The definition of a kind, or undefined for a word that is none. */
export const areaDefinition = (kind: string) => AREA_KINDS.find(kind);

/** Makes an area ready for use, at its place. Throws for a kind that is not registered: documents are validated before. */
export function compileArea(record: ObscurationArea): CompiledArea {
  return placeArea(AREA_KINDS.of(record.kind).compile(record), record);
}

/** What of a surface lets light through: inside of its aperture (where one is set), outside of all obscurations. */
export function clearArea(aperture: CompiledArea | null, covered: readonly CompiledArea[]): CompiledArea {
  const open = aperture ?? { contains: () => true, reach: Infinity, mirrorX: true, circle: Infinity };
  if (covered.length === 0) return open;
  return {
    contains: (x, y) => open.contains(x, y) && !covered.some((area) => area.contains(x, y)),
    reach: open.reach,
    mirrorX: open.mirrorX && covered.every((area) => area.mirrorX),
  };
}

/**
 * Where a predicate holds on a line: pairs from–to within ±`limit`. Edges are found to a millionth of the limit; parts narrower than
 * a four-hundredth of it may be missed.
 */
export function stretches(inside: (at: number) => boolean, limit: number): [from: number, to: number][] {
  const STEPS = 800;
  const at = (i: number) => limit * (-1 + (2 * i) / STEPS);
  const edge = (outside: number, within: number) => {
    for (let round = 0; round < 20; round++) {
      const middle = (outside + within) / 2;
      if (inside(middle)) within = middle;
      else outside = middle;
    }
    return within;
  };
  const pieces: [number, number][] = [];
  let from = inside(at(0)) ? at(0) : null;
  for (let i = 1; i <= STEPS; i++) {
    const here = inside(at(i));
    if (here && from === null) from = edge(at(i - 1), at(i));
    else if (!here && from !== null) {
      pieces.push([from, edge(at(i), at(i - 1))]);
      from = null;
    }
  }
  if (from !== null) pieces.push([from, limit]);
  return pieces;
}
