import type { Shape, ShapeKind } from './registry.ts';

/** A smooth grid, its knots off round numbers. */
const GRID = {
  x: -18.7,
  y: -18.2,
  dx: 4.7,
  dy: 4.6,
  columns: 9,
  z: Array.from({ length: 81 }, (_, i) => {
    const [x, y] = [-18.7 + 4.7 * (i % 9), -18.2 + 4.6 * Math.floor(i / 9)];
    return 0.02 * Math.cos(0.1 * x + 0.3) * Math.cos(0.12 * y) + 1e-4 * x * y;
  }),
};

/** For tests: one shape of every kind, smooth out to 8 mm. */
export const SAMPLES: { readonly [K in ShapeKind]: Extract<Shape, { kind: K }> } = {
  plane: { kind: 'plane' },
  sphere: { kind: 'sphere', radius: 40 },
  conic: { kind: 'conic', radius: -35, conic: -1.7 },
  even_asphere: { kind: 'even_asphere', radius: 50, conic: 0.5, a2: 1e-4, a4: -2e-6, a6: 3e-8, a8: 1e-10 },
  odd_asphere: { kind: 'odd_asphere', radius: 60, conic: -0.4, a3: 2e-5, a4: -1e-6, a5: 3e-7 },
  qbfs: { kind: 'qbfs', radius: 45, norm_radius: 10, q0: 0.02, q1: -0.01, q2: 0.004, q5: 0.001 },
  qcon: { kind: 'qcon', radius: -55, conic: -0.8, norm_radius: 10, q0: 0.05, q1: -0.02, q3: 0.004 },
  cylinder: { kind: 'cylinder', radius: 30, conic: -0.6 },
  toroid: { kind: 'toroid', radius: 40, conic: 0.7, radius_x: -60 },
  biconic: { kind: 'biconic', radius: 45, conic: -0.9, radius_x: -70, conic_x: 1.3 },
  xy_polynomial: { kind: 'xy_polynomial', radius: 80, conic: 0.2, x1y0: 0.01, x1y1: 2e-4, x2y1: 1e-5, x0y4: -2e-6 },
  zernike_noll: {
    kind: 'zernike_noll',
    radius: 90,
    conic: 0.3,
    norm_radius: 10,
    z4: 0.01,
    z6: 0.02,
    z7: -0.01,
    z11: 0.01,
    z22: 0.002,
  },
  zernike_fringe: {
    kind: 'zernike_fringe',
    radius: -75,
    conic: 0,
    norm_radius: 11,
    z3: 0.02,
    z5: -0.02,
    z9: 0.03,
    z16: 0.002,
  },
  sampled_sag: { kind: 'sampled_sag', radius: 70, conic: -0.5, scale: 1.2, grid: GRID },
  fresnel: { kind: 'fresnel', radius: 25, conic: -0.6, a4: 1e-6 },
  ideal_lens: { kind: 'ideal_lens', focal_length: 60, object: 150 },
};
