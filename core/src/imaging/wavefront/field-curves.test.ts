import { expect } from 'chai';
import { distortion, type ImageScale } from '../field/image-scale.ts';
import { fieldCurves } from '../field/field-curves.ts';
import { opdFans } from './opd-fan.ts';
import { evaluationOf, TWO_ELEMENTS as LENS } from '../evaluation/wavefront-fixtures.ts';

describe('Curves over the field', () => {
  it('begin on the axis and end where single values stand', () => {
    const lens = evaluationOf(LENS, { pupil: 6, field: 10, focused: true });
    const found = fieldCurves(lens);
    if (!found.ok) throw new Error(found.reason);
    const { share, foci, distortion: bend, illumination, largest, unit } = found.value;
    expect([share[0], share.at(-1), largest, unit]).to.deep.equal([0, 1, 10, '°']);
    // In the paraxial focus all curves start from nothing.
    expect(foci[0].tangential[0]).to.be.closeTo(0, 1e-9);
    expect(foci[0].sagittal[0]).to.be.closeTo(0, 1e-9);
    expect(Math.abs(bend[0])).to.be.below(1e-5);
    expect(illumination[0]).to.equal(1);
    const edge = distortion(lens, { id: 'edge', x: 0, y: 10, weight: 1 });
    if (!edge.ok) throw new Error(edge.reason);
    expect(bend.at(-1)).to.be.closeTo(100 * edge.value, 1e-12);
    // Third order: distortion grows with the square of the field.
    expect(bend[8] / bend[4]).to.be.closeTo(4, 0.1);
  });

  it('start from 0 in any surface about its own scale, from the limit of distortion about that of the paraxial image', () => {
    const lens = evaluationOf(LENS, { pupil: 6, field: 10 });
    const about = (scale: ImageScale) => {
      const found = fieldCurves(lens, { scale });
      if (!found.ok) throw new Error(found.reason);
      return found.value.distortion;
    };
    expect(Math.abs(about('image surface')[0])).to.be.below(1e-5);
    const paraxial = about('paraxial image');
    expect(Math.abs(paraxial[0])).to.be.above(0.1);
    expect(paraxial[0]).to.be.closeTo(paraxial[1], 0.05);
    // The same curve to another scale, and to the one whose largest error is least: as large upward as downward.
    const scale = 1 + paraxial[0] / 100;
    about('image surface').forEach((value, k) =>
      expect((1 + paraxial[k] / 100) / scale - 1).to.be.closeTo(value / 100, 1e-9),
    );
    const calibrated = about('calibrated');
    expect(Math.max(...calibrated) + Math.min(...calibrated)).to.be.closeTo(0, 1e-6);
    expect(Math.max(...calibrated)).to.be.below(0.51 * Math.max(...about('image surface').map(Math.abs)));
  });

  it('are refused without a field beside the axis', () => {
    const found = fieldCurves(evaluationOf(LENS, { pupil: 6, field: 0 }));
    expect(found.ok).to.equal(false);
    if (!found.ok) expect(found.reason).to.match(/beside the axis/);
  });
});

describe('Wavefront fans', () => {
  it('are in waves, 0 at the chief ray, even in px, and empty where the pupil is obscured', () => {
    const lens = evaluationOf(LENS, { pupil: 6, field: 10, focused: true, obscuration: 0.2 });
    const found = opdFans(lens, { rays: 21, pupil: 'full' });
    if (!found.ok) throw new Error(found.reason);
    expect(found.value.unit).to.equal('λ');
    const [, edge] = found.value.fields;
    if (!edge.fans.ok) throw new Error(edge.fans.reason);
    const [{ error }] = edge.fans.value.sagittal;
    expect(error[10]).to.be.NaN;
    for (let k = 0; k < 8; k++) expect(error[k]).to.be.closeTo(error[20 - k], 1e-6);
    const whole = opdFans(evaluationOf(LENS, { pupil: 6, field: 10, focused: true }), { rays: 21, pupil: 'full' });
    if (!whole.ok || !whole.value.fields[0].fans.ok) throw new Error('no fans');
    expect(whole.value.fields[0].fans.value.tangential[0].error[10]).to.be.closeTo(0, 1e-9);
  });
});
