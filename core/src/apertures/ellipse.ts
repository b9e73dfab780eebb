import { defineArea, size, type AreaPlace } from './area.ts';

export interface EllipseRecord extends AreaPlace {
  readonly kind: 'ellipse';
  readonly semi_x: number;
  readonly semi_y: number;
}

export const ellipse = defineArea<EllipseRecord>({
  kind: 'ellipse',
  title: 'Ellipse',
  meaning: 'An ellipse with semi-axes along x and y.',
  parameters: [
    size('semi_x', 'Semi-axis x', 'Half of its extent along x.'),
    size('semi_y', 'Semi-axis y', 'Half of its extent along y.'),
  ],
  compile: ({ semi_x, semi_y }) => ({
    contains: (x, y) => (x / semi_x) ** 2 + (y / semi_y) ** 2 <= 1,
    reach: Math.max(semi_x, semi_y),
    mirrorX: true,
  }),
});
