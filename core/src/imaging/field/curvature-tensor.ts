import type { Triple } from '../../math/rigid.ts';

/**
 * A symmetric tensor in space, xx, xy, xz, yy, yz, zz: curvatures of a wavefront in the plane across its ray, 1/mm, positive where its
 * focus lies ahead.
 */
export type Tensor = readonly [number, number, number, number, number, number];

export const NO_TENSOR: Tensor = [0, 0, 0, 0, 0, 0];

export const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const scaled = (a: Triple, by: number): Triple => [a[0] * by, a[1] * by, a[2] * by];
export const unit = (a: Triple) => scaled(a, 1 / Math.hypot(...a));

/** The tensor's value between two directions. */
export const form = (q: Tensor, a: Triple, b: Triple) =>
  a[0] * (q[0] * b[0] + q[1] * b[1] + q[2] * b[2]) +
  a[1] * (q[1] * b[0] + q[3] * b[1] + q[4] * b[2]) +
  a[2] * (q[2] * b[0] + q[4] * b[1] + q[5] * b[2]);

/** The tensor Σ qᵢⱼ eᵢeⱼ of two unit vectors. */
export function tensorOf(a: Triple, b: Triple, aa: number, ab: number, bb: number): Tensor {
  const at = (i: number, j: number) => aa * a[i] * a[j] + ab * (a[i] * b[j] + b[i] * a[j]) + bb * b[i] * b[j];
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 1), at(1, 2), at(2, 2)];
}

/** Two unit vectors across a direction, the first as near as can be to one that is wished for. */
export function across(direction: Triple, wish: Triple): [Triple, Triple] {
  const along = dot(wish, direction);
  let first: Triple = [wish[0] - along * direction[0], wish[1] - along * direction[1], wish[2] - along * direction[2]];
  if (Math.hypot(...first) < 1e-9) first = cross(direction, Math.abs(direction[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]);
  first = unit(first);
  return [first, cross(direction, first)];
}

/** The tensor in the coordinates that `turn` takes directions to. */
export function turned(q: Tensor, turn: (v: Triple) => Triple): Tensor {
  const axes = [turn([1, 0, 0]), turn([0, 1, 0]), turn([0, 0, 1])];
  const of = [
    [q[0], q[1], q[2]],
    [q[1], q[3], q[4]],
    [q[2], q[4], q[5]],
  ];
  const at = (a: number, b: number) => {
    let sum = 0;
    for (let i = 0; i < 3; i++) for (let k = 0; k < 3; k++) sum += of[i][k] * axes[i][a] * axes[k][b];
    return sum;
  };
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 1), at(1, 2), at(2, 2)];
}

/** A curvature with an imaginary part, which is that of a Gaussian beam: Q = −1/(z + i z_R) along a principal section. */
export interface BeamTensor {
  readonly re: Tensor;
  readonly im: Tensor;
}

/** The curvature a way further on: Q/(1 − dQ) in the plane across the ray. */
export function carried({ re, im }: BeamTensor, direction: Triple, way: number): BeamTensor {
  const [a, b] = across(direction, [0, 1, 0]);
  const [aa, ab, bb] = [
    [a, a],
    [a, b],
    [b, b],
  ].map(([u, v]): Complex => [form(re, u, v), form(im, u, v)]);
  const area = minus(times(aa, bb), times(ab, ab));
  const one = (value: Complex): Complex => [1 - way * value[0], -way * value[1]];
  const whole = minus(times(one(aa), one(bb)), times([way * way, 0], times(ab, ab)));
  const less = (value: Complex): Complex => [value[0] - way * area[0], value[1] - way * area[1]];
  const [p, q, r] = [over(less(aa), whole), over(ab, whole), over(less(bb), whole)];
  return { re: tensorOf(a, b, p[0], q[0], r[0]), im: tensorOf(a, b, p[1], q[1], r[1]) };
}

type Complex = readonly [number, number];
const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
const minus = ([a, b]: Complex, [c, d]: Complex): Complex => [a - c, b - d];
const over = ([a, b]: Complex, [c, d]: Complex): Complex => {
  const size = c * c + d * d;
  return [(a * c + b * d) / size, (b * c - a * d) / size];
};
