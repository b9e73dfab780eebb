import { success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import { diffractionPupil, type Detail, type DiffractionPupil } from '../wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { modulation } from './mtf.ts';
import { gridTransfer, pupilGrid, type PupilGrid } from '../wavefront/pupil-grid.ts';
import { referenceSphere, type ReferenceSphere } from '../wavefront/reference-sphere.ts';

/** Cells over half of the pupil: modulation is good to 0.003 in draft, to 0.0015 in full. */
export const CELLS = { draft: 24, full: 48 } as const;

/** The pupil of one colour on a grid, from which the image is told while its surface is moved. */
export interface Sampled {
  readonly grid: PupilGrid;
  readonly pupil: DiffractionPupil;
  readonly step: number;
  readonly weight: number;
  /** Image-space index, and the sphere that the pupil lies on by the shift of the image surface. */
  readonly index: number;
  /** 1 where light goes along the axis of the image surface, −1 against it. */
  readonly forward: 1 | -1;
  readonly sphere: (shift: number) => Outcome<ReferenceSphere>;
}

/** The pupils of a field in all colours of a choice, on grids. */
export function sampledPupils(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number | undefined,
  clipped: boolean,
  detail: Detail,
): Outcome<Sampled[]> {
  const { model } = lens;
  const waves =
    wave === undefined ? [...model.wavelengths.keys()].filter((w) => model.wavelengths[w].weight > 0) : [wave];
  const total = waves.reduce((sum, w) => sum + (wave === undefined ? model.wavelengths[w].weight : 1), 0);
  const chief = lens.chief(field, wave ?? model.primary);
  if (!chief.ok) return chief;
  const forward = chief.value.n[0] < 0 ? -1 : 1;
  const sampled: Sampled[] = [];
  for (const one of waves) {
    const reference = wave === undefined ? 'primary' : 'own';
    const pupil = diffractionPupil(lens, field, {
      method: 'physical',
      wave: one,
      reference,
      detail: detail === 'draft' ? 'draft' : 'good',
      pupil: clipped ? 'clipped' : 'full',
    });
    if (!pupil.ok) return pupil;
    const step = Math.max(...pupil.value.half) / Math.max(CELLS[detail], 2 * pupil.value.waves);
    sampled.push({
      pupil: pupil.value,
      grid: pupilGrid(pupil.value, step, detail),
      step,
      weight: (wave === undefined ? model.wavelengths[one].weight : 1) / total,
      index: model.indices[one][model.surfaces.length - 1],
      forward,
      sphere: (shift) => referenceSphere(lens, field, one, { reference, shift }),
    });
  }
  return success(sampled);
}

/**
 * A pupil where the image surface is moved along its axis and the chief ray is followed: on the sphere about the new point. Its places stay, so
 * that their coordinates become (new centre − place)/R′ = (R/R′)·(old ones) + a constant, and their paths change with their distance from the centre.
 */
function moved(
  { grid, pupil, step, index, forward, sphere }: Sampled,
  shift: number,
): { grid: PupilGrid; step: number } {
  if (shift === 0) return { grid, step };
  const [here, there] = [sphere(0), sphere(shift)];
  if (!here.ok || !there.ok) return { grid, step };
  const { centre, radius, side } = here.value;
  const [dx, dy, dz] = there.value.centre.map((value, axis) => value - centre[axis]);
  const { columns, rows } = grid;
  const [re, im] = [grid.re.slice(), grid.im.slice()];
  for (let row = 0, at = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, at++) {
      if (re[at] === 0 && im[at] === 0) continue;
      const u = (pupil.middle[0] + (column - (columns - 1) / 2) * step) / index;
      const v = (pupil.middle[1] + (row - (rows - 1) / 2) * step) / index;
      const w = forward * Math.sqrt(Math.max(0, 1 - u * u - v * v));
      // The place is centre + side·R·(u, v, w); its distance from the new centre less R, nothing cancelling for a large R.
      const along = u * dx + v * dy + w * dz;
      const square = (dx * dx + dy * dy + dz * dz) / radius;
      const far = Math.sqrt(Math.max(0, 1 + (square - 2 * side * along) / radius));
      const path = (-side * index * (square - 2 * side * along)) / (1 + far);
      const turn = (-2 * Math.PI * path) / pupil.mm;
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      [re[at], im[at]] = [re[at] * c - im[at] * s, re[at] * s + im[at] * c];
    }
  const ratio = radius === Infinity ? 1 : radius / there.value.radius;
  return { grid: { ...grid, re, im }, step: step * ratio };
}

/** Modulation of all colours together, along y and along x, at frequencies in cycles per mm. */
export function modulations(
  sampled: readonly Sampled[],
  shift: number,
  frequencies: readonly number[],
): { tangential: number[]; sagittal: number[] } {
  const sums = [0, 1].map(() => frequencies.map(() => ({ re: 0, im: 0 })));
  for (const one of sampled) {
    const { grid, step } = moved(one, shift);
    const shifts = frequencies.map((nu) => (nu * one.pupil.mm) / step);
    for (const axis of [0, 1] as const)
      gridTransfer(grid, axis, shifts).forEach(({ re, im }, k) => {
        sums[axis][k] = { re: sums[axis][k].re + one.weight * re, im: sums[axis][k].im + one.weight * im };
      });
  }
  return { sagittal: sums[0].map(modulation), tangential: sums[1].map(modulation) };
}

/**
 * The mean of tangential and sagittal modulation of a field at a frequency by the shift of its image surface, primary
 * wavelength: made ready once, quick to ask.
 */
export function fieldFocus(
  lens: LensEvaluation,
  field: FieldPoint,
  frequency: number,
): Outcome<(shift: number) => number> {
  const sampled = sampledPupils(lens, field, lens.model.primary, false, 'draft');
  if (!sampled.ok) return sampled;
  return success((shift) => {
    const { tangential, sagittal } = modulations(sampled.value, shift, [frequency]);
    return (tangential[0] + sagittal[0]) / 2;
  });
}
