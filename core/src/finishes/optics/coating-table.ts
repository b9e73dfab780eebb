import { fixedFace } from '../../physics/fresnel.ts';
import { between } from '../../physics/tables.ts';
import { takeShares } from '../fresnel.ts';
import { defineOptics } from './optics.ts';

/** Shares by angle and wavelength, straight between the entries; what is neither is absorbed. */
export interface CoatingTableOptics {
  readonly kind: 'coating_table';
  readonly nm: readonly number[];
  readonly degrees: readonly number[];
  /** Row by row, one row a wavelength. */
  readonly reflectance: readonly number[];
  readonly transmittance: readonly number[];
}

/** Where a value stands in a rising list: the entry before it and how far on to the next; clamped to its ends. */
function place(list: readonly number[], value: number): [number, number] {
  const last = list.length - 1;
  if (last === 0 || value <= list[0]) return [0, 0];
  if (value >= list[last]) return [last, 0];
  let i = 1;
  while (list[i] < value) i++;
  return [i - 1, (value - list[i - 1]) / (list[i] - list[i - 1])];
}

export const coatingTable = defineOptics<CoatingTableOptics>({
  kind: 'coating_table',
  title: 'Table of shares',
  meaning: 'Shares reflected and transmitted by angle and wavelength, straight between the entries.',
  first: { kind: 'coating_table', nm: [550], degrees: [0, 90], reflectance: [0.005, 1], transmittance: [0.995, 0] },
  parameters: [],
  compile({ nm: rows, degrees, reflectance, transmittance }, nm) {
    const [row, part] = place(rows, nm);
    const atWave = (values: readonly number[]) =>
      degrees.map((_, column) => {
        const from = values[row * degrees.length + column];
        return part === 0 ? from : between(from, values[(row + 1) * degrees.length + column], part);
      });
    const [reflected, through] = [atWave(reflectance), atWave(transmittance)];
    return {
      opaque: false,
      shares(n1, n2, cosine, _outward, out) {
        const [column, on] = place(degrees, (Math.acos(Math.min(1, cosine)) * 180) / Math.PI);
        const along = (values: readonly number[]) =>
          on === 0 ? values[column] : between(values[column], values[column + 1], on);
        fixedFace(along(reflected), along(through), n1, n2, cosine);
        takeShares(out);
      },
      plain: { kind: 'angles', degrees, reflectance: reflected, transmittance: through },
    };
  },
});
