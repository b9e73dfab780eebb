import type { FieldPoint } from './model.ts';

/** How field points are spread from the axis to the largest field. */
export interface FieldSpread {
  /** How many along a direction. */
  readonly count: number;
  /** The largest field, in the unit of the fields. */
  readonly largest: number;
  /** Along y or x from the axis outwards, or a square grid over both, from −largest to largest. */
  readonly along: 'y' | 'x' | 'grid';
  /** `even`: equal steps; `area`: each point stands for the same area of a round field. */
  readonly spacing: 'even' | 'area';
}

/** Field points in equal steps, or of equal areas; all of weight 1. */
export function spreadFields({ count, largest, along, spacing }: FieldSpread): FieldPoint[] {
  const steps = Array.from({ length: count }, (_, i) => (count === 1 ? 0 : i / (count - 1)));
  const tidy = (value: number) => Number((value * largest).toPrecision(12)) + 0;
  const point = (x: number, y: number, number: number): FieldPoint => ({
    id: `f${number + 1}`,
    x: tidy(x),
    y: tidy(y),
    weight: 1,
  });
  if (along === 'grid') {
    const lines = steps.map((step) => (count === 1 ? 0 : 2 * step - 1));
    return lines.flatMap((y, row) => lines.map((x, column) => point(x, y, row * count + column)));
  }
  const radii = spacing === 'area' ? steps.map(Math.sqrt) : steps;
  return radii.map((radius, i) => (along === 'x' ? point(radius, 0, i) : point(0, radius, i)));
}
