import { defineArea, size, type AreaPlace } from './area.ts';

export interface RectangleRecord extends AreaPlace {
  readonly kind: 'rectangle';
  readonly half_x: number;
  readonly half_y: number;
}

export const rectangle = defineArea<RectangleRecord>({
  kind: 'rectangle',
  title: 'Rectangle',
  meaning: 'A rectangle of twice the half widths.',
  parameters: [
    size('half_x', 'Half width x', 'Half of its width along x.'),
    size('half_y', 'Half width y', 'Half of its width along y.'),
  ],
  compile: ({ half_x, half_y }) => ({
    contains: (x, y) => Math.abs(x) <= half_x && Math.abs(y) <= half_y,
    reach: Math.hypot(half_x, half_y),
    mirrorX: true,
  }),
});
