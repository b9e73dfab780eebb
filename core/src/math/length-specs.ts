import type { ParameterSpec } from './parameter.ts';

/** A length in mm, above 0 if nothing else is said. */
export const millimetres = (
  id: string,
  title: string,
  meaning: string,
  more: Partial<ParameterSpec> = { above: 0 },
): ParameterSpec => ({ id, title, meaning, unit: 'mm', kind: 'length', transform: 'value', ...more });

/** An angle in degrees, up to `most`. */
export const degrees = (
  id: string,
  title: string,
  meaning: string,
  most: number,
  least: Partial<ParameterSpec> = { above: 0 },
): ParameterSpec => ({ id, title, meaning, unit: '°', kind: 'angle', transform: 'value', ...least, most });

/** A whole number within limits. */
export const whole = (id: string, title: string, meaning: string, min: number, most: number): ParameterSpec => ({
  id,
  title,
  meaning,
  unit: '',
  kind: 'number',
  transform: 'value',
  whole: true,
  min,
  most,
});

/** Degrees as radians. */
export const radians = (angle: number): number => (angle * Math.PI) / 180;
