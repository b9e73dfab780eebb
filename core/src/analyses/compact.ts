import type { Curve } from './panels.ts';

/** Steps of a scale that read well, over powers of ten. */
const STEPS = [1, 2, 5, 10];

/** The least multiple of a round step that holds a value with a little room; a scale has up to about `count` of these steps. */
export function roundScale(value: number, least: number, count: number): number {
  const rough = Math.max(value, least) / count;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = STEPS.find((one) => one * power >= rough * (1 - 1e-9))! * power;
  return Number((Math.ceil((Math.max(value, least) * 1.02) / step) * step).toPrecision(6));
}

/** The title of a panel that has nothing to show, or a line about it: the id of its field first, which is shown by its label. */
export const besideReason = (field: string, reason: string): string => `${field} ${reason}`;

/** An ellipse by its semi-axes. */
export function ring(name: string, [a, b]: readonly [number, number], [x, y] = [0, 0]): Curve {
  const turns = Array.from({ length: 49 }, (_, k) => (2 * Math.PI * k) / 48);
  return {
    name,
    tint: 'limit',
    x: turns.map((turn) => x + a * Math.cos(turn)),
    y: turns.map((turn) => y + b * Math.sin(turn)),
  };
}
