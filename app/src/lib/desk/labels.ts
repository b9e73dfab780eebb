import type { FieldPoint, Lens } from '@ulvex/core';

const trimmed = (value: number) => String(Number(value.toFixed(4))).replace('-', '−');

/** How a field is called on screen: `10°`, `5 mm`, or `(3°, 4°)` with x before y. */
export function fieldLabel(kind: Lens['fields']['kind'], field: Pick<FieldPoint, 'x' | 'y'>): string {
  const unit = kind === 'angle' ? '°' : ' mm';
  if (field.x === 0) return `${trimmed(field.y)}${unit}`;
  return `(${trimmed(field.x)}${unit}, ${trimmed(field.y)}${unit})`;
}
