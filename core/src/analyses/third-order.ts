import { seidel, SEIDEL_KEYS, type Seidel, type SeidelSums } from '../imaging/field/seidel.ts';
import { success } from '../math/outcome.ts';
import { defineAnalysis } from './analysis.ts';
import type { TablePanel } from './panels.ts';

/** What a sum is called in mm and in waves, in words, and what it is divided by to be a wavefront. */
const SUMS: Readonly<Record<keyof SeidelSums, readonly [mm: string, waves: string, words: string, per: number]>> = {
  s1: ['S₁', 'W040', 'spherical aberration', 8],
  s2: ['S₂', 'W131', 'coma', 2],
  s3: ['S₃', 'W222', 'astigmatism', 2],
  s4: ['S₄', 'W220p', 'Petzval curvature', 4],
  s5: ['S₅', 'W311', 'distortion', 2],
  c1: ['C₁', 'W020', 'axial colour', 2],
  c2: ['C₂', 'W111', 'lateral colour', 1],
};

/** Below this a sum is shown as 0, waves or mm. */
const NOTHING = 5e-5;

export const seidelTable = defineAnalysis({
  id: 'seidel',
  title: 'Seidel sums',
  topic: 'theory',
  question: 'Which surface makes it?',
  meaning:
    'Third-order aberrations by surface at the edge of pupil and field, undercorrected positive: ' +
    SEIDEL_KEYS.map((key) => `${SUMS[key][0]} (${SUMS[key][1]}) ${SUMS[key][2]}`).join(', ') +
    '. Colour: from the shortest to the longest wavelength.',
  settings: { unit: { kind: 'choice', title: 'In', options: ['waves', 'mm'], fallback: 'waves' } },
  exact: true,
  // eslint-disable-next-line require-yield -- nothing to wait for
  *evaluate(lens, { unit }) {
    const found = seidel(lens);
    if (!found.ok) return found;
    const { nm, shortest, longest, surfaces, total } = found.value;
    const value = (sums: SeidelSums, key: keyof SeidelSums) => {
      const shown = unit === 'mm' ? sums[key] : sums[key] / SUMS[key][3] / (nm * 1e-6);
      return Math.abs(shown) < NOTHING ? 0 : shown;
    };
    const row = (name: string, sums: SeidelSums) => [name, ...SEIDEL_KEYS.map((key) => value(sums, key))];
    const table: TablePanel = {
      kind: 'table',
      title: 'by surface',
      columns: [
        { title: 'surface', unit: '', ids: true },
        ...SEIDEL_KEYS.map((key) => ({ title: SUMS[key][unit === 'mm' ? 0 : 1], unit: '', digits: 3, bars: true })),
      ],
      rows: surfaces.map((one) => row(one.id, one)),
      total: row('lens', total),
    };
    return success({
      panels: [table],
      words: [mostOf(found.value)],
      about: [
        `third order of ${nm} nm at the edge of pupil and field`,
        `colour ${shortest} to ${longest} nm`,
        'undercorrected positive',
        unit,
      ],
    });
  },
});

/** What adds most to the wavefront at the edge of the field, and how much of it the surfaces balance. */
function mostOf({ surfaces, total }: Seidel): string {
  const keys = (['s1', 's2', 's3', 's4'] as const).map((key) => ({
    key,
    total: Math.abs(total[key]) / SUMS[key][3],
    parts: surfaces.reduce((sum, one) => sum + Math.abs(one[key]), 0) / SUMS[key][3],
  }));
  const worst = keys.reduce((a, b) => (b.total > a.total ? b : a));
  if (surfaces.length === 0 || worst.parts === 0) return 'No third-order aberration of any size.';
  const source = surfaces.reduce((a, b) => (Math.abs(b[worst.key]) > Math.abs(a[worst.key]) ? b : a));
  const left = Math.round((100 * worst.total) / worst.parts);
  return (
    `${source.id} contributes most to ${SUMS[worst.key][2]}, the largest sum; ` +
    `${left} % of what all surfaces contribute to it remains.`
  );
}
