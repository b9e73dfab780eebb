import { expect } from 'chai';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens, Project } from '../project/model.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { influencesOf } from './influence.ts';
import { oneByOne, tryOut, type OneByOne, type Watched } from './one-by-one.ts';

const AXIS: Partial<Lens> = { fields: { kind: 'angle', points: [{ id: 'axis', x: 0, y: 0, weight: 1 }] } };
const SINGLET: readonly Quick[] = [{ r: 50, t: 4, n: 1.5 }, { t: 95 }];
const focal: Watched = { id: 'f', measure: 'effective_focal_length', lens: 'lens', settings: {} };
const spot: Watched = { id: 's', measure: 'rms_spot_radius', lens: 'lens', settings: { field: 'axis' } };
const at = (path: string) => `lenses.lens.surfaces.${path}`;
const radius: Tolerance = { id: 'r', kind: 'share', address: at('s1.radius'), lower: -1, upper: 1 };
const thickness: Tolerance = { id: 't', kind: 'number', address: at('s1.thickness'), lower: -0.2, upper: 0.2 };
const back: Tolerance = { id: 'b', kind: 'number', address: at('s2.thickness'), lower: -0.3, upper: 0.3 };

function studied(
  project: Project,
  tolerances: readonly Tolerance[],
  watched: readonly Watched[],
  refocused = false,
): OneByOne {
  const compensators = refocused ? [{ id: 'c', kind: 'refocus', lens: 'lens', criterion: 'centroid' } as const] : [];
  const steps = oneByOne({ project, tolerances, compensators, watched });
  const shares: number[] = [];
  for (;;) {
    const step = steps.next();
    if (!step.done) shares.push(step.value);
    else if (!step.value.ok) throw new Error(step.value.reason);
    else {
      expect(shares.at(-1) ?? 1).to.equal(1);
      return step.value.value;
    }
  }
}

describe('tolerances one by one', () => {
  it('focal length of a plano-convex lens: R/(n − 1), whatever its thickness', () => {
    const { nominal, influences } = studied(quickProject(SINGLET, AXIS), [radius, thickness, back], [focal]);
    expect(nominal[0]).to.deep.include({ ok: true });
    const [[byRadius], [byThickness], [byBack]] = influences;
    expect(byRadius.at).to.deep.equal([-1, -0.5, 0, 0.5, 1]);
    expect(byRadius.fit!.slope).to.be.closeTo(1, 1e-10); // 1 % of 100 mm
    expect(byRadius.fit!.curvature).to.be.closeTo(0, 1e-10);
    expect(byRadius.fit!.residual).to.be.below(1e-9);
    expect(byRadius.deviation).to.be.closeTo(1 / Math.sqrt(3), 1e-10);
    expect(byRadius.ends[0]).to.be.closeTo(99, 1e-10);
    expect(byRadius.ends[1]).to.be.closeTo(101, 1e-10);
    for (const none of [byThickness, byBack]) expect(none.deviation).to.be.below(1e-10);
    expect(byRadius.share).to.be.closeTo(1, 1e-12);
  });

  it('focal length of a thick biconvex lens: the derivative of the formula of lens makers', () => {
    const [r, n, t] = [80, 1.6, 6];
    const project = quickProject(
      [
        { r, t, n },
        { r: -r, t: 60 },
      ],
      AXIS,
    );
    const length = (r1: number, thick: number) => 1 / ((n - 1) * (1 / r1 + 1 / r - ((n - 1) * thick) / (n * r1 * r)));
    const slope = (of: (x: number) => number) => (of(1e-4) - of(-1e-4)) / 2e-4;
    const one = { lower: -0.02, upper: 0.02 };
    const { influences } = studied(
      project,
      [
        { id: 'r', kind: 'number', address: at('s1.radius'), ...one },
        { id: 't', kind: 'number', address: at('s1.thickness'), ...one },
      ],
      [focal],
    );
    expect(influences[0][0].fit!.slope).to.be.closeTo(
      slope((x) => length(r + x, t)),
      1e-6,
    );
    expect(influences[1][0].fit!.slope).to.be.closeTo(
      slope((x) => length(r, t + x)),
      1e-6,
    );
  });

  it('a distance to the image spreads the spot, and nothing when it is set after making', () => {
    const project = quickProject(SINGLET, AXIS);
    const [[alone]] = studied(project, [back], [spot]).influences;
    const [[set]] = studied(project, [back], [spot], true).influences;
    expect(alone.deviation).to.be.above(1);
    expect(set.deviation).to.be.below(1e-6);
    const trial = tryOut(
      project,
      [{ of: back, by: 0.3 }],
      [{ id: 'c', kind: 'refocus', lens: 'lens', criterion: 'centroid' }],
      [spot],
    );
    const before = tryOut(project, [], [{ id: 'c', kind: 'refocus', lens: 'lens', criterion: 'centroid' }], [spot]);
    expect(trial.ok && before.ok && trial.value.moved[0] - before.value.moved[0]).to.be.closeTo(-0.3, 1e-9);
  });

  it('shares are of the squares of deviations; those that are off do not count', () => {
    const wide = { ...radius, lower: -2, upper: 2 };
    const other: Tolerance = { id: 'n', kind: 'number', address: at('s1.radius'), lower: -1, upper: 1 }; // 2 %
    const { influences, tolerances } = studied(
      quickProject(SINGLET, AXIS),
      [wide, other, { ...radius, id: 'x', off: true }],
      [focal],
    );
    expect(tolerances.map(({ id }) => id)).to.deep.equal(['r', 'n']);
    for (const [one] of influences) expect(one.share).to.be.closeTo(0.5, 1e-9);
  });

  it('end points spread more than a triangle; one-sided limits shift the mean', () => {
    const of = (more: Partial<Tolerance>) =>
      studied(quickProject(SINGLET, AXIS), [{ ...radius, ...more } as Tolerance], [focal]).influences[0][0];
    expect(of({ distribution: { kind: 'ends' } }).deviation).to.be.closeTo(1, 1e-9);
    expect(of({ distribution: { kind: 'triangular' } }).deviation).to.be.closeTo(1 / Math.sqrt(6), 1e-9);
    const onesided = of({ lower: 0 });
    expect(onesided.shift).to.be.closeTo(0.5, 1e-9);
    expect(onesided.at).to.deep.equal([0, 0.5, 1]);
  });

  it('new limits and distributions follow from the curves, and say when they leave them', () => {
    const { influences } = studied(quickProject(SINGLET, AXIS), [radius], [focal]);
    const again = (change: Partial<Tolerance>) => {
      const found = influencesOf([{ ...radius, ...change } as Tolerance], [{ tolerance: 'r', curves: influences[0] }]);
      if (!found.ok) throw new Error(found.reason);
      return found.value[0][0];
    };
    const half = again({ lower: -0.5, upper: 0.5 });
    expect(half.deviation).to.be.closeTo(0.5 / Math.sqrt(3), 1e-10);
    expect(half.ends[1]).to.equal(influences[0][0].values[3]); // as it was tried
    expect(half.extrapolated).to.equal(false);
    const wide = again({ lower: -0.3, upper: 2, distribution: { kind: 'ends' } });
    expect(wide.ends[0]).to.be.closeTo(99.7, 1e-9);
    expect(wide.ends[1]).to.be.closeTo(102, 1e-9);
    expect(wide.shift).to.be.closeTo(0.85, 1e-9);
    expect(wide.extrapolated).to.equal(true);
    expect(influencesOf([{ ...radius, lower: 1 }], [{ tolerance: 'r', curves: influences[0] }]).ok).to.equal(false);
  });

  it('says why a trial has no value, once for each tolerance, and goes on with the others', () => {
    const deep: Tolerance = { id: 'deep', kind: 'number', address: at('s1.radius'), lower: -48, upper: 0 };
    const { failures, influences } = studied(quickProject(SINGLET, AXIS), [deep, radius], [spot]);
    expect(failures.map(({ tolerance }) => tolerance)).to.deep.equal(['deep']);
    expect(failures[0].reason).to.match(/\w/);
    expect(influences[0][0].values).to.include(null);
    expect(influences[1][0].values).to.not.include(null);
  });

  it('refuses limits of the wrong sign before anything is traced', () => {
    const steps = oneByOne({
      project: quickProject(SINGLET, AXIS),
      tolerances: [{ ...radius, lower: 0.5 }],
      compensators: [],
      watched: [focal],
    }).next();
    expect(steps.done).to.equal(true);
    expect(steps.value).to.deep.include({ ok: false, where: 'r' });
  });
});
