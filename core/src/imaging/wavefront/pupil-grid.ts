import { correlations } from '../../compute/correlation.ts';
import type { DiffractionPupil } from './diffraction-pupil.ts';
import type { PupilLine, Transfer } from './otf.ts';

/** A pupil on a square grid in n′(L, M), about its middle; cells that an edge crosses count by the share of them that is open. */
export interface PupilGrid {
  readonly columns: number;
  readonly rows: number;
  /** Amplitude with its phase, row by row, y rising. */
  readonly re: Float64Array;
  readonly im: Float64Array;
  /** Σ of amplitudes without phase, and of their squares, each times the share open: the field and the energy in units of a cell. */
  readonly field: number;
  readonly energy: number;
}

/** Lines by which the share of a row of cells that is open is found. */
const SUBROWS = { draft: 1, full: 4 } as const;

/**
 * Samples a pupil.
 *
 * @param step - side of a cell in n′L and n′M
 */
export function pupilGrid(pupil: DiffractionPupil, step: number, detail: 'draft' | 'full'): PupilGrid {
  const [halfX, halfY] = pupil.half;
  const [columns, rows] = [halfX, halfY].map((half) => 2 * Math.ceil(half / step) + 1);
  const [re, im] = [new Float64Array(columns * rows), new Float64Array(columns * rows)];
  const out = new Float64Array(2);
  const cell = step / halfX;
  const share = new Float64Array(columns);
  const subrows = SUBROWS[detail];
  let [field, energy] = [0, 0];
  for (let row = 0; row < rows; row++) {
    const v = ((row - (rows - 1) / 2) * step) / halfY;
    share.fill(0);
    let middle: PupilLine | null = null;
    for (let sub = 0; sub < subrows; sub++) {
      const at = v + (((sub + 0.5) / subrows - 0.5) * step) / halfY;
      if (Math.abs(at) >= 1) continue;
      const line = pupil.of.line(0, at);
      for (const [from, to] of line.open)
        addShares(share, from / cell + columns / 2, to / cell + columns / 2, 1 / subrows);
      if (line.open.length > 0) middle = line;
    }
    if (!middle) continue;
    const line = subrows === 1 || Math.abs(v) >= 1 ? middle : pupil.of.line(0, v);
    for (let column = 0; column < columns; column++) {
      const open = share[column];
      if (open === 0) continue;
      line.value((column - (columns - 1) / 2) * cell, out);
      const at = row * columns + column;
      const amplitude = open * out[0];
      re[at] = amplitude * Math.cos(out[1]);
      im[at] = amplitude * Math.sin(out[1]);
      field += amplitude;
      energy += amplitude * out[0];
    }
  }
  return { columns, rows, re, im, field, energy };
}

/** Adds to each cell how much of it lies between two places, in cells from the edge of the first. */
function addShares(share: Float64Array, from: number, to: number, weight: number): void {
  const [first, last] = [Math.max(0, Math.floor(from)), Math.min(share.length - 1, Math.floor(to))];
  for (let cell = first; cell <= last; cell++)
    share[cell] += weight * Math.max(0, Math.min(to, cell + 1) - Math.max(from, cell));
}

/**
 * The transfer function of a sampled pupil at shifts along an axis: sums over cells at whole shifts, cubics between them. Quick, and
 * good to some thousandths: what is drawn while a number is turned.
 *
 * @param axis - 0 for shifts along x, 1 along y
 * @param shifts - in cells
 */
export function gridTransfer(grid: PupilGrid, axis: 0 | 1, shifts: readonly number[]): Transfer[] {
  const bases = shifts.map(Math.floor);
  const wholes = [...new Set(bases.flatMap((base) => [base - 1, base, base + 1, base + 2].map(Math.abs)))];
  const sums = correlations(
    grid,
    wholes.map((whole) => (axis === 0 ? [whole, 0] : [0, whole])),
  );
  const known = new Map(wholes.map((whole, k) => [whole, sums[k]]));
  // Cells on an edge are open in part: with themselves they overlap by that part, not by its square.
  known.set(0, { re: grid.energy, im: 0 });
  return shifts.map((shift, k) => {
    const t = shift - bases[k];
    const weights = [
      (-t * (t - 1) * (t - 2)) / 6,
      ((t + 1) * (t - 1) * (t - 2)) / 2,
      (-(t + 1) * t * (t - 2)) / 2,
      ((t + 1) * t * (t - 1)) / 6,
    ];
    let [re, im] = [0, 0];
    weights.forEach((weight, j) => {
      const whole = bases[k] - 1 + j;
      const value = known.get(Math.abs(whole))!;
      re += (weight * value.re) / grid.energy;
      im += (weight * (whole < 0 ? -value.im : value.im)) / grid.energy;
    });
    return { re, im };
  });
}
