// The trials of `npm run bench -- tolerance` written out for bench/native/tolerance.cpp, and that program run on them.
import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { Evaluation, pupilPoints, type LensEvaluation, type Project } from '@ulvex/core';
import { LotDraws, perturbed, type StudyInput } from '@ulvex/core/tolerance';

const root = resolve(import.meta.dirname, '../..');

interface NativeRun {
  readonly millisecondsPerTrial: number;
  /** Mean of the RMS spots of all fields and trials, µm. */
  readonly checksum: number;
}

function lensOf(project: Project): LensEvaluation {
  const lens = new Evaluation(project).lens(project.lenses[0].id);
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
}

/** A lens as the program reads it: where its rays are launched, its surfaces with their frames, indices by colour. */
function numbersOf(project: Project): number[] {
  const lens = lensOf(project);
  const pupil = lens.pupil();
  if (!pupil.ok) throw new Error(pupil.reason);
  const { model } = lens;
  const surfaces = model.surfaces.flatMap(({ shape, entry }, j) => {
    const shift = entry?.shift ?? [0, 0, j > 0 ? -model.surfaces[j - 1].gap : 0];
    const rotation = entry?.rotation ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
    return [shape.curvature, ...shift, ...rotation, ...model.indices.map((row) => row[j])];
  });
  return [pupil.value.z, pupil.value.stopSemi, ...surfaces, ...model.indices.map((row) => row.at(-1)!)];
}

/** Builds the program and writes trials for it; what runs it is returned. Null where there is no compiler. */
export function nativeTrials(
  { project, tolerances }: StudyInput,
  seed: number,
  trials: number,
): (() => NativeRun) | null {
  const folder = join(root, '.cache/native');
  mkdirSync(folder, { recursive: true });
  const [program, file] = [join(folder, 'tolerance'), join(folder, 'trials.bin')];
  try {
    execFileSync('g++', ['-O3', '-march=native', join(root, 'bench/native/tolerance.cpp'), '-o', program]);
  } catch {
    return null;
  }
  const { model } = lensOf(project);
  const { px, py, weight } = pupilPoints({ kind: 'polar', rings: 12, arms: 24 }, model.lens.pupil.obscuration);
  const fields = model.lens.fields.points;
  const tangent = (degrees: number) => Math.tan((degrees * Math.PI) / 180);
  const draws = LotDraws.of(tolerances, seed);
  if (!draws.ok) throw new Error(draws.reason);
  const pupil = lensOf(project).pupil();
  if (!pupil.ok) throw new Error(pupil.reason);
  const numbers = [
    model.wavelengths.length,
    fields.length,
    px.length,
    model.surfaces.length,
    model.stop,
    trials,
    ...px,
    ...py,
    ...weight,
    ...model.wavelengths.map((one) => one.weight),
    ...fields.map((one) => one.weight),
    ...fields.map(({ x }) => tangent(x)),
    ...fields.map(({ y }) => tangent(y)),
    pupil.value.semi,
    ...numbersOf(project),
  ];
  for (let trial = 0; trial < trials; trial++) {
    const made = perturbed(project, draws.value.of(trial));
    if (!made.ok) throw new Error(made.reason);
    numbers.push(...numbersOf(made.value));
  }
  writeFileSync(file, Float64Array.from(numbers));
  return () => JSON.parse(execFileSync(program, [file], { encoding: 'utf8' })) as NativeRun;
}
