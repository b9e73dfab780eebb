import type { FaceForm } from '../bodies/face-form.ts';
import type { Kind } from '../math/kinds.ts';
import type { CellMap } from './cells.ts';

/** A straight piece from one end to the other, in the coordinates of the detector. */
export type Piece = readonly [x1: number, y1: number, z1: number, x2: number, y2: number, z2: number];

/** Everything the rest of Ulvex knows about one place that a detector can have by itself. */
export interface PlaceDefinition<R extends { readonly kind: string }> extends Kind<R> {
  /** As it is chosen first. */
  readonly first: R;
  /** How many times its columns and rows it has cells; once if left out. */
  layers?(record: R): number;
  map(record: R, columns: number, rows: number): CellMap;
  /** The face in space that light passes unhindered; left out by what counts elsewhere. */
  face?(record: R): FaceForm;
  /** How it is drawn. */
  outline(record: R): readonly Piece[];
}

/** Types a definition by its record without naming the type twice. */
export function definePlace<R extends { readonly kind: string }>(definition: PlaceDefinition<R>): PlaceDefinition<R> {
  return definition;
}

const AROUND = 48;

/** A circle, its places by cosine and sine times the radius. */
export function ring(radius: number, at: (a: number, b: number) => readonly [number, number, number]): Piece[] {
  const place = (step: number) => {
    const turn = (2 * Math.PI * step) / AROUND;
    return at(radius * Math.cos(turn), radius * Math.sin(turn));
  };
  return Array.from({ length: AROUND }, (_, k) => [...place(k), ...place(k + 1)] as const);
}

/** The four sides of a rectangle across the z axis, at a z. */
export function sides(
  [left, right]: readonly [number, number],
  [low, high]: readonly [number, number],
  z: number,
): Piece[] {
  const corners = [
    [left, low],
    [right, low],
    [right, high],
    [left, high],
  ];
  return corners.map(([x, y], k) => [x, y, z, corners[(k + 1) % 4][0], corners[(k + 1) % 4][1], z]);
}
