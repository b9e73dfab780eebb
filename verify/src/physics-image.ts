import {
  airyEncircled,
  airyIrradiance,
  autocorrelation,
  beamAt,
  beamOfWaist,
  beamThrough,
  DARK_RINGS,
  perfectModulation,
  pupilPoints,
  throughHole,
  wavefrontNumbers,
  type PupilFunction,
} from '@ulvex/core';
import type { Found, PhysicsCase } from './judge-physics.ts';

type Row = Readonly<Record<string, number | string>>;
const rows = (values: unknown) => values as readonly Row[];

/** Where a falling function passes a value. */
function where(f: (x: number) => number, value: number, from: number, to: number): number {
  let [a, b] = [from, to];
  for (let step = 0; step < 100; step++) {
    const middle = (a + b) / 2;
    if (f(middle) > value) a = middle;
    else b = middle;
  }
  return (a + b) / 2;
}

/** Numbers of a wavefront W(ρ) of revolution over a circular pupil, waves. */
function frontOf(w: (rho: number) => number) {
  const points = pupilPoints({ kind: 'polar', rings: 40, arms: 4 }, 0);
  const field = { id: 'axis', x: 0, y: 0, weight: 1 };
  const values = points.px.map((x, i) => w(Math.hypot(x, points.py[i])));
  return wavefrontNumbers({ field, wave: 0, points, w: values, arrived: values.length });
}

/** A circular pupil out of focus by so many waves at its edge. */
function defocused(waves: number): PupilFunction {
  return {
    range: () => [-1, 1],
    line(_axis, at) {
      const half = Math.sqrt(Math.max(0, 1 - at * at));
      return {
        open: [[-half, half]],
        value(along, out) {
          out[0] = 1;
          out[1] = 2 * Math.PI * waves * (along * along + at * at);
        },
      };
    },
  };
}

function beamRows({ inputs, values }: PhysicsCase): Found {
  const { w0, lambda_mm } = inputs as { w0: number; lambda_mm: number };
  const beam = beamOfWaist(w0, lambda_mm);
  return {
    zR: beam.rayleigh,
    divergence_rad: w0 / beam.rayleigh,
    rows: (values as { rows: readonly { z: number }[] }).rows.map(({ z }) => {
      const { radius, curvature, gouy } = beamAt(beam, z);
      return { z, w: radius, gouy_rad: gouy, ...(Number.isFinite(curvature) && { R: curvature }) };
    }),
  };
}

function beamLens({ inputs }: PhysicsCase): Found {
  const { f, s } = inputs as { f: number; s: number };
  // The beam of the case before.
  const before = beamThrough(beamOfWaist(0.5, 632.8e-6), { a: 1, b: s, c: 0, d: 1 }, [1, 1]);
  const behind = beamThrough(before, { a: 1, b: 0, c: -1 / f, d: 1 }, [1, 1]);
  return { M: behind.waist / 0.5, w0p: behind.waist, sp: behind.toWaist, zRp: behind.rayleigh };
}

/** Cases of diffraction at perfect and nearly perfect pupils, and of beams. */
export const IMAGE_CASES: Readonly<Record<string, (one: PhysicsCase) => Found>> = {
  airy: () => ({
    firstZero_lambdaN: DARK_RINGS[0],
    encircled_first: airyEncircled(DARK_RINGS[0]),
    encircled_second: airyEncircled(DARK_RINGS[1]),
    fwhm_lambdaN: 2 * where(airyIrradiance, 0.5, 0.1, 1),
    encircled_r_1lambdaN: airyEncircled(1),
  }),
  mtf_circle: ({ values }) => rows(values).map(({ v }) => ({ mtf: perfectModulation(Number(v), 0) })),
  strehl_defocus: () => {
    const [quarter, half] = [0.25, 0.5].map((waves) => frontOf((rho) => waves * rho * rho));
    const spherical = (waves: number) => frontOf((rho) => waves * rho ** 4);
    return {
      W020_quarter: quarter.strehl,
      W020_half: half.strehl,
      rms_W020_quarter: quarter.rms,
      marechal_exp_quarter: Math.exp(-((2 * Math.PI * quarter.rms) ** 2)),
      W040_quarter: spherical(0.25).strehl,
      W040_half: spherical(0.5).strehl,
      rms_W040_1wave: spherical(1).rms,
    };
  },
  mtf_defocus: ({ inputs, values }) => {
    const { W020 } = inputs as { W020: number };
    const shifts = rows(values).map(({ v }) => 2 * Number(v));
    return autocorrelation(defocused(W020), 1, shifts, 60).map(({ re }) => ({ otf: re }));
  },
  gaussian_beam: beamRows,
  gaussian_lens: beamLens,
  gaussian_aperture: ({ inputs, values }) => {
    const { w } = inputs as { w: number };
    return rows(values).map(({ a }) => ({ T: throughHole(Number(a), w) }));
  },
};
