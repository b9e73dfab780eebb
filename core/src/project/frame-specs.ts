import type { ParameterSpec } from '../math/parameter.ts';

const value = (id: string, title: string, unit: string, kind: ParameterSpec['kind'], meaning: string) =>
  ({ id, title, unit, kind, meaning, transform: 'value' }) as const satisfies ParameterSpec;

const AXES = ['x', 'y', 'z'] as const;

/** Shift and tilt of a surface. */
export const FRAME_SPECS: readonly ParameterSpec[] = [
  ...AXES.map((axis) => ({
    ...value(
      `d${axis}`,
      `Shift ${axis}`,
      'mm',
      'length',
      `Shift of the surface along ${axis} of the axis that comes to it.`,
    ),
    fallback: 0,
  })),
  ...AXES.map((axis) => ({
    ...value(
      `t${axis}`,
      `Tilt ${axis}`,
      '°',
      'angle',
      `Right-handed tilt of the surface about ${axis}: after its shift, first about x, then about the new y, then about the new z.`,
    ),
    fallback: 0,
  })),
];
