import type { ParameterSpec } from '../math/parameter.ts';

/** A length in mm of a region that shines, above 0 if nothing else is said. */
export const millimetres = (
  id: string,
  title: string,
  meaning: string,
  more: Partial<ParameterSpec> = { above: 0 },
): ParameterSpec => ({ id, title, meaning, unit: 'mm', kind: 'length', transform: 'value', ...more });

/** An angle of a law in degrees, up to `most`. */
export const degrees = (
  id: string,
  title: string,
  meaning: string,
  most: number,
  least: Partial<ParameterSpec> = { above: 0 },
): ParameterSpec => ({ id, title, meaning, unit: '°', kind: 'angle', transform: 'value', ...least, most });

/** Degrees as radians. */
export const radians = (angle: number): number => (angle * Math.PI) / 180;
