import type { ParameterSpec } from '../math/parameter.ts';

const RADIAL = [2, 4, 6, 8] as const;
const AXIAL = [1, 2, 3, 4] as const;

/** How the square of an index changes inside a medium: n² = n₀² + Σ Rᵢ rⁱ + Σ Zᵢ zⁱ, from the vertex in front. */
export type Gradient = {
  readonly [key in `r${(typeof RADIAL)[number]}` | `z${(typeof AXIAL)[number]}`]?: number;
};

/** The numbers of a gradient. */
export const GRADIENT_SPECS: readonly ParameterSpec[] = [
  ...RADIAL.map((power) => ({ letter: 'r', power, along: 'the distance r from the axis' })),
  ...AXIAL.map((power) => ({ letter: 'z', power, along: 'the depth z after the vertex in front' })),
].map(({ letter, power, along }) => ({
  id: `${letter}${power}`,
  title: `${letter.toUpperCase()}${power}`,
  meaning:
    `Coefficient of ${letter}^${power} in the square of the index, n² = n₀² + Σ R r^i + Σ Z z^i, over ` +
    `${along}; n₀ is the index of the material.`,
  unit: `mm^-${power}`,
  kind: 'number',
  fallback: 0,
  transform: 'value',
  power,
}));

/** A gradient made ready for tracing, without the constant n₀². */
export interface CompiledGradient {
  /** 2R₂: the bend of n² over r on the axis. */
  readonly bend: number;
  readonly axial: boolean;
  /** n² − n₀² and its gradient at a point, written into `out` as value, x, y, z. */
  evaluate(x: number, y: number, z: number, out: Float64Array): void;
}

/** Makes a gradient ready for tracing; null where all its numbers are 0. */
export function compileGradient(gradient: Gradient | undefined): CompiledGradient | null {
  const radial = RADIAL.map((power) => gradient?.[`r${power}`] ?? 0);
  const axial = AXIAL.map((power) => gradient?.[`z${power}`] ?? 0);
  if ([...radial, ...axial].every((value) => value === 0)) return null;
  return {
    bend: 2 * radial[0],
    axial: axial.some((value) => value !== 0),
    evaluate(x, y, z, out) {
      const u = x * x + y * y;
      let [value, slope] = [0, 0];
      for (let i = radial.length - 1; i >= 0; i--) {
        slope = slope * u + value;
        value = value * u + radial[i];
      }
      slope = slope * u + value;
      let [depth, rise] = [0, 0];
      for (let i = axial.length - 1; i >= 0; i--) {
        rise = rise * z + depth;
        depth = depth * z + axial[i];
      }
      rise = rise * z + depth;
      out[0] = value * u + depth * z;
      out[1] = 2 * x * slope;
      out[2] = 2 * y * slope;
      out[3] = rise;
    },
  };
}
