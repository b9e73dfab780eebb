import { expect } from 'chai';
import fc from 'fast-check';
import { movePoint, rigidOf, turnDirection } from '../math/rigid.ts';
import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { toGlobal } from './placement.ts';
import { traceBlock } from './trace.ts';

function modelOf(surfaces: readonly Quick[]): LensModel {
  const project = quickProject(surfaces);
  return compileLens(project, project.lenses[0]);
}

/** Rays over the pupil with some field in x and y, all from the plane of the first vertex. */
function bundle(): RayBlock {
  const rays = rayBlock(24);
  for (let i = 0; i < 24; i++) {
    rays.x[i] = 4 * Math.sin(1.3 * i);
    rays.y[i] = 4 * Math.cos(2.1 * i);
    const [l, m] = [0.03 * Math.sin(i), 0.05 * Math.cos(i)];
    [rays.l[i], rays.m[i], rays.n[i]] = [l, m, Math.sqrt(1 - l * l - m * m)];
  }
  return rays;
}

function traced(model: LensModel): RayBlock {
  const rays = bundle();
  traceBlock(model, rays, rays.capacity, 0, { clip: false });
  return rays;
}

/** Compares where rays arrive, in the coordinates of the image surface. */
function expectSameRays(actual: RayBlock, expected: RayBlock, within = 1e-11) {
  for (let i = 0; i < expected.capacity; i++) {
    expect(actual.status[i]).to.equal(RAY_STATUS.alive);
    for (const column of ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const)
      expect(actual[column][i], `${column} of ray ${i}`).to.be.closeTo(expected[column][i], within);
  }
}

const rounded = (values: readonly number[]) => values.map((value) => Math.round(value * 1e10) / 1e10 + 0);
const angle = fc.double({ min: -25, max: 25, noNaN: true });
const shift = fc.double({ min: -3, max: 3, noNaN: true });
const frame = fc.record({ dx: shift, dy: shift, dz: shift, tx: angle, ty: angle, tz: angle });

const SINGLET: readonly Quick[] = [
  { r: 60, t: 5, n: 1.5 },
  { r: -80, t: 40 },
];

describe('placing surfaces', () => {
  it('a plain lens steps from vertex to vertex by its thicknesses', () => {
    const { surfaces } = modelOf(SINGLET);
    expect(surfaces.map(({ entry }) => entry)).to.deep.equal([null, null, null]);
    expect(surfaces.map(({ pose }) => pose.shift[2])).to.deep.equal([0, 5, 45]);
  });

  it('a periscope of two mirrors that reflect the axis images as the unfolded lens does', () => {
    const straight = modelOf([...SINGLET.slice(0, 1), { r: -80, t: 15 }, { t: 30 }, { t: 12 }]);
    for (const tilt of [45, 30, -50]) {
      const folded = modelOf([
        ...SINGLET.slice(0, 1),
        { r: -80, t: 15 },
        { n: 'mirror', t: -30, frame: { tx: tilt, axis: 'reflect' } },
        { n: 'mirror', t: 12, frame: { tx: -tilt, axis: 'reflect' } },
      ]);
      expect(folded.mirrorX).to.equal(true);
      expectSameRays(traced(folded), traced(straight));
    }
  });

  it('the axis of a periscope goes where a plane mirror sends it', () => {
    const { surfaces } = modelOf([
      { t: 20 },
      { n: 'mirror', t: -30, frame: { tx: 45, axis: 'reflect' } },
      { n: 'mirror', t: 10, frame: { tx: -45, axis: 'reflect' } },
    ]);
    expect(surfaces.map((surface) => rounded(toGlobal(surface, 0, 0, 0)))).to.deep.equal([
      [0, 0, 0],
      [0, 0, 20],
      [0, 30, 20],
      [0, 30, 30],
    ]);
  });

  it('what carries takes all that follows along: light that comes along too sees no change', () => {
    const expected = traced(modelOf(SINGLET));
    fc.assert(
      fc.property(frame, (given) => {
        const rays = bundle();
        const whole = rigidOf(given);
        for (let i = 0; i < rays.capacity; i++) {
          [rays.x[i], rays.y[i], rays.z[i]] = movePoint(whole, [rays.x[i], rays.y[i], rays.z[i]]);
          [rays.l[i], rays.m[i], rays.n[i]] = turnDirection(whole, [rays.l[i], rays.m[i], rays.n[i]]);
        }
        const carried = modelOf([{ ...SINGLET[0], frame: { ...given, axis: 'carry' } }, SINGLET[1]]);
        traceBlock(carried, rays, rays.capacity, 0, { clip: false });
        expectSameRays(rays, expected, 1e-10);
      }),
      { seed: 31, numRuns: 50 },
    );
  });

  it('a group that is moved and returns leaves all behind it where it was', () => {
    fc.assert(
      fc.property(frame, (given) => {
        const group = modelOf([
          { t: 10 },
          { ...SINGLET[0], frame: { ...given, axis: 'carry' } },
          { ...SINGLET[1], behind: { returnTo: 's2' } },
        ]);
        expect(rounded(toGlobal(group.surfaces[3], 1, 2, 0))).to.deep.equal([1, 2, 55]);
        const alone = modelOf([{ t: 10, frame: given }, { t: 0 }]);
        expect(rounded(toGlobal(alone.surfaces[1], 1, 2, 0))).to.deep.equal([1, 2, 10]);
      }),
      { seed: 32, numRuns: 50 },
    );
  });

  it('a group of one that carries and returns is a surface that is moved alone', () => {
    const move = { dx: 0.3, dy: -0.2, dz: 0.1, tx: 2, ty: -3, tz: 10 };
    const alone = modelOf([{ ...SINGLET[0], frame: move }, SINGLET[1]]);
    const group = modelOf([
      { ...SINGLET[0], frame: { ...move, axis: 'carry' }, behind: { returnTo: 's1' } },
      SINGLET[1],
    ]);
    expectSameRays(traced(group), traced(alone));
    expect(alone.mirrorX).to.equal(false);
  });

  it('a tilt before and its opposite behind cancel for what follows', () => {
    const turned = modelOf([{ t: 10, frame: { tx: 12, axis: 'carry' }, behind: { tx: -12 } }, ...SINGLET]);
    expect(rounded(toGlobal(turned.surfaces[1], 0, 0, 0))).to.deep.equal([0, 0, 10]);
  });

  it('says which frames ask for what cannot be', () => {
    const model = modelOf([
      { t: 1, frame: { tx: 3, axis: 'reflect' } },
      { t: 1, behind: { returnTo: 'image' } },
    ]);
    expect(model.findings.map(({ where }) => where)).to.deep.equal(['s1', 's2']);
    expect(model.surfaces[2].pose.shift).to.deep.equal([0, 0, 2]);
  });

  it('stops rays at obscurations and ring apertures where asked, by kernel and TypeScript alike', () => {
    const model = modelOf([
      {
        t: 5,
        obscurations: [
          { id: 'hub', kind: 'circle', semi: 1.5 },
          { id: 'arms', kind: 'spider', arms: 2, width: 1.6 },
        ],
      },
      ...SINGLET,
    ]);
    const [byKernel, plain] = [bundle(), bundle()];
    traceBlock(model, byKernel, 24, 0, { clip: true });
    traceBlock(model, plain, 24, 0, { clip: true, kernel: null });
    expect([...byKernel.status]).to.deep.equal([...plain.status]);
    const start = bundle();
    for (let i = 0; i < 24; i++) {
      const covered = Math.hypot(start.x[i], start.y[i]) <= 1.5 || Math.abs(start.x[i]) <= 0.8;
      expect(plain.status[i]).to.equal(covered ? RAY_STATUS.clipped : RAY_STATUS.alive);
      expect(byKernel.y[i]).to.be.closeTo(plain.y[i], 1e-12);
    }
    expect(plain.status.filter((status) => status === RAY_STATUS.clipped).length).to.be.greaterThan(2);
  });
});
