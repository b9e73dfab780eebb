import {
  bestFocusShift,
  chiefAtImage,
  clearShare,
  distortion,
  Evaluation,
  fieldSpot,
  paraxialImagePoint,
  imageSine,
  largestRadius,
  pupilLimit,
  refractiveIndex,
  rmsOverFields,
  rmsRadius,
  weightedSpots,
  type FieldPoint,
  type FieldSpot,
  type FirstOrder,
  type LensEvaluation,
  type Outcome,
  type PupilSampling,
  type RayChoice,
} from '@ulvex/core';
import { judgeRays, type RayRecord } from './judge-rays.ts';
import { LENS_ID, toProject, type ReferenceLens } from './reference-lens.ts';
import { judgeFoci, judgeIllumination, judgeMtf, judgeOpd, judgeSeidel } from './judge-wavefront.ts';
import { Tally, type Tolerance } from './tally.ts';
import { toleranceFor, type ToleranceTable } from './tolerances.ts';

export type Aim = 'paraxial' | 'real';

/* eslint-disable @typescript-eslint/no-explicit-any -- reference files are read by the schema in their README */
type Json = any;

/** What a judge needs beside the reference file. */
export interface Bench {
  readonly reference: ReferenceLens;
  readonly lens: LensEvaluation;
  readonly tally: Tally;
  tolerance(category: string, aim?: Aim): Tolerance;
}

/**
 * Compares everything in a reference file with what Ulvex computes for its lens.
 *
 * @param project - holds the lens, where it was made in another way than from the file
 */
export function judgeLens(
  reference: ReferenceLens,
  values: Json,
  table: ToleranceTable,
  project = toProject(reference),
): Tally {
  const tally = new Tally();
  const evaluation = new Evaluation(project).lens(LENS_ID);
  if (!evaluation.ok) throw new Error(evaluation.reason);
  const bench: Bench = {
    reference,
    lens: evaluation.value,
    tally,
    tolerance: (category, aim) => toleranceFor(category, aim, table, reference.toleranceOverrides as ToleranceTable),
  };
  judgeIndices(bench, values.indices ?? []);
  judgeFirstOrder(bench, values.firstOrder ?? []);
  judgeRays(bench, (values.rays ?? []) as RayRecord[]);
  judgeSpots(bench, values.spot ?? []);
  judgeBestFocus(bench, values.bestFocus ?? []);
  judgeFieldCurves(bench, values.fieldCurves ?? []);
  judgeColour(bench, values.axialColour, values.lateralColour ?? []);
  if (values.realWorkingFNumberAxis !== undefined) {
    const { model } = bench.lens;
    const lens = { ...model.lens, pupil: { ...model.lens.pupil, aim: 'stop' as const } };
    const sine = valueOf(imageSine({ ...model, lens }));
    const tolerance = bench.tolerance('firstOrder');
    const actual = sine && 1 / (2 * sine);
    tally.compare('realWorkingFNumber', 'on the axis', values.realWorkingFNumberAxis, actual, tolerance);
  }
  if (values.vignetting) judgeVignetting(bench, values.vignetting);
  judgeFoci(bench, values.fieldCurves ?? []);
  judgeSeidel(bench, values.seidel);
  judgeOpd(bench, values.opd ?? []);
  judgeMtf(bench, values.mtf ?? []);
  judgeIllumination(bench, values.relativeIllumination ?? []);
  return tally;
}

export function waveAt({ reference }: Bench, um: number): number {
  const wave = reference.wavelengths.findIndex((entry) => entry.um === um);
  if (wave < 0) throw new Error(`the lens has no wavelength ${um} µm`);
  return wave;
}

/** A field of the lens, or one that only the reference values look at. */
export function fieldAt({ lens }: Bench, value: number): FieldPoint {
  const known = lens.model.lens.fields.points.find((point) => point.y === value);
  return known ?? { id: `at_${String(value)}`, x: 0, y: value, weight: 1 };
}

export function aimOf(aim: Aim): 'paraxial' | 'stop' {
  return aim === 'real' ? 'stop' : 'paraxial';
}

/** `forbes12x24` and `grid64` as samplings. */
export function samplingOf(name: string): PupilSampling {
  const polar = /^forbes(\d+)x(\d+)$/.exec(name);
  if (polar) return { kind: 'polar', rings: Number(polar[1]), arms: Number(polar[2]) };
  const grid = /^grid(\d+)$/.exec(name);
  if (grid) return { kind: 'grid', size: Number(grid[1]) };
  throw new Error(`unknown sampling ${name}`);
}

export function valueOf<T>(outcome: Outcome<T>): T | undefined {
  return outcome.ok ? outcome.value : undefined;
}

/** Infinity and “does not apply” are null in the reference. */
function nullable(value: number | null | undefined): number | null | undefined {
  return value === null || value === undefined || Number.isFinite(value) ? value : null;
}

function judgeIndices(bench: Bench, indices: Json[]): void {
  const { model } = bench.lens;
  for (const { um, byMaterial } of indices) {
    for (const [key, expected] of Object.entries(byMaterial as Record<string, number>)) {
      const label = key === 'air' ? 'air' : key;
      const material = model.media.find((medium) => medium?.label === label);
      const actual = material && refractiveIndex(material.dispersion, um * 1000);
      bench.tally.compare('indices', `${key} at ${um}`, expected, actual, bench.tolerance('indices'));
    }
  }
}

/** How each key of the reference is computed from first-order data. */
const FIRST_ORDER: Readonly<Record<string, (data: FirstOrder, lens: LensEvaluation) => number | null>> = {
  power: (data) => data.power,
  EFL: (data) => data.focalLength,
  EFL_imageSpace_minus_1_over_C: (data) => data.focalLength,
  BFD: (data) => data.backFocalDistance,
  FFD: (data) => data.frontFocalDistance,
  entrancePupilZ: (data) => data.entrancePupil,
  entrancePupilDiameter: (data) => data.entrancePupilDiameter,
  stopSemiAperture: (data) => data.stopSemiAperture,
  exitPupilFromLastSurface: (data) => data.exitPupil,
  exitPupilFromImage: (data, lens) => data.exitPupil - lens.model.surfaces.at(-2)!.gap,
  exitPupilDiameter: (data) => data.exitPupilDiameter,
  paraxialImageDistance: (data) => data.imageDistance,
  magnification: (data) => data.magnification,
  fNumber: (data) => data.fNumber,
  workingFNumberParaxial: (data) => data.workingFNumber,
  lagrange: (data) => data.lagrange,
  paraxialChiefImageHeightAtParaxialImage: ({ chief, imageDistance }) =>
    chief.y.at(-2)! + chief.u.at(-2)! * imageDistance,
};

function judgeFirstOrder(bench: Bench, firstOrder: Json[]): void {
  const tolerance = bench.tolerance('firstOrder');
  for (const { um, marginal, chief, ...scalars } of firstOrder) {
    const data = valueOf(bench.lens.firstOrder(waveAt(bench, um)));
    const compare = (label: string, expected: number | null, actual: number | null | undefined) =>
      bench.tally.compare('firstOrder', `${label} at ${um}`, expected, nullable(actual), tolerance);
    for (const [key, expected] of Object.entries(scalars)) {
      compare(key, expected as number | null, data && FIRST_ORDER[key]?.(data, bench.lens));
    }
    for (const [name, expected, ray] of [
      ['marginal', marginal, data?.marginal],
      ['chief', chief, data?.chief],
    ] as const) {
      expected.y.forEach((y: number, j: number) => compare(`${name} y ${j + 1}`, y, ray?.y[j]));
      expected.u.forEach((u: number, j: number) => compare(`${name} u ${j}`, u, ray?.u[j]));
      compare(`${name} at the image`, expected.yImage, ray?.y.at(-1));
    }
  }
}

function judgeVignetting(bench: Bench, { aim, um, rows }: Json): void {
  const tolerance = bench.tolerance('vignetting', aim as Aim);
  const choice = { wave: waveAt(bench, um), aim: aimOf(aim) };
  const sampling: PupilSampling = { kind: 'grid', size: 64 };
  for (const row of rows as Json[]) {
    const field = fieldAt(bench, row.field);
    const compare = (label: string, expected: number, actual: number | undefined) =>
      bench.tally.compare('vignetting', `${label} at ${row.field}`, expected, actual, tolerance);
    const bundle = valueOf(bench.lens.bundle(field, choice.wave, { sampling, pupil: 'clipped', aim: choice.aim }));
    const total = bundle?.rays.capacity;
    const passed = bundle?.rays.status.reduce((sum, status) => sum + (status === 0 ? 1 : 0), 0);
    compare('rays', row.total, total);
    compare('passing rays', row.passCount, passed);
    compare('share of rays', row.passFractionGrid64, passed === undefined ? undefined : passed / total!);
    compare('share of area', row.passAreaFraction, valueOf(clearShare(bench.lens, field, 720, choice)));
    for (const [key, direction] of [
      ['topRho', Math.PI / 2],
      ['bottomRho', -Math.PI / 2],
      ['sagittalRho', 0],
    ] as const)
      compare(key, row[key], valueOf(pupilLimit(bench.lens, field, direction, choice)));
  }
}

function judgeSpots(bench: Bench, spots: Json[]): void {
  for (const entry of spots) {
    const aim = entry.aim as Aim;
    const tolerance = bench.tolerance('spot', aim);
    const choice: RayChoice = { sampling: samplingOf(entry.sampling), pupil: 'full', aim: aimOf(aim) };
    const field = fieldAt(bench, entry.field);
    const at = `${aim} ${entry.field}° ${entry.sampling}`;
    for (const { um, ...expected } of entry.mono ?? []) {
      compareSpot(
        bench,
        `${at} ${um}`,
        expected,
        valueOf(fieldSpot(bench.lens, field, choice, waveAt(bench, um))),
        tolerance,
      );
    }
    if (entry.poly)
      compareSpot(bench, `${at} all colours`, entry.poly, valueOf(fieldSpot(bench.lens, field, choice)), tolerance);
  }
}

function compareSpot(
  bench: Bench,
  at: string,
  expected: Json,
  spot: FieldSpot | undefined,
  tolerance: Tolerance,
): void {
  // Aggregates of a bundle with failing rays are null in the reference.
  const whole = spot && spot.losses.length === 0 ? spot : undefined;
  const compare = (label: string, value: number | null, actual: number | undefined) =>
    bench.tally.compare('spot', `${label} ${at}`, value, value === null && !whole ? null : actual, tolerance);
  compare('RMS about chief', expected.rmsChief, whole && valueOf(rmsRadius(whole, 'chief')));
  compare('RMS about centroid', expected.rmsCentroid, whole && valueOf(rmsRadius(whole, 'centroid')));
  compare('largest radius', expected.geoRadiusChief, whole && valueOf(largestRadius(whole, 'chief')));
  for (const axis of [0, 1] as const) {
    compare(`centroid ${'xy'[axis]}`, expected.centroid?.[axis] ?? null, whole?.centroid[axis]);
    compare(`chief ${'xy'[axis]}`, expected.chief?.[axis] ?? null, whole?.chief?.[axis]);
  }
}

function judgeBestFocus(bench: Bench, entries: Json[]): void {
  for (const entry of entries) {
    const aim = entry.aim as Aim;
    const tolerance = bench.tolerance('bestFocus', aim);
    const choice: RayChoice = { sampling: samplingOf(entry.sampling), pupil: 'full', aim: aimOf(aim) };
    const traced = valueOf(weightedSpots(bench.lens, choice));
    const spots = traced?.every((spot) => spot.losses.length === 0) ? traced : undefined;
    const shift = spots && valueOf(bestFocusShift(bench.lens, spots, entry.reference, choice.aim));
    // As in spots: null where rays of a bundle fail.
    const compare = (label: string, expected: number | null, actual: number | undefined) =>
      bench.tally.compare(
        'bestFocus',
        `${label} ${aim} ${entry.reference}`,
        expected,
        spots ? actual : null,
        tolerance,
      );
    compare('shift', entry.shift, shift);
    compare('RMS before', entry.rmsBefore, spots && valueOf(rmsOverFields(spots, entry.reference)));
    compare('RMS after', entry.rmsAfter, shift === undefined ? undefined : rmsWithShift(bench, shift, entry, choice));
  }
}

/** RMS spot of the same lens with its last distance changed. */
function rmsWithShift(bench: Bench, shift: number, entry: Json, choice: RayChoice): number | undefined {
  const surfaces = bench.reference.surfaces.with(-1, {
    ...bench.reference.surfaces.at(-1)!,
    thickness: bench.reference.surfaces.at(-1)!.thickness + shift,
  });
  const moved = new Evaluation(toProject({ ...bench.reference, surfaces })).lens(LENS_ID);
  const spots = moved.ok ? valueOf(weightedSpots(moved.value, choice)) : undefined;
  return spots && valueOf(rmsOverFields(spots, entry.reference));
}

function judgeFieldCurves(bench: Bench, entries: Json[]): void {
  for (const entry of entries) {
    const aim = entry.aim as Aim;
    const field = fieldAt(bench, entry.field);
    const chief = valueOf(chiefAtImage(bench.lens, field, bench.lens.model.primary, aimOf(aim)));
    const ideal = valueOf(paraxialImagePoint(bench.lens, field));
    const bend = valueOf(distortion(bench.lens, field, { scale: 'paraxial image', aim: aimOf(aim) }));
    const compare = (category: string, label: string, expected: number | null, actual: number | null | undefined) =>
      bench.tally.compare(
        category,
        `${label} ${aim} ${entry.field}°`,
        expected,
        actual,
        bench.tolerance(category, aim),
      );
    compare(
      'fieldCurves.distortionPct',
      'distortion',
      entry.distortionPct_ideal,
      field.y === 0 ? null : bend && bend * 100,
    );
    // The scale of the surface in use is that of a paraxial chief ray there.
    const own = valueOf(distortion(bench.lens, field, { aim: aimOf(aim) }));
    compare(
      'fieldCurves.distortionPct',
      'distortion in the surface',
      field.y === 0 ? null : entry.distortionPct_paraxialChief,
      field.y === 0 ? null : own && own * 100,
    );
    compare('colour', 'chief ray at the image', entry.chiefY, chief?.y[0]);
    compare('colour', 'ideal height', entry.yIdealFtanOrMag, ideal?.[1]);
  }
}

function judgeColour(bench: Bench, axial: Json, lateral: Json[]): void {
  const { wavelengths } = bench.reference;
  const ends = [...wavelengths.keys()].sort((a, b) => wavelengths[a].um - wavelengths[b].um);
  const [shortest, longest] = [ends[0], ends[ends.length - 1]];
  if (axial) {
    const tolerance = bench.tolerance('colour', 'paraxial');
    const distances = wavelengths.map((_, wave) => valueOf(bench.lens.firstOrder(wave))?.imageDistance);
    axial.paraxialImageDistance.forEach((expected: number, wave: number) =>
      bench.tally.compare('colour', `image distance ${wave + 1}`, expected, distances[wave], tolerance),
    );
    const difference = (distances[shortest] ?? NaN) - (distances[longest] ?? NaN);
    bench.tally.compare('colour', 'axial, short minus long', axial.shortMinusLong, difference, tolerance);
  }
  for (const entry of lateral) {
    const aim = entry.aim as Aim;
    const tolerance = bench.tolerance('colour', aim);
    const field = fieldAt(bench, entry.field);
    const heights = wavelengths.map((_, wave) => valueOf(chiefAtImage(bench.lens, field, wave, aimOf(aim)))?.y[0]);
    entry.chiefY.forEach((expected: number, wave: number) =>
      bench.tally.compare('colour', `chief ${wave + 1} ${aim} ${entry.field}°`, expected, heights[wave], tolerance),
    );
    const difference = (heights[shortest] ?? NaN) - (heights[longest] ?? NaN);
    bench.tally.compare('colour', `lateral ${aim} ${entry.field}°`, entry.shortMinusLong, difference, tolerance);
  }
}
