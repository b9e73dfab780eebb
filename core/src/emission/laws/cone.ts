import { degrees, radians } from '../../math/length-specs.ts';
import { byCosine, defineLaw, type CompiledLaw } from './law.ts';

/** Equal radiance within a cone. Angles in degrees, here and in the other laws. */
export interface Lambertian {
  readonly kind: 'lambertian';
  readonly half: number;
}

/** Within a narrow cone of equal radiance about one direction; parallel for 0. */
export interface Parallel {
  readonly kind: 'parallel';
  readonly half: number;
}

/** Equal intensity within a cone. */
export interface Isotropic {
  readonly kind: 'isotropic';
  readonly half: number;
}

function evenRadiance(half: number): CompiledLaw {
  const widest = Math.sin(radians(Math.min(90, half)));
  const least = Math.sqrt(1 - widest * widest);
  return {
    angle(u, out) {
      out[0] = widest * Math.sqrt(u);
      out[1] = Math.sqrt(1 - out[0] * out[0]);
    },
    density: (cosine) => (cosine > least ? cosine / (Math.PI * widest * widest) : 0),
    plain: ['sine', widest],
    parallel: half === 0,
  };
}

export const lambertian = defineLaw<Lambertian>({
  kind: 'lambertian',
  title: 'Lambertian',
  meaning: 'Equal radiance within a cone, as a diffusing surface or most LED chips have it.',
  parameters: [
    degrees('half', 'Cone half-angle', 'Equal radiance within it, nothing outside; 90° for the half-space.', 90),
  ],
  first: { kind: 'lambertian', half: 90 },
  compile: ({ half }) => evenRadiance(half),
});

export const parallel = defineLaw<Parallel>({
  kind: 'parallel',
  title: 'Parallel',
  meaning: 'One direction, or a narrow cone of equal radiance about it, as the sun sends.',
  parameters: [degrees('half', 'Half-angle', '0 for parallel light; 0.2666° for the sun.', 30, { min: 0 })],
  first: { kind: 'parallel', half: 0 },
  compile: ({ half }) => evenRadiance(half),
});

export const isotropic = defineLaw<Isotropic>({
  kind: 'isotropic',
  title: 'Even intensity',
  meaning: 'Equal intensity within a cone.',
  parameters: [degrees('half', 'Cone half-angle', 'Equal intensity within it; 180° for all directions.', 180)],
  first: { kind: 'isotropic', half: 20 },
  compile({ half }) {
    const depth = 1 - Math.cos(radians(half));
    return byCosine(
      (u) => 1 - u * depth,
      (cosine) => (cosine > 1 - depth ? 1 / (2 * Math.PI * depth) : 0),
      { plain: ['depth', depth] },
    );
  },
});
