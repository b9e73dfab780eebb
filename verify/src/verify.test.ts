import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { readProject } from '@ulvex/core';
import { perturbed } from '@ulvex/core/tolerance';
import { judgeLens, samplingOf } from './judge-lens.ts';
import { judgePhysics } from './judge-physics.ts';
import { toProject, type ReferenceLens } from './reference-lens.ts';
import { countScalars, deviationOf, Tally } from './tally.ts';
import { toleranceFor, type ToleranceTable } from './tolerances.ts';

const read = (name: string) => JSON.parse(readFileSync(`reference/${name}`, 'utf8'));
/** How the reference calls the numbers of a frame. */
const MOVES = { decentreX: 'dx', decentreY: 'dy', tiltX: 'tx', tiltY: 'ty', tiltZ: 'tz' } as const;
const centredSurface = (surface: ReferenceLens['surfaces'][number]) => ({
  ...surface,
  ...Object.fromEntries(Object.keys(MOVES).map((key) => [key, 0])),
});

const TABLE = read('tolerances.json') as ToleranceTable;

/** Counts of one category when one lens is judged by a (possibly changed) reference. */
function judged(lens: string, category: string, change: (values: ReturnType<typeof read>) => void = () => {}) {
  const values = structuredClone(read(`${lens}.ref.json`));
  change(values);
  const counts = judgeLens(read(`${lens}.json`), values, TABLE).categories.get(category);
  return counts && { passed: counts.passed, failed: counts.failed, missing: counts.missing };
}

describe('counting', () => {
  it('agrees within the wider of two tolerances, and null with null only', () => {
    expect(deviationOf(100, 100.5, { abs: 0.1, rel: 0.01 })).to.equal(0.5);
    expect(deviationOf(0, 0.05, { abs: 0.1, rel: 0.01 })).to.equal(0.5);
    expect(deviationOf(3, 3, {})).to.equal(0);
    expect(deviationOf(3, 3.0000001, {})).to.equal(Infinity);
    expect(deviationOf(null, null, {})).to.equal(0);
    expect(deviationOf(null, 0, { abs: 1 })).to.equal(Infinity);
    expect(deviationOf(0, null, { abs: 1 })).to.equal(Infinity);
    expect(deviationOf(0, undefined, { abs: 1 })).to.equal(Infinity);
    expect(deviationOf(0, NaN, { abs: 1 })).to.equal(Infinity);
  });

  it('counts scalars, leaving inputs out', () => {
    const piece = {
      um: 0.5,
      rows: [
        { px: 1, W: 0.1 },
        { px: 0, W: null },
      ],
      name: 'text',
      deep: { values: [1, 2, 3] },
    };
    expect(countScalars(piece, new Set(['um', 'px']))).to.equal(5);
  });

  it('remembers what deviates most', () => {
    const tally = new Tally();
    tally.compare('a', 'small', 1, 1.01, { abs: 0.1 });
    tally.compare('a', 'large', 1, 1.5, { abs: 0.1 });
    tally.missing('b', 3);
    tally.missing('c', 0);
    expect(tally.counts('a')).to.deep.include({
      passed: 1,
      failed: 1,
      worstAt: 'large: expected 1, got 1.5',
    });
    expect([...tally.categories.keys()]).to.deep.equal(['a', 'b']);
  });

  it('takes tolerances by aim, overrides first', () => {
    expect(toleranceFor('rays.P', 'paraxial', TABLE)).to.deep.equal({ abs: 1e-10 });
    expect(toleranceFor('rays.P', 'real', TABLE)).to.deep.equal({ abs: 1e-8 });
    expect(toleranceFor('firstOrder', undefined, TABLE)).to.deep.equal({ rel: 1e-10, abs: 1e-10 });
    expect(toleranceFor('spot', 'real', TABLE, { spot: { abs: [1, 2] } })).to.deep.equal({ abs: 2 });
    expect(() => toleranceFor('beauty', undefined, TABLE)).to.throw('beauty');
  });
});

describe('verification', () => {
  it('turns every reference prescription into a legal project', () => {
    for (const n of [1, 2, 3, 5, 6, 7]) {
      const result = readProject(toProject(read(`lens${n}.json`) as ReferenceLens));
      expect(result.ok, JSON.stringify(result)).to.equal(true);
    }
  });

  it('reads the names of samplings', () => {
    expect(samplingOf('forbes12x24')).to.deep.equal({ kind: 'polar', rings: 12, arms: 24 });
    expect(samplingOf('grid64')).to.deep.equal({ kind: 'grid', size: 64 });
    expect(() => samplingOf('spiral9')).to.throw('spiral9');
  });

  it('fails on one wrong digit', () => {
    const good = judged('lens7', 'rays.P')!;
    expect(good.failed).to.equal(0);
    const bad = judged('lens7', 'rays.P', (values) => (values.rays[5].surfaces[2].P[1] += 1e-9));
    expect(bad).to.deep.equal({ ...good, passed: good.passed - 1, failed: 1 });
  });

  it('fails where a ray should fail and does not, and the other way round', () => {
    const good = judged('lens7', 'rays.opl')!;
    const bad = judged('lens7', 'rays.opl', (values) => (values.rays[0].surfaces[3].oplFromSurface1 = null));
    expect(bad).to.deep.equal({ ...good, passed: good.passed - 1, failed: 1 });
  });

  it('passes the tilted lens of the reference as one that departs from a centred design, by signs and pivots', () => {
    const values = read('lens7.ref.json');
    const reference = read('lens7.json') as ReferenceLens;
    const centred = { ...reference, surfaces: reference.surfaces.map(centredSurface) } as ReferenceLens;
    const departures = reference.surfaces.flatMap((surface, j) =>
      Object.entries(MOVES).flatMap(([key, word]) => {
        const by = (surface as unknown as Record<string, number | undefined>)[key] ?? 0;
        return by === 0
          ? []
          : [{ of: { kind: 'number' as const, address: `lenses.lens.surfaces.s${j + 1}.${word}` }, by }];
      }),
    );
    expect(departures.length).to.be.above(10);
    const made = perturbed(toProject(centred), departures);
    if (!made.ok) throw new Error(made.reason);
    const counts = (project?: ReturnType<typeof toProject>) =>
      [...judgeLens(reference, values, TABLE, project).categories].map(([name, { passed, failed, missing }]) => ({
        name,
        passed,
        failed,
        missing,
      }));
    const found = counts(made.value);
    expect(found).to.deep.equal(counts());
    expect(found.reduce((sum, { failed }) => sum + failed, 0)).to.equal(0);
    expect(found.reduce((sum, { passed }) => sum + passed, 0)).to.be.above(500);
    // The centred lens itself is another one.
    const wrong = counts(toProject(centred));
    expect(wrong.reduce((sum, { failed }) => sum + failed, 0)).to.be.above(100);
  });

  it('counts what is not computed yet as missing, never as passed', () => {
    const tally = new Tally();
    judgePhysics([{ id: 'no_such_case', values: [{ a: 1, b: [2, 3] }, { a: 4 }] }], tally);
    expect(tally.counts('physics')).to.deep.include({ passed: 0, failed: 0, missing: 4 });
  });

  it('fails on a wrong digit of a wavefront, a sum or a transfer function', () => {
    type Values = Parameters<NonNullable<Parameters<typeof judged>[2]>>[0];
    const cases: readonly (readonly [string, (values: Values) => void, (values: Values) => void])[] = [
      [
        'opd.points',
        (values) => (values.opd = values.opd.slice(0, 1)),
        (values) => (values.opd[0].points[0].W += 1e-4),
      ],
      ['seidel', () => undefined, (values) => (values.seidel.total.S1 *= 1.001)],
      [
        'mtf.geometric',
        (values) =>
          (values.mtf = values.mtf.filter(({ method }: { method: string }) => method === 'geometric').slice(0, 1)),
        (values) => (values.mtf[0].T[3] += 1e-3),
      ],
    ];
    for (const [category, keep, spoil] of cases) {
      // The rest is left out: it takes its time and is judged elsewhere.
      const trim = (values: Values) => {
        for (const key of ['opd', 'mtf', 'spot', 'rays']) if (!category.startsWith(key)) values[key] = [];
        keep(values);
      };
      const good = judged('lens5', category, trim)!;
      expect([good.failed, good.missing], category).to.deep.equal([0, 0]);
      const bad = judged('lens5', category, (values) => (trim(values), spoil(values)));
      expect(bad, category).to.deep.equal({ ...good, passed: good.passed - 1, failed: 1 });
    }
  });
});
