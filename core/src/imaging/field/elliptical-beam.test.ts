import { expect } from 'chai';
import { beamAlongRay, type BeamPath, type EllipticalBeam } from './elliptical-beam.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { beamThroughLens } from './gaussian-beam.ts';
import { evaluationOf, TWO_ELEMENTS } from '../evaluation/wavefront-fixtures.ts';

const AXIS = { id: 'axis', x: 0, y: 0, weight: 1 };
const MM = 587.5618e-6;
const ROUND: EllipticalBeam = { waists: [0.4, 0.4], before: [30, 30], turn: 0, m2: 1 };

function path(lens: LensEvaluation, beam: Partial<EllipticalBeam> = {}, field = AXIS): BeamPath {
  const found = beamAlongRay(lens, field, 0, { ...ROUND, ...beam });
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

describe('An elliptical Gaussian beam', () => {
  const lens = evaluationOf(TWO_ELEMENTS, { pupil: 6, field: 3 });

  it('is that of the matrices where it is round, and two of them where it is not', () => {
    const radii = (waist: number, before: number) => {
      const steps = beamThroughLens(lens, 0, { waist, before, m2: 1.5 });
      if (!steps.ok) throw new Error(steps.reason);
      return steps.value.map(({ radius }) => radius);
    };
    const [wide, narrow] = [radii(0.4, 30), radii(0.15, -20)];
    path(lens, { m2: 1.5 }).sections.forEach(({ ellipse }, j) =>
      ellipse.radii.forEach((radius) => expect(radius, `surface ${j}`).to.be.closeTo(wide[j], 1e-9)),
    );
    path(lens, { m2: 1.5, waists: [0.4, 0.15], before: [30, -20] }).sections.forEach(({ ellipse }, j) => {
      expect(ellipse.widths[0], `x at ${j}`).to.be.closeTo(wide[j], 1e-9);
      expect(ellipse.widths[1], `y at ${j}`).to.be.closeTo(narrow[j], 1e-9);
    });
  });

  it('turns with its source in a lens of revolution', () => {
    const plain = path(lens, { waists: [0.4, 0.15] });
    const turned = path(lens, { waists: [0.4, 0.15], turn: 30 });
    turned.sections.forEach(({ ellipse }, j) => {
      const before = plain.sections[j].ellipse;
      ellipse.radii.forEach((radius, k) => expect(radius).to.be.closeTo(before.radii[k], 1e-9));
      const by = (ellipse.turn - before.turn + 360) % 180;
      expect(by, `surface ${j}`).to.be.closeTo(30, 1e-6);
    });
  });

  it('is λf/(πw) wide at the focus of each section of a tilted mirror: R cos θ/2 and R/(2 cos θ)', () => {
    const [r, theta] = [400, 20];
    const cosine = Math.cos((theta * Math.PI) / 180);
    for (const [k, f] of [
      [1, (r * cosine) / 2],
      [0, r / (2 * cosine)],
    ] as const) {
      const mirror = evaluationOf([{ r: -r, t: -f * cosine, n: 'mirror' }], { pupil: 4, field: theta });
      const field = { id: 'edge', x: 0, y: theta, weight: 1 };
      const { sections } = path(mirror, { waists: [2, 2], before: [0, 0] }, field);
      expect(sections[1].ellipse.widths[k], `section ${k}`).to.be.closeTo((MM * f) / (Math.PI * 2), 1e-9);
      expect(sections[1].ellipse.widths[1 - k]).to.be.above(0.1);
    }
  });

  it('lies askew behind a cylinder that is turned, and turns on as it goes', () => {
    const turn = 25;
    const thin = (tz: number) =>
      evaluationOf(
        [{ t: 1e-9, n: 1.5, shape: { kind: 'cylinder', radius: 50, conic: 0 }, frame: { tz } as never }, { t: 60 }],
        { pupil: 4, field: 0 },
      );
    // A round beam: one section focused by f = 100, the other goes on; the ellipse keeps the axes of the cylinder.
    const { sections } = path(thin(turn), { waists: [0.5, 0.5], before: [0, 0] });
    const straight = path(thin(0), { waists: [0.5, 0.5], before: [0, 0] }).sections[2].ellipse;
    const { radii, turn: found } = sections[2].ellipse;
    radii.forEach((radius, k) => expect(radius).to.be.closeTo(straight.radii[k], 1e-9));
    expect((found - straight.turn + 360) % 180).to.be.closeTo(turn, 1e-6);
    const free = 0.5 * Math.hypot(1, (60 * MM) / (Math.PI * 0.25));
    expect(radii[0]).to.be.closeTo(free, 1e-8);
    // One that is elliptical itself and not aligned: its axes are neither its own nor the cylinder's, and go on turning.
    const askew = (t: number) => {
      const at = evaluationOf(
        [{ t: 1e-9, n: 1.5, shape: { kind: 'cylinder', radius: 50, conic: 0 }, frame: { tz: turn } as never }, { t }],
        { pupil: 4, field: 0 },
      );
      return path(at, { waists: [0.5, 0.1], before: [0, 0] }).sections[2].ellipse;
    };
    const turns = [20, 90, 150].map((t) => askew(t).turn);
    expect(Math.abs(turns[1] - turns[0])).to.be.above(3);
    expect(Math.abs(turns[2] - turns[1])).to.be.above(0.5);
  });
});
