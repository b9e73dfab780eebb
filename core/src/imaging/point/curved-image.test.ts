import { expect } from 'chai';
import { atOnce } from '../../math/steps.ts';
import { quickProject } from '../../project/fixtures.ts';
import { Evaluation } from '../evaluation/evaluation.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { fieldMtfSteps, modulation } from './mtf.ts';
import { narrowFoci } from '../field/astigmatism.ts';
import { opdFans } from '../wavefront/opd-fan.ts';
import { pointSpread } from './point-spread.ts';

const THETA = 12;

/** A spherical mirror with its stop at its centre: every field sees the same, on an image that is concentric with it. */
function concentric(radius: number | 'infinity'): LensEvaluation {
  const project = quickProject([{ t: 400 }, { r: -400, n: 'mirror', t: -200 }], {
    aperture: { kind: 'entrance_pupil_diameter', value: 40 },
    fields: {
      kind: 'angle',
      points: [
        { id: 'axis', x: 0, y: 0, weight: 1 },
        { id: 'edge', x: 0, y: THETA, weight: 1 },
      ],
    },
  });
  const [lens] = project.lenses;
  const image = { ...lens.surfaces.at(-1)!, shape: { kind: 'sphere', radius } as const };
  const found = new Evaluation({
    ...project,
    lenses: [{ ...lens, surfaces: [...lens.surfaces.slice(0, -1), image] }],
  }).lens('lens');
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

describe('A curved image', () => {
  const curved = concentric(-200);
  const cosine = Math.cos((THETA * Math.PI) / 180);

  it('concentric with a mirror has the same wavefront for every field', () => {
    const fans = opdFans(curved, { rays: 41, pupil: 'full' });
    if (!fans.ok) throw new Error(fans.reason);
    const [axis, edge] = fans.value.fields.map(({ fans: one }) => {
      if (!one.ok) throw new Error(one.reason);
      return one.value;
    });
    const across = axis.sagittal[0];
    expect(Math.max(...across.error.map(Math.abs))).to.be.above(0.2);
    edge.sagittal[0].error.forEach((w, k) => expect(w).to.be.closeTo(across.error[k], 1e-6));
    // Along y the stop is seen aslant: of a wavefront that grows with the fourth power, cos⁴ is left.
    const [rim, own] = [edge.tangential[0].error[40], across.error[40]];
    expect(rim / own).to.be.closeTo(cosine ** 4, 0.01);
  });

  it('is met by both foci, where a flat one is not', () => {
    const edge = curved.model.lens.fields.points[1];
    const [near, far] = [curved, concentric('infinity')].map((lens) => {
      const foci = narrowFoci(lens, edge);
      if (!foci.ok) throw new Error(foci.reason);
      return foci.value;
    });
    const sag = 200 - Math.sqrt(200 ** 2 - (200 * Math.sin((THETA * Math.PI) / 180)) ** 2);
    // Told from the vertex plane of the image: both lie on its sphere.
    expect(Math.abs(near.tangentialZ)).to.be.closeTo(sag, 1e-9);
    expect(Math.abs(near.sagittalZ)).to.be.closeTo(sag, 1e-9);
    expect(Math.abs(far.tangentialZ)).to.be.closeTo(sag, 1e-9);
  });

  it('keeps contrast and the image of a point at the edge, which a flat one loses', () => {
    const seen = (lens: LensEvaluation) => {
      const edge = lens.model.lens.fields.points[1];
      const found = atOnce(fieldMtfSteps(lens, edge, { method: 'physical', frequencies: [40], detail: 'full' }));
      if (!found.ok) throw new Error(found.reason);
      return modulation(found.value.sagittal[0]);
    };
    const axis = atOnce(
      fieldMtfSteps(curved, curved.model.lens.fields.points[0], {
        method: 'physical',
        frequencies: [40],
        detail: 'full',
      }),
    );
    if (!axis.ok) throw new Error(axis.reason);
    expect(seen(curved)).to.be.closeTo(modulation(axis.value.sagittal[0]), 0.03);
    expect(seen(concentric('infinity'))).to.be.below(0.01);
    // By transform and by the sum over rays alike.
    const [transformed, summed] = (['transform', 'direct'] as const).map((method) => {
      const spread = pointSpread(curved, curved.model.lens.fields.points[1], { method, detail: 'full' });
      if (!spread.ok) throw new Error(spread.reason);
      const { values, perfect } = spread.value;
      return values.reduce((a, b) => Math.max(a, b), 0) / perfect;
    });
    expect(transformed).to.be.closeTo(summed, 0.01 * summed);
  });
});
