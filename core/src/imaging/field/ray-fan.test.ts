import { expect } from 'chai';
import { quickProject } from '../../project/fixtures.ts';
import type { Lens } from '../../project/model.ts';
import { Evaluation } from '../evaluation/evaluation.ts';
import { rayFans, type RayFans } from './ray-fan.ts';

function fansOf(defocus: number, change: Partial<Lens> = {}): RayFans {
  const project = quickProject([{ r: -200, k: -1, t: -100 + defocus, n: 'mirror' }], {
    aperture: { kind: 'entrance_pupil_diameter', value: 80 },
    ...change,
  });
  const lens = new Evaluation(project).lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  const fans = rayFans(lens.value, { rays: 21, pupil: 'full' });
  if (!fans.ok) throw new Error(fans.reason);
  return fans.value;
}

describe('ray fans', () => {
  it('are the closed form of a defocused paraboloid, tangential and sagittal alike on the axis', () => {
    const [entry] = fansOf(0.5).fields;
    if (!entry.fans.ok) throw new Error(entry.fans.reason);
    const { tangential, sagittal } = entry.fans.value;
    tangential[0].pupil.forEach((p, i) => {
      const h = 40 * p;
      const slope = h / (100 - (h * h) / 400); // tan U′
      expect(tangential[0].error[i]).to.be.closeTo(1000 * 0.5 * slope, 1e-8);
      expect(sagittal[0].error[i]).to.be.closeTo(tangential[0].error[i], 1e-9);
    });
    expect(fansOf(0.5).largest).to.be.closeTo(1000 * 0.5 * (40 / 96), 1e-8);
  });

  it('pass through zero at the chief ray of the primary colour', () => {
    const [entry] = fansOf(0, {
      fields: { kind: 'angle', points: [{ id: 'f', x: 0, y: 1, weight: 1 }] },
    }).fields;
    if (!entry.fans.ok) throw new Error(entry.fans.reason);
    expect(entry.fans.value.tangential[0].error[10]).to.equal(0);
    // Coma: both rims of the tangential fan lie on the same side.
    const { error } = entry.fans.value.tangential[0];
    expect(Math.sign(error[0])).to.equal(Math.sign(error[20]));
  });

  it('leave a gap where the pupil is obscured', () => {
    const [entry] = fansOf(0.5, { pupil: { aim: 'paraxial', obscuration: 0.45 } }).fields;
    if (!entry.fans.ok) throw new Error(entry.fans.reason);
    const { pupil, error } = entry.fans.value.sagittal[0];
    pupil.forEach((p, i) => expect(Number.isNaN(error[i])).to.equal(Math.abs(p) < 0.45));
  });
});
