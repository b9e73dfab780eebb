import { millimetres } from '../../math/length-specs.ts';
import { defineRegion, inPlane, roundAxis } from './region.ts';

/** Where the source stands. */
export interface PointRegion {
  readonly kind: 'point';
}

/** A disc or a ring. */
export interface DiscRegion {
  readonly kind: 'disc';
  readonly radius: number;
  readonly inner?: number;
}

/** A rectangle about the axis. */
export interface RectangleRegion {
  readonly kind: 'rectangle';
  readonly width: number;
  readonly height: number;
}

/** A waist: irradiance exp(−2r²/w²). */
export interface WaistRegion {
  readonly kind: 'waist';
  readonly radius: number;
}

export const point = defineRegion<PointRegion>({
  kind: 'point',
  title: 'Point',
  meaning: 'All light starts where the source stands.',
  parameters: [],
  first: { kind: 'point' },
  compile: () => ({
    start: inPlane(
      () => 0,
      () => 0,
    ),
    plain: ['disc', 0, 0],
  }),
});

export const disc = defineRegion<DiscRegion>({
  kind: 'disc',
  title: 'Disc',
  meaning: 'A disc of equal exitance, or a ring of it.',
  parameters: [
    millimetres('radius', 'Radius', 'Of the disc that shines.'),
    millimetres('inner', 'Dark middle', 'Radius within which it does not shine.', { min: 0, fallback: 0 }),
  ],
  first: { kind: 'disc', radius: 1 },
  compile({ radius, inner = 0 }) {
    return {
      start: roundAxis((u) => Math.sqrt(inner * inner + u * (radius * radius - inner * inner))),
      plain: ['disc', inner * inner, radius * radius - inner * inner],
      flat: { half: [radius, radius], round: true, inner },
    };
  },
});

export const rectangle = defineRegion<RectangleRegion>({
  kind: 'rectangle',
  title: 'Rectangle',
  meaning: 'A rectangle of equal exitance.',
  parameters: [millimetres('width', 'Width', 'Along x.'), millimetres('height', 'Height', 'Along y.')],
  first: { kind: 'rectangle', width: 1, height: 1 },
  compile: ({ width, height }) => ({
    start: inPlane(
      (u) => (u - 0.5) * width,
      (_u, v) => (v - 0.5) * height,
    ),
    plain: ['rectangle', width, height],
    flat: { half: [width / 2, height / 2], round: false, inner: 0 },
  }),
});

export const waist = defineRegion<WaistRegion>({
  kind: 'waist',
  title: 'Gaussian waist',
  meaning: 'Irradiance exp(−2r²/w²) about the axis, as a laser beam has it.',
  parameters: [millimetres('radius', 'Waist w', 'Irradiance exp(−2r²/w²) about the axis.')],
  first: { kind: 'waist', radius: 1 },
  compile: ({ radius }) => ({ start: roundAxis((u) => radius * Math.sqrt(-Math.log(u) / 2)) }),
});
