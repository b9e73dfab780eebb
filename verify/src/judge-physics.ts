import {
  bareShares,
  compileScatter,
  filmShares,
  henyeyGreenstein,
  henyeyGreensteinBeyond,
  henyeyGreensteinCosine,
  internalTransmittance,
  metalShares,
  RadialLobe,
  totalReflectionPhase,
  type FaceShares,
  type Film,
  type Material,
} from '@ulvex/core';
import { countScalars, type Tally, type Tolerance } from './tally.ts';
import type { Sampled } from './physics-bench.ts';
import { IMAGE_CASES } from './physics-image.ts';
import { SCENE_CASES } from './physics-scenes.ts';
import { TOLERANCE_CASES } from './physics-tolerance.ts';

/** One case of the physics file. */
export interface PhysicsCase {
  readonly id: string;
  readonly inputs?: Readonly<Record<string, unknown>>;
  readonly values?: unknown;
}

/** What Ulvex finds for a case: the same shape as its values, as far as it can say them. Numbers drawn by lot come as `Sampled`. */
export type Found = { readonly [key: string]: Found } | readonly Found[] | number | Sampled | undefined;

const CLOSED: Tolerance = { rel: 1e-12, abs: 1e-15 };
const radians = (degrees: number) => (degrees * Math.PI) / 180;
const degrees = (angle: number) => (angle * 180) / Math.PI;
const shares = (): FaceShares => ({ rs: 0, rp: 0, ts: 0, tp: 0 });

function bare(n1: number, n2: number, deg: number): FaceShares {
  const out = shares();
  bareShares(n1, n2, Math.cos(radians(deg)), out);
  return out;
}

function films(nm: number, deg: number, layers: readonly Film[], behind: number): FaceShares {
  const out = shares();
  filmShares(nm, 1, Math.cos(radians(deg)), layers, { n: behind, k: 0 }, out);
  return out;
}

const named = ({ rs, rp, ts, tp }: FaceShares) => ({ Rs: rs, Rp: rp, Ts: ts, Tp: tp });
const rowsOf = (values: unknown) => values as readonly Readonly<Record<string, number>>[];

function fresnel({ inputs, values }: PhysicsCase): Found {
  const { n1, n2 } = inputs as { n1: number; n2: number };
  return rowsOf(values).map(({ deg }) => {
    const all = bare(n1, n2, deg);
    return { ...named(all), Runpol: (all.rs + all.rp) / 2 };
  });
}

function brewster({ values }: PhysicsCase): Found {
  return rowsOf(values).map(({ deg }) => {
    const { rs, rp, ts, tp } = bare(1, 1.5, deg);
    const light = (s: number, p: number) => ({
      I: (s + p) / 2,
      Q_s_minus_p: (s - p) / 2,
      DOP: Math.abs(s - p) / (s + p),
    });
    return { Rs: rs, Rp: rp, reflected: light(rs, rp), transmitted: light(ts, tp) };
  });
}

function brewsterExact(): Found {
  const deg = degrees(Math.atan(1.5));
  const { rs, rp, ts, tp } = bare(1, 1.5, deg);
  return { Rs: rs, Ts: ts, reflDOP: (rs - rp) / (rs + rp), transDOP: (tp - ts) / (tp + ts) };
}

function phases({ values }: PhysicsCase): Found {
  return rowsOf(values).map(({ deg }) => {
    const { s, p } = totalReflectionPhase(1.5, 1, radians(deg));
    return { deltaS_deg: degrees(s), deltaP_deg: degrees(p), relative_deg: degrees(p - s) };
  });
}

/** The place where a function that changes its sign between two others is 0. */
function root(f: (x: number) => number, from: number, to: number): number {
  let [a, b] = [from, to];
  const below = f(a) < 0;
  for (let step = 0; step < 200 && b - a > 1e-15 * b; step++) {
    const middle = (a + b) / 2;
    if (f(middle) < 0 === below) a = middle;
    else b = middle;
  }
  return (a + b) / 2;
}

function rhomb(): Found {
  const relative = (deg: number) => {
    const { s, p } = totalReflectionPhase(1.51, 1, radians(deg));
    return degrees(p - s);
  };
  // The top by thirds: its place is known to half the digits only and stays missing, its height to all.
  let [low, high] = [42, 80];
  for (let step = 0; step < 100; step++) {
    const [a, b] = [low + (high - low) / 3, high - (high - low) / 3];
    if (relative(a) < relative(b)) low = a;
    else high = b;
  }
  const top = (low + high) / 2;
  return {
    angles_deg: [root((deg) => relative(deg) - 45, 42, top), root((deg) => relative(deg) - 45, top, 80)],
    maxRelative_deg: relative(top),
  };
}

const quarter = (n: number, nm = 550): Film => ({ n, k: 0, nm: nm / (4 * n) });

function stack({ values }: PhysicsCase): Found {
  return rowsOf(values).map(({ N }) => {
    const pair = [quarter(2.35), quarter(1.38)];
    const layers = [...Array.from({ length: N }, () => pair).flat(), quarter(2.35)];
    const at = (nm: number, deg: number) => films(nm, deg, layers, 1.5168);
    return {
      R_normal_550: at(550, 0).rs,
      Rs_45_550: at(550, 45).rs,
      Rp_45_550: at(550, 45).rp,
      R_normal_500: at(500, 0).rs,
      R_normal_650: at(650, 0).rs,
      Rs_45_500: at(500, 45).rs,
      Rp_45_500: at(500, 45).rp,
    };
  });
}

function metal({ values }: PhysicsCase): Found {
  return rowsOf(values).map(({ deg }) => {
    const out = shares();
    metalShares(1, 1, 6.5, Math.cos(radians(deg)), out);
    return { Rs: out.rs, Rp: out.rp };
  });
}

function absorbing(): Found {
  const out = shares();
  filmShares(550, 1, Math.cos(radians(30)), [{ n: 1.52, k: 0.01, nm: 5000 }], { n: 1.5168, k: 0 }, out);
  return named(out);
}

/** ∫ f over −1 … 1 in fine Simpson steps. */
function integral(f: (x: number) => number, from: number, to: number): number {
  const steps = 200_000;
  const h = (to - from) / steps;
  let sum = f(from) + f(to);
  for (let i = 1; i < steps; i++) sum += f(from + i * h) * (i % 2 ? 4 : 2);
  return (sum * h) / 3;
}

function phaseFunction({ values }: PhysicsCase): Found {
  return rowsOf(values).map(({ g }) => {
    const mean = (of: (mu: number) => number) =>
      2 * Math.PI * integral((mu) => of(mu) * henyeyGreenstein(g, mu), -1, 1);
    return {
      meanCos: mean((mu) => mu),
      meanCosSq: mean((mu) => mu * mu),
      p_0deg: henyeyGreenstein(g, 1),
      p_90deg: henyeyGreenstein(g, 0),
      p_180deg: henyeyGreenstein(g, -1),
      forwardFraction: henyeyGreensteinBeyond(g, 0),
      mu_at_xi_0p1: henyeyGreensteinCosine(g, 0.1),
      mu_at_xi_0p5: henyeyGreensteinCosine(g, 0.5),
      mu_at_xi_0p9: henyeyGreensteinCosine(g, 0.9),
    };
  });
}

function abg({ values }: PhysicsCase): Found {
  return rowsOf(values).map(({ A, B, g }) => {
    const lobe = new RadialLobe((rho) => A / (B + rho ** g), B ** (1 / Math.max(g, 0.1)));
    return { TIS_normal: lobe.integrate(0), TIS_45deg: lobe.integrate(Math.SQRT1_2) };
  });
}

function cosineLobe({ inputs }: PhysicsCase): Found {
  const powers = (inputs as { m: number[] }).m;
  const by = (of: (m: number) => number) => Object.fromEntries(powers.map((m) => [String(m), of(m)]));
  const peak = (m: number) => compileScatter({ kind: 'cosine_power', share: 1, power: m }, 550).density(0, 0, 0, 0);
  const half = (m: number) => (deg: number) =>
    compileScatter({ kind: 'cosine_power', share: 1, power: m }, 550).density(0, 0, Math.sin(radians(deg)), 0) /
      peak(m) -
    0.5;
  return {
    flux: by((m) => 1 / peak(m)),
    // A BSDF cosᵐ about the normal scatters ∫ cosᵐθ cos θ dΩ, its lobe being the density over its peak.
    tis: by((m) => {
      const lobe = compileScatter({ kind: 'cosine_power', share: 1, power: m }, 550);
      const top = lobe.density(0, 0, 0, 0);
      const relative = (mu: number) => lobe.density(0, 0, Math.sqrt(1 - mu * mu), 0) / top;
      return 2 * Math.PI * integral((mu) => relative(mu) * mu, 0, 1);
    }),
    HWHM_deg: by((m) => root(half(m), 0, 89.99)),
  };
}

function beerLambert(): Found {
  const through = (share: number, thickness: number, way: number) =>
    internalTransmittance(
      { transmittance: { thickness, nm: [400, 700], share: [share, share] } } as unknown as Material,
      550,
      way,
    ) ?? NaN;
  return {
    exp_minus_0p02x10: through(Math.exp(-0.02), 1, 10),
    T_for_OD_1p3: through(10 ** -0.13, 1, 10),
    T5mm_from_T25_0p93: through(0.93, 25, 5),
  };
}

const DIRECT: Readonly<Record<string, (one: PhysicsCase) => Found>> = {
  'fresnel_1.0_1.5': fresnel,
  'fresnel_1.0_1.7847': fresnel,
  'fresnel_1.5_1.0': fresnel,
  'brewster_n1.5': brewster,
  brewster_exact: brewsterExact,
  tir_phase: phases,
  fresnel_rhomb: rhomb,
  quarterwave_single: ({ values }) =>
    rowsOf(values).map(({ nm, deg }) => named(films(nm, deg, [quarter(1.38)], 1.5168))),
  quarterwave_stack: stack,
  metal,
  three_layer_ar: ({ values }) =>
    rowsOf(values).map(({ nm, deg }) => {
      const { rs, rp } = films(nm, deg, [quarter(1.38), { n: 2.1, k: 0, nm: 550 / 4.2 }, quarter(1.62)], 1.5168);
      return { Rs: rs, Rp: rp };
    }),
  absorbing_film: absorbing,
  henyey_greenstein: phaseFunction,
  abg,
  phong_lobe: cosineLobe,
  beer_lambert: beerLambert,
  ...IMAGE_CASES,
  ...SCENE_CASES,
  ...TOLERANCE_CASES,
};

/** Keys that say what a row is about, not what comes out. */
const GIVEN: ReadonlySet<string> = new Set([
  'thetaB_deg',
  'deg',
  'nm',
  'offsetDeg',
  'N',
  'n',
  'g',
  'A',
  'B',
  'R',
  'd',
  'x',
  'R1',
  'R2',
  'h',
  'a',
  'b',
  'c',
  'w',
  'l',
  'rho',
  'plates',
  'm',
]);

/** Tolerances that cases name for themselves. */
const OWN: Readonly<Record<string, Tolerance>> = { abg: { rel: 1e-7 }, mtf_defocus: { abs: 1e-10 } };

/** Compares the physics cases: each scalar counts but the inputs that rows repeat; what Ulvex cannot say yet is missing. */
export function judgePhysics(cases: readonly PhysicsCase[], tally: Tally): void {
  for (const one of cases) {
    const { id, values = [] } = one;
    const of = DIRECT[id];
    if (!of) tally.missing('physics', Math.max(1, countScalars(values, new Set())));
    else compareAll(tally, id, values, of(one), OWN[id] ?? CLOSED);
  }
}

function compareAll(tally: Tally, label: string, expected: unknown, found: Found, tolerance: Tolerance): void {
  if (Array.isArray(expected)) {
    expected.forEach((entry, i) =>
      compareAll(tally, `${label}[${i}]`, entry, (found as readonly Found[] | undefined)?.[i], tolerance),
    );
  } else if (typeof expected === 'object' && expected !== null) {
    const entries = (found ?? {}) as Readonly<Record<string, Found>>;
    for (const [key, entry] of Object.entries(expected)) {
      if (GIVEN.has(key) && !Object.hasOwn(entries, key)) continue; // an input: nothing to judge, and not counted
      const value = entries[key];
      compareAll(tally, `${label}.${key}`, entry, value, tolerance);
    }
  } else if (typeof expected === 'number') {
    if (found === undefined) tally.missing('physics', 1);
    else if (typeof found === 'number') tally.compare('physics', label, expected, found, tolerance);
    else {
      const { value, error, honest } = found as Sampled;
      const allowed = Math.max(4 * error, 1e-9 * Math.abs(expected));
      tally.compare('physics, sampled', label, expected, honest ? value : NaN, { abs: allowed });
    }
  }
}
