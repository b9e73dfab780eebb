import { defineScatter } from './law.ts';
import { lobeLaw } from './lobe.ts';

/** BSDF as a table over |β − β₀|, straight between its logarithms. */
export interface TableScatter {
  readonly kind: 'table';
  readonly beta: readonly number[];
  readonly bsdf: readonly number[];
}

/** log BSDF straight over log β; flat below the first entry, straight on to the end of the table, 0 behind it. */
function tableOf(beta: readonly number[], bsdf: readonly number[]): (rho: number) => number {
  const last = beta.length - 1;
  return (rho) => {
    if (rho <= beta[0]) return bsdf[0];
    if (rho > beta[last]) return 0;
    let i = 1;
    while (beta[i] < rho) i++;
    const part = Math.log(rho / beta[i - 1]) / Math.log(beta[i] / beta[i - 1]);
    return bsdf[i - 1] * (bsdf[i] / bsdf[i - 1]) ** part;
  };
}

export const table = defineScatter<TableScatter>({
  kind: 'table',
  title: 'Table',
  meaning: 'BSDF over |β − β₀|, straight between its logarithms.',
  first: { kind: 'table', beta: [0.01, 0.1, 1], bsdf: [10, 1, 0.01] },
  parameters: [],
  table: {
    columns: [
      { id: 'beta', title: '|β − β₀|', unit: '', above: 0, most: 2, rises: true },
      { id: 'bsdf', title: 'BSDF', unit: '1/sr', above: 0 },
    ],
    least: 2,
  },
  compile: ({ beta, bsdf }) => lobeLaw(tableOf(beta, bsdf), beta[0] || 1e-4),
});
