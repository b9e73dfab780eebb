import { expect } from 'chai';
import { distributionOf, type DistributionKind } from '../math/distribution.ts';
import { RandomStream } from '../math/random.ts';
import { quickProject } from '../project/fixtures.ts';
import { readProjectText } from '../project/read.ts';
import type { GroupShare, Tolerance } from '../project/tolerances.ts';
import { DepartureDraws, drawnTolerances } from '../tolerances/drawn.ts';
import { changeTolerances, readGroup } from '../tolerances/edits.ts';
import { toleranceFindings } from './findings.ts';
import { together, type Influence } from './influence.ts';

const one = (id: string, share: GroupShare | null, distribution: DistributionKind, reach = 1): Tolerance => ({
  id,
  kind: 'number',
  address: 'lenses.lens.surfaces.s1.thickness',
  lower: -reach,
  upper: reach,
  distribution,
  ...(share && { with: share }),
});
const UNIFORM: DistributionKind = { kind: 'uniform' };
const NORMAL: DistributionKind = { kind: 'normal', sigmas: 3 };
const ENDS: DistributionKind = { kind: 'ends' };

/** A measure that follows each tolerance by a slope and a curvature. */
function influence({ lower, upper, distribution }: Tolerance, slope: number, curvature = 0): Influence {
  const found = distributionOf(distribution!, lower, upper);
  if (!found.ok) throw new Error(found.reason);
  const { mean, central } = found.value.moments;
  const b = slope + 2 * curvature * mean;
  const variance =
    b * b * central[2] + 2 * b * curvature * central[3] + curvature ** 2 * (central[4] - central[2] ** 2);
  return {
    at: [],
    values: [],
    fit: { value: 0, slope, curvature, residual: 0 },
    ends: [null, null],
    extrapolated: false,
    shift: slope * mean + curvature * (central[2] + mean ** 2),
    deviation: Math.sqrt(variance),
    share: 0,
  };
}

function spread(tolerances: readonly Tolerance[], slopes: readonly number[], curvatures: readonly number[] = []) {
  const influences = tolerances.map((tolerance, i) => influence(tolerance, slopes[i], curvatures[i] ?? 0));
  return together(tolerances, influences).deviation;
}

function draws(tolerances: readonly Tolerance[], count: number): number[][] {
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) throw new Error(drawn.reason);
  const work = new DepartureDraws(drawn.value);
  return Array.from({ length: count }, (_, t) => {
    const row: number[] = [];
    work.draw(new RandomStream(5, t), (i, by) => (row[i] = by));
    return row;
  });
}

function correlationOf(rows: readonly number[][]): number {
  const mean = (i: number) => rows.reduce((sum, row) => sum + row[i], 0) / rows.length;
  const [a, b] = [mean(0), mean(1)];
  const over = (i: number, j: number) =>
    rows.reduce((sum, row) => sum + (row[i] - [a, b][i]) * (row[j] - [a, b][j]), 0);
  return over(0, 1) / Math.sqrt(over(0, 0) * over(1, 1));
}

describe('tolerances of a group', () => {
  const A: GroupShare = { group: 'A' };

  it('that depart alike add their slopes, opposite ones take them from each other', () => {
    for (const [kind, sigma] of [
      [UNIFORM, 1 / Math.sqrt(3)],
      [NORMAL, 1 / 3],
      [ENDS, 1],
    ] as const) {
      expect(spread([one('a', A, kind), one('b', A, kind)], [2, 3])).to.be.closeTo(5 * sigma, 2e-3 * sigma);
      const back = { group: 'A', correlation: -1 };
      expect(spread([one('a', A, kind), one('b', back, kind)], [2, 3])).to.be.closeTo(sigma, 8e-3 * sigma);
    }
  });

  it('with a correlation: the covariance of normal ones, 6/π·asin(ρ/2) of uniform ones (M. G. Kendall)', () => {
    const share = (correlation: number): GroupShare => ({ group: 'A', correlation });
    const [s, t, rho] = [2, 3, 0.8 * 0.5];
    const pair = (kind: DistributionKind) => [one('a', share(0.8), kind), one('b', share(0.5), kind)];
    const variance = (part: number, r: number) => part * (s * s + t * t + 2 * r * s * t);
    expect(spread(pair(NORMAL), [s, t]) ** 2).to.be.closeTo(variance(1 / 9, rho), 1e-6);
    const r = (6 / Math.PI) * Math.asin(rho / 2);
    expect(spread(pair(UNIFORM), [s, t]) ** 2).to.be.closeTo(variance(1 / 3, r), 1e-4);
    // Drawn at random: the same, within three standard errors.
    const rows = draws(pair(UNIFORM), 20_000);
    expect(correlationOf(rows)).to.be.closeTo(r, (3 * (1 - r * r)) / Math.sqrt(20_000));
  });

  it('squares of what departs alike go together, too: var (qx² + rx²) = (q + r)² var x²', () => {
    const found = spread([one('a', A, UNIFORM), one('b', A, UNIFORM)], [0, 0], [1, 2]);
    expect(found ** 2).to.be.closeTo(9 * (1 / 5 - 1 / 9), 1e-3);
  });

  it('each keep their own distribution, and those of no group are drawn as before', () => {
    const alone = [one('a', null, UNIFORM), one('b', null, ENDS)];
    const first = draws(alone, 50);
    const third = draws([...alone, one('c', A, UNIFORM, 2), one('d', A, UNIFORM, 2)], 50);
    third.forEach((row, t) => {
      expect(row.slice(0, 2)).to.deep.equal(first[t]);
      expect(row[2]).to.equal(row[3]);
    });
    const many = draws([one('a', { group: 'A', correlation: 0.7 }, UNIFORM), one('b', A, ENDS)], 4000);
    const mean = many.reduce((sum, [a]) => sum + a, 0) / many.length;
    const square = many.reduce((sum, [a]) => sum + a * a, 0) / many.length;
    expect(mean).to.be.closeTo(0, 3 / Math.sqrt(3 * 4000));
    expect(square).to.be.closeTo(1 / 3, 0.02);
    expect(many.every(([, b]) => Math.abs(b) === 1)).to.equal(true);
  });

  it('are typed by name and correlation, kept in the file, and named where one is alone', () => {
    const read = (text: string) => readGroup(text);
    expect(read('A')).to.deep.equal({ ok: true, value: { group: 'A' } });
    expect(read('tool −0.5')).to.deep.equal({ ok: true, value: { group: 'tool', correlation: -0.5 } });
    expect(read('–')).to.deep.equal({ ok: true, value: null });
    for (const wrong of ['A 2', '7', 'A B', 'A 0.5 1']) expect(read(wrong).ok, wrong).to.equal(false);
    const project = {
      ...quickProject([{ r: 50, t: 4, n: 1.5 }, { t: 95 }]),
      tolerancing: { tolerances: [one('a', null, UNIFORM)] },
    };
    const change = changeTolerances(project, new Map([['a', { with: { group: 'A', correlation: 0.5 } }]]));
    if (!change.ok) throw new Error(change.reason);
    const [{ value }] = change.value.edits as unknown as readonly { readonly value: typeof project.tolerancing }[];
    const next = { ...project, tolerancing: value };
    const again = readProjectText(JSON.stringify(next));
    expect(again.ok && again.project.tolerancing).to.deep.equal(value);
    expect(toleranceFindings(next, value).map(({ text }) => text)).to.deep.equal([
      'It is alone in the group “A”: it departs on its own.',
    ]);
    const back = changeTolerances(next, new Map([['a', { with: null }]]));
    expect(back.ok && JSON.stringify(back.value.edits)).to.not.include('"with"');
  });
});
