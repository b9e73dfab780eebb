import type { FaceForm } from '../../bodies/face-form.ts';
import type { Kind } from '../../math/kinds.ts';

/** Writes a start into `out`: place, then the normal there, in the coordinates of the source; drawn by two numbers between 0 and 1. */
export type Start = (u: number, v: number, out: Float64Array) => void;

/** A region that light starts from, made ready: about the origin of the source, toward +z, or outward where it is closed. */
export interface CompiledRegion {
  readonly start: Start;
  /** What the compiled tracer (`kernels/scene`) needs to draw starts by itself; left out by what only its own TypeScript can. */
  readonly plain?: PlainRegion;
  /** Of a flat one that starts can have a regular order on. */
  readonly flat?: { readonly half: readonly [number, number]; readonly round: boolean; readonly inner: number };
}

/** Square of the dark middle's radius and how much the outer one exceeds it, or width and height. */
export type PlainRegion = readonly [kind: 'disc' | 'rectangle', first: number, second: number];

/** Everything the rest of Ulvex knows about one kind of region. */
export interface RegionDefinition<R extends { readonly kind: string }> extends Kind<R> {
  /** As it is chosen first. */
  readonly first: R;
  compile(record: R): CompiledRegion;
}

/** Types a definition by its record without naming the type twice. */
export function defineRegion<R extends { readonly kind: string }>(
  definition: RegionDefinition<R>,
): RegionDefinition<R> {
  return definition;
}

/** Starts in the plane z = 0, toward +z. */
export function inPlane(x: (u: number, v: number) => number, y: (u: number, v: number) => number): Start {
  return (u, v, out) => {
    out[0] = x(u, v);
    out[1] = y(u, v);
    out[2] = out[3] = out[4] = 0;
    out[5] = 1;
  };
}

/** Starts in that plane at a distance from the axis that one number draws. */
export function roundAxis(distance: (u: number) => number): Start {
  return inPlane(
    (u, v) => distance(u) * Math.cos(2 * Math.PI * v),
    (u, v) => distance(u) * Math.sin(2 * Math.PI * v),
  );
}

/** Starts on a face, along its outer normal. */
export function onFace(form: FaceForm): Start {
  const at = new Float64Array(3);
  return (u, v, out) => {
    form.spread(u, v, at);
    out.set(at);
    form.normal(at[0], at[1], at[2], at);
    out.set(at, 3);
  };
}
