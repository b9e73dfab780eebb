import {
  fieldMtf,
  modulation,
  narrowFoci,
  projectedSolidAngle,
  pupilPoints,
  relativeIllumination,
  seidel,
  wavefront,
  wavefrontAt,
  wavefrontNumbers,
  zernikeFit,
  type MtfMethod,
  type Outcome,
  type Wavefront,
} from '@ulvex/core';
import { aimOf, fieldAt, samplingOf, valueOf, waveAt, type Aim, type Bench } from './judge-lens.ts';

/* eslint-disable @typescript-eslint/no-explicit-any -- reference files are read by the schema in their README */
type Json = any;

/** Tangential and sagittal foci of narrow bundles. */
export function judgeFoci(bench: Bench, entries: Json[]): void {
  for (const entry of entries) {
    const aim = entry.aim as Aim;
    const foci = valueOf(narrowFoci(bench.lens, fieldAt(bench, entry.field), bench.lens.model.primary, aimOf(aim)));
    const tolerance = bench.tolerance('fieldCurves.z', aim);
    for (const [key, actual] of [
      ['zT', foci?.tangentialZ],
      ['zS', foci?.sagittalZ],
      ['lT', foci?.tangential],
      ['lS', foci?.sagittal],
    ] as const)
      if (key in entry)
        bench.tally.compare('fieldCurves.z', `${key} ${aim} ${entry.field}`, entry[key], actual, tolerance);
  }
}

const SUMS = ['S1', 'S2', 'S3', 'S4', 'S5', 'C1', 'C2'] as const;
const WAVES: Readonly<Record<string, string>> = { W020_colour: 'w020c', W111_colour: 'w111c' };

/** Third-order sums; tolerances are relative to the largest contribution of each column. */
export function judgeSeidel(bench: Bench, expected: Json): void {
  if (!expected) return;
  const found = valueOf(seidel(bench.lens));
  const own = (key: string) => (key === 'S5_alt' ? 's5' : key === 'S1_asph' ? 'figure' : key.toLowerCase());
  const largest = (key: string): number => Math.max(...expected.surfaces.map((row: Json) => Math.abs(row[key] ?? 0)));
  const column = (key: string) => (key === 'S5_alt' ? 'S5' : key === 'S1_asph' ? 'S1' : key);
  const compare = (label: string, key: string, value: number, actual: number | undefined) =>
    bench.tally.compare('seidel', label, value, actual, { abs: 1e-9 * largest(column(key)) || 1e-18 });
  expected.surfaces.forEach((row: Json, j: number) => {
    for (const [key, value] of Object.entries(row))
      compare(`${key} of surface ${j + 1}`, key, value as number, (found?.surfaces[j] as Json)?.[own(key)]);
  });
  for (const key of SUMS) compare(`${key} in all`, key, expected.total[key], (found?.total as Json)?.[own(key)]);
  const mm = bench.lens.model.wavelengths[bench.lens.model.primary].nm * 1e-6;
  for (const [key, value] of Object.entries(expected.waves)) {
    const scale = Math.max(...SUMS.map(largest)) / mm;
    bench.tally.compare('seidel', key, value as number, (found?.waves as Json)?.[WAVES[key] ?? key.toLowerCase()], {
      abs: 1e-9 * scale,
    });
  }
}

/** Wavefronts: single points, RMS by sampling, Strehl ratio, Zernike coefficients. */
export function judgeOpd(bench: Bench, entries: Json[]): void {
  for (const entry of entries) {
    const aim = entry.aim as Aim;
    const field = fieldAt(bench, entry.field);
    const wave = waveAt(bench, entry.um);
    const at = `${aim} ${entry.field} ${entry.um}`;
    const choice = { pupil: 'full', aim: aimOf(aim) } as const;
    const { points = [] } = entry as { points: Json[] };
    const px = Float64Array.from(points, ({ px: x }) => x);
    const py = Float64Array.from(points, ({ py: y }) => y);
    const single = valueOf(wavefrontAt(bench.lens, field, wave, px, py, choice));
    points.forEach(({ W }, i) => {
      const actual = single && !Number.isNaN(single.w[i]) ? single.w[i] : null;
      bench.tally.compare('opd.points', `W ${px[i]},${py[i]} ${at}`, W, actual, bench.tolerance('opd.points', aim));
    });
    const over = (sampling: string): Wavefront | undefined => {
      const found = valueOf(wavefront(bench.lens, field, wave, { ...choice, sampling: samplingOf(sampling) }));
      return found && found.arrived === found.w.length ? found : undefined;
    };
    const dense = over('forbes24x48');
    const numbers = (front: Wavefront | undefined) => front && wavefrontNumbers(front);
    const rms = (label: string, expected: number | null, actual: number | undefined) =>
      bench.tally.compare(
        'opd.rms',
        `${label} ${at}`,
        expected,
        expected === null && actual === undefined ? null : actual,
        bench.tolerance('opd.rms', aim),
      );
    // A difference of two single rays, whose paths of some 0.7 m are known to 1e-9 waves in double precision, at their worst of thousands.
    const range = (label: string, expected: number, actual: number | undefined) => {
      const { rel = 0 } = bench.tolerance('opd.rms', aim);
      bench.tally.compare('opd.rms', `${label} ${at}`, expected, actual, { rel, abs: 1e-8 });
    };
    for (const [key, sampling] of SAMPLINGS)
      if (entry[key]) {
        const found = numbers(key === 'gq24x48' ? dense : over(sampling));
        judgeNumbers(key, entry[key], found, rms, range);
      }
    if (entry.pvPolar41x72 !== undefined) {
      const { x, y } = polarPlaces(bench.lens.model.lens.pupil.obscuration);
      const polar = valueOf(wavefrontAt(bench.lens, field, wave, x, y, choice));
      range('peak to valley, polar', entry.pvPolar41x72, numbers(polar)?.peakToValley);
    }
    if (entry.strehlUniformPupil !== undefined)
      bench.tally.compare(
        'opd.strehl',
        at,
        entry.strehlUniformPupil,
        numbers(dense)?.strehl,
        bench.tolerance('opd.strehl', aim),
      );
    judgeZernike(
      bench,
      entry,
      at,
      aim,
      () => over('forbes24x48'),
      () => over('grid64'),
      choice,
    );
  }
}

/** Keys of an entry, each with the sampling that its numbers are of. */
const SAMPLINGS = [
  ['gq24x48', 'forbes24x48'],
  ['gq12x24', 'forbes12x24'],
  ['grid64', 'grid64'],
] as const;

/** Numbers of a wavefront over a sampling of the pupil. */
function judgeNumbers(
  key: string,
  expected: Json,
  found: ReturnType<typeof wavefrontNumbers> | undefined,
  rms: (label: string, expected: number | null, actual: number | undefined) => void,
  range: (label: string, expected: number, actual: number | undefined) => void,
): void {
  const { rms: whole, rmsTiltRemoved, rmsTiltFocusRemoved, mean, pv } = expected;
  rms(`${key} rms`, whole, found?.rms);
  rms(`${key} without tilt`, rmsTiltRemoved, found?.rmsWithoutTilt);
  rms(`${key} without focus`, rmsTiltFocusRemoved, found?.rmsWithoutFocus);
  if (mean !== undefined) rms(`${key} mean`, mean, found?.mean);
  if (pv !== undefined) range(`${key} peak to valley`, pv, found?.peakToValley);
}

/** 41 rings of 72 places, from an obscuration to the edge of the pupil. */
function polarPlaces(inner: number): { readonly x: Float64Array; readonly y: Float64Array } {
  const places = Array.from({ length: 41 * 72 }, (_, k) => {
    const [r, turn] = [inner + ((1 - inner) * Math.floor(k / 72)) / 40, (2 * Math.PI * (k % 72)) / 72];
    return [r * Math.cos(turn), r * Math.sin(turn)] as const;
  });
  return { x: Float64Array.from(places, ([x]) => x), y: Float64Array.from(places, ([, y]) => y) };
}

function judgeZernike(
  bench: Bench,
  entry: Json,
  at: string,
  aim: Aim,
  dense: () => Wavefront | undefined,
  grid: () => Wavefront | undefined,
  choice: { readonly pupil: 'full'; readonly aim: 'paraxial' | 'stop' },
): void {
  const compare = (label: string, expected: number[], front: Wavefront | undefined, method: 'projection' | 'fit') => {
    const fit = front && valueOf(zernikeFit(front, 'noll', expected.length, method));
    expected.forEach((value, k) =>
      bench.tally.compare(
        'zernike',
        `${label} ${k + 1} ${at}`,
        value,
        fit?.coefficients[k],
        bench.tolerance('zernike', aim),
      ),
    );
    return fit;
  };
  if (!entry.zernikeNoll) return;
  // Over the full disk, whatever is obscured.
  const whole = bench.lens.model.lens.pupil.obscuration > 0 ? fullDisk(bench, entry, choice) : dense();
  const projected = compare('Noll', entry.zernikeNoll, whole, 'projection');
  if (!entry.zernikeNollLSQgrid64) return;
  const fitted = compare('Noll, fitted', entry.zernikeNollLSQgrid64, grid(), 'fit');
  if (entry.zernikeMaxDiffProjVsLSQ === undefined) return;
  const most =
    projected &&
    fitted &&
    projected.coefficients.reduce((top, value, k) => Math.max(top, Math.abs(value - fitted.coefficients[k])), 0);
  bench.tally.compare(
    'zernike',
    `largest difference ${at}`,
    entry.zernikeMaxDiffProjVsLSQ,
    most,
    bench.tolerance('zernike', aim),
  );
}

function fullDisk(
  bench: Bench,
  entry: Json,
  choice: { readonly pupil: 'full'; readonly aim: 'paraxial' | 'stop' },
): Wavefront | undefined {
  const { px, py, weight } = pupilPoints({ kind: 'polar', rings: 24, arms: 48 }, 0);
  const front = valueOf(wavefrontAt(bench.lens, fieldAt(bench, entry.field), waveAt(bench, entry.um), px, py, choice));
  return front && { ...front, points: { px, py, weight } };
}

const METHODS: Readonly<Record<string, MtfMethod>> = {
  canonical: 'physical',
  simple: 'simple',
  geometric: 'geometric',
};

/** Transfer functions by frequency. */
export function judgeMtf(bench: Bench, entries: Json[]): void {
  for (const entry of entries) {
    const aim = entry.aim as Aim;
    const category = `mtf.${entry.method}`;
    const tolerance = bench.tolerance(category, aim);
    const found = valueOf(
      fieldMtf(bench.lens, fieldAt(bench, entry.field), {
        method: METHODS[entry.method],
        frequencies: entry.lpmm,
        aim: aimOf(aim),
        ...(entry.kind === 'mono' && {
          wave: entry.um === undefined ? bench.lens.model.primary : waveAt(bench, entry.um),
        }),
      }),
    );
    const at = `${aim} ${entry.field} ${entry.kind}`;
    entry.lpmm.forEach((nu: number, k: number) => {
      for (const [key, list] of [
        ['T', found?.tangential],
        ['S', found?.sagittal],
      ] as const)
        bench.tally.compare(category, `${key} ${nu}/mm ${at}`, entry[key][k], list && modulation(list[k]), tolerance);
      if (!entry.TwithPhaseDeg) return;
      // Phases carry no tolerance of their own: what the modulation's leaves of them, and none near its zeros.
      const value = found?.tangential[k];
      const phase = value && (Math.atan2(value.im, value.re) * 180) / Math.PI;
      const [turn, t] = [entry.TwithPhaseDeg[k], entry.T[k]];
      const near = phase === undefined ? undefined : phase + 360 * Math.round((turn - phase) / 360);
      bench.tally.compare(category, `phase of T ${nu}/mm ${at}`, turn, near, {
        abs: ((tolerance.abs ?? 0) / Math.max(1e-3, t)) * (180 / Math.PI),
      });
    });
  }
}

/** Projected solid angles and relative illumination, of the whole pupil and through set apertures. */
export function judgeIllumination(bench: Bench, entries: Json[]): void {
  for (const entry of entries) {
    const field = fieldAt(bench, entry.field);
    const compare = (kind: 'clear' | 'vignetted', label: string, expected: number, found: Outcome<number>) =>
      bench.tally.compare(
        `relativeIllumination.${kind}`,
        `${label} ${entry.field}`,
        expected,
        valueOf(found),
        bench.tolerance(`relativeIllumination.${kind}`, 'real'),
      );
    const aim = entry.aim ? aimOf(entry.aim as Aim) : 'stop';
    compare('clear', 'solid angle', entry.projectedSolidAngle, projectedSolidAngle(bench.lens, field, 'full', { aim }));
    compare('clear', 'relative', entry.relative, relativeIllumination(bench.lens, field, 'full', aim));
    if (entry.vignettedProjectedSolidAngle === undefined) continue;
    compare(
      'vignetted',
      'solid angle',
      entry.vignettedProjectedSolidAngle,
      projectedSolidAngle(bench.lens, field, 'clipped', { aim }),
    );
    compare('vignetted', 'relative', entry.vignettedRelative, relativeIllumination(bench.lens, field, 'clipped', aim));
  }
}
