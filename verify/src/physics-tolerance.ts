import { capability, distributionOf, linearSpread, responseMoments, responseOf } from '@ulvex/core';
import type { Found, PhysicsCase } from './judge-physics.ts';

const diagonal = (values: readonly number[]) => values.map((value, i) => values.map((_, j) => (i === j ? value : 0)));

/** Standard deviation of what lies evenly within ±t. */
function uniformSigma(t: number): number {
  const found = distributionOf({ kind: 'uniform' }, -t, t);
  return found.ok ? Math.sqrt(found.value.moments.central[2]) : NaN;
}

export const TOLERANCE_CASES: Readonly<Record<string, (one: PhysicsCase) => Found>> = {
  tolerance_rss: ({ inputs }) => {
    const { sigma, sens } = inputs as { sigma: number[]; sens: number[] };
    const spread = linearSpread(sens, sigma);
    return {
      sigma: spread.sigma,
      worstCase: spread.worst,
      sigmaIfUniformHalfRange: linearSpread(sens, sigma.map(uniformSigma)).sigma,
    };
  },
  cp_cpk: ({ inputs }) => {
    const { mean, sigma, L, U } = inputs as Record<'mean' | 'sigma' | 'L' | 'U', number>;
    const { cp, cpk, yield: passing, out } = capability(mean, sigma, { min: L, max: U });
    return { Cp: cp ?? NaN, Cpk: cpk ?? NaN, yield_: passing, ppmOut: 1e6 * out };
  },
  quadratic_gaussian: ({ inputs }) => {
    const { a, b, s, Q } = inputs as { a: number; b: number[]; s: number[]; Q: number[][] };
    const unit = distributionOf({ kind: 'normal', sigmas: 1 }, -1, 1);
    if (!unit.ok) return {};
    const response = responseOf({ value: a, slopes: b, curvatures: Q }, diagonal(s));
    const { mean, variance, third } = responseMoments(
      response,
      s.map(() => unit.value.moments),
    );
    return { mean, var: variance, sd: Math.sqrt(variance), thirdCentral: third, skew: third / variance ** 1.5 };
  },
};
