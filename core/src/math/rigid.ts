import { rotationXYZ } from './rotation.ts';

export type Triple = readonly [x: number, y: number, z: number];

/** A rigid motion: p ↦ shift + rotation·p. As the pose of a thing it takes the thing's own coordinates to those around it. */
export interface Rigid {
  readonly shift: Triple;
  /** Row by row in nine numbers. */
  readonly rotation: Float64Array;
}

const UNTURNED = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);

export const AT_REST: Rigid = { shift: [0, 0, 0], rotation: UNTURNED };

/** Moved by (x, y, z), not turned. */
export function shifted(x: number, y: number, z: number): Rigid {
  return { shift: [x, y, z], rotation: UNTURNED };
}

/** Shifts and tilts as the document holds them: p ↦ (dx, dy, dz) + Rx(tx)·Ry(ty)·Rz(tz)·p; mm and degrees, 0 where left out. */
export function rigidOf({
  dx = 0,
  dy = 0,
  dz = 0,
  tx = 0,
  ty = 0,
  tz = 0,
}: Partial<Record<'dx' | 'dy' | 'dz' | 'tx' | 'ty' | 'tz', number>>): Rigid {
  return { shift: [dx, dy, dz], rotation: tx || ty || tz ? rotationXYZ(tx, ty, tz) : UNTURNED };
}

/** A point moved. */
export function movePoint({ shift, rotation: r }: Rigid, [x, y, z]: Triple): [number, number, number] {
  return [
    shift[0] + r[0] * x + r[1] * y + r[2] * z,
    shift[1] + r[3] * x + r[4] * y + r[5] * z,
    shift[2] + r[6] * x + r[7] * y + r[8] * z,
  ];
}

/** A direction turned. */
export function turnDirection({ rotation }: Rigid, direction: Triple): [number, number, number] {
  return movePoint({ shift: AT_REST.shift, rotation }, direction);
}

/** `inner` first, then `outer`. */
export function compose(outer: Rigid, inner: Rigid): Rigid {
  const shift = movePoint(outer, inner.shift);
  if (inner.rotation === UNTURNED) return { shift, rotation: outer.rotation };
  if (outer.rotation === UNTURNED) return { shift, rotation: inner.rotation };
  const [a, b] = [outer.rotation, inner.rotation];
  const rotation = new Float64Array(9);
  for (let row = 0; row < 9; row += 3)
    for (let column = 0; column < 3; column++)
      rotation[row + column] = a[row] * b[column] + a[row + 1] * b[3 + column] + a[row + 2] * b[6 + column];
  return { shift, rotation };
}

export function inverse({ shift: [x, y, z], rotation: r }: Rigid): Rigid {
  const back = r === UNTURNED ? UNTURNED : Float64Array.of(r[0], r[3], r[6], r[1], r[4], r[7], r[2], r[5], r[8]);
  return {
    shift: [
      -(back[0] * x + back[1] * y + back[2] * z),
      -(back[3] * x + back[4] * y + back[5] * z),
      -(back[6] * x + back[7] * y + back[8] * z),
    ],
    rotation: back,
  };
}

/**
 * The axes behind a mirror with the unit normal `normal`: z points against the reflected axis, as it does behind a mirror that is
 * square to it, so that thicknesses keep their signs. M·diag(1, 1, −1) with M = I − 2NNᵀ.
 */
export function foldedAxes([x, y, z]: Triple): Float64Array {
  return Float64Array.of(
    1 - 2 * x * x,
    -2 * x * y,
    2 * x * z,
    -2 * y * x,
    1 - 2 * y * y,
    2 * y * z,
    -2 * z * x,
    -2 * z * y,
    2 * z * z - 1,
  );
}

/** Whether a motion only moves along z. */
export function alongZ({ shift: [x, y], rotation }: Rigid): boolean {
  return x === 0 && y === 0 && (rotation === UNTURNED || rotation.every((value, i) => value === UNTURNED[i]));
}

/** Whether a motion keeps the plane x = 0: no shift along x, turns about x alone. */
export function keepsX0({ shift, rotation: r }: Rigid): boolean {
  return shift[0] === 0 && r[1] === 0 && r[2] === 0 && r[3] === 0 && r[6] === 0;
}

/** A motion that depends on one number, with its derivative by that number; null where it does not depend on it. */
export interface ChangingRigid {
  readonly value: Rigid;
  readonly change: Rigid | null;
}

/** The derivative of `rigidOf` by one of its numbers: per mm for shifts, per degree for tilts. */
export function rigidChange(
  given: Partial<Record<'dx' | 'dy' | 'dz' | 'tx' | 'ty' | 'tz', number>>,
  by: 'dx' | 'dy' | 'dz' | 'tx' | 'ty' | 'tz',
): Rigid {
  const axis = 'xyz'.indexOf(by[1]);
  if (by[0] === 'd') {
    const shift: [number, number, number] = [0, 0, 0];
    shift[axis] = 1;
    return { shift, rotation: new Float64Array(9) };
  }
  // R = Rx·Ry·Rz; a derivative by an angle turns by a quarter more about that axis and leaves out what lies along it.
  const { tx = 0, ty = 0, tz = 0 } = given;
  const factors = [rotationXYZ(tx, 0, 0), rotationXYZ(0, ty, 0), rotationXYZ(0, 0, tz)];
  const ahead = [rotationXYZ(tx + 90, 0, 0), rotationXYZ(0, ty + 90, 0), rotationXYZ(0, 0, tz + 90)][axis];
  ahead[4 * axis] = 0;
  factors[axis] = ahead.map((entry) => (entry * Math.PI) / 180);
  return { shift: [0, 0, 0], rotation: times(times(factors[0], factors[1]), factors[2]) };
}

function times(a: Float64Array, b: Float64Array): Float64Array {
  const product = new Float64Array(9);
  for (let row = 0; row < 9; row += 3)
    for (let column = 0; column < 3; column++)
      product[row + column] = a[row] * b[column] + a[row + 1] * b[3 + column] + a[row + 2] * b[6 + column];
  return product;
}

function sum(a: Rigid, b: Rigid): Rigid {
  return {
    shift: [a.shift[0] + b.shift[0], a.shift[1] + b.shift[1], a.shift[2] + b.shift[2]],
    rotation: a.rotation.map((entry, i) => entry + b.rotation[i]),
  };
}

/** `compose` with derivatives: (AB)′ = A′B + AB′. */
export function composeChanging(outer: ChangingRigid, inner: ChangingRigid): ChangingRigid {
  const value = compose(outer.value, inner.value);
  const byOuter = outer.change && {
    shift: movePoint(outer.change, inner.value.shift),
    rotation: times(outer.change.rotation, inner.value.rotation),
  };
  const byInner = inner.change && {
    shift: turnDirection(outer.value, inner.change.shift),
    rotation: times(outer.value.rotation, inner.change.rotation),
  };
  return { value, change: byOuter && byInner ? sum(byOuter, byInner) : (byOuter ?? byInner) };
}

/** `inverse` with derivatives: (A⁻¹)′ = −A⁻¹A′A⁻¹. */
export function inverseChanging({ value, change }: ChangingRigid): ChangingRigid {
  const back = inverse(value);
  if (!change) return { value: back, change: null };
  const rotation = times(times(back.rotation, change.rotation), back.rotation).map((entry) => -entry);
  const moved = movePoint(change, back.shift);
  const [x, y, z] = turnDirection(back, moved);
  return { value: back, change: { shift: [-x, -y, -z], rotation } };
}

/** The derivative of `foldedAxes` where the normal changes by `change`. */
export function foldedChange([x, y, z]: Triple, [dx, dy, dz]: Triple): Float64Array {
  return Float64Array.of(
    -4 * x * dx,
    -2 * (x * dy + y * dx),
    2 * (x * dz + z * dx),
    -2 * (x * dy + y * dx),
    -4 * y * dy,
    2 * (y * dz + z * dy),
    -2 * (x * dz + z * dx),
    -2 * (y * dz + z * dy),
    4 * z * dz,
  );
}
