import { expect } from 'chai';
import { Evaluation } from './evaluation.ts';
import { quickProject, type Quick } from '../../project/fixtures.ts';
import type { Lens } from '../../project/model.ts';
import { traceBundle, traceSampling } from '../../sequence/bundle.ts';
import { mirrorHalf, pupilPoints, type PupilSampling } from '../../sequence/pupil-sampling.ts';

const SAMPLINGS: readonly PupilSampling[] = [
  { kind: 'polar', rings: 5, arms: 8 },
  { kind: 'polar', rings: 3, arms: 6 },
  { kind: 'grid', size: 9 },
];

function aimerOf(surfaces: readonly Quick[], change: Partial<Lens>) {
  const lens = new Evaluation(quickProject(surfaces, change)).lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  const aimer = lens.value.aimer();
  if (!aimer.ok) throw new Error(aimer.reason);
  return aimer.value;
}

describe('half a bundle and its mirror image', () => {
  it('are the whole bundle, aimed at the stop or at the pupil', () => {
    for (const aim of ['stop', 'paraxial'] as const) {
      const aimer = aimerOf(
        [
          { r: 30, t: 4, n: 1.6, frame: { tx: 2, dy: 0.3 } },
          { r: -80, t: 3, semi: 4.4 },
          { r: -25, t: 2, n: 1.7 },
          { r: 200, t: 60 },
        ],
        { pupil: { aim, obscuration: 0.2 }, stop: 's3' },
      );
      expect(aimer.model.mirrorX).to.equal(true);
      const field = { id: 'f', x: 0, y: 5, weight: 1 };
      for (const sampling of SAMPLINGS) {
        const points = pupilPoints(sampling, 0.2);
        const half = traceSampling(aimer, { field, wave: 0 }, points, true);
        const whole = traceBundle(aimer, { field, wave: 0, px: points.px, py: points.py }, { clip: true });
        expect([...half.status]).to.deep.equal([...whole.status]);
        for (const column of ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const)
          half[column].forEach((value, i) => expect(value, `${column} ${i}`).to.be.closeTo(whole[column][i], 1e-9));
      }
    }
  });

  it('are not used where there is no such symmetry', () => {
    expect(aimerOf([{ r: 30, t: 50, frame: { ty: 1 } }], {}).model.mirrorX).to.equal(false);
    expect(aimerOf([{ r: 30, t: 50, frame: { dx: 0.1 } }], {}).model.mirrorX).to.equal(false);
    expect(
      mirrorHalf({
        px: Float64Array.of(0.3, -0.2),
        py: Float64Array.of(0, 0),
        weight: Float64Array.of(1, 1),
      }),
    ).to.equal(null);
  });

  it('hold every point once', () => {
    for (const sampling of SAMPLINGS) {
      const points = pupilPoints(sampling, 0);
      const split = mirrorHalf(points)!;
      split.source.forEach((from, i) => {
        const sign = split.mirrored[i] ? -1 : 1;
        expect(sign * split.half.px[from]).to.be.closeTo(points.px[i], 1e-12);
        expect(split.half.py[from]).to.be.closeTo(points.py[i], 1e-12);
      });
    }
  });
});
