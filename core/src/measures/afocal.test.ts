import { expect } from 'chai';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens } from '../project/model.ts';
import { evaluateMeasure } from './registry.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { rayFans } from '../imaging/field/ray-fan.ts';
import { refocus } from '../imaging/point/refocus.ts';
import { airyRing } from '../imaging/wavefront/image-cone.ts';
import { spotDiagram } from '../imaging/point/spot-diagram.ts';

/** Two ideal thin lenses, f = 100 and 25 mm, their foci together: light of a far point leaves parallel, four times as steep. */
const IDEAL: readonly Quick[] = [
  { shape: { kind: 'ideal_lens', focal_length: 100 }, t: 125 },
  { shape: { kind: 'ideal_lens', focal_length: 25 }, t: 30 },
];

function projectOf(surfaces: readonly Quick[], change: Partial<Lens> = {}) {
  return quickProject(surfaces, {
    imageSpace: 'afocal',
    fields: { kind: 'angle', points: [{ id: 'edge', x: 0, y: 3, weight: 1 }] },
    ...change,
  });
}

function evaluated(project: ReturnType<typeof projectOf>) {
  const lens = new Evaluation(project).lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
}

function measure(project: ReturnType<typeof projectOf>, id: string, settings: object = {}) {
  return evaluateMeasure(new Evaluation(project), { measure: id, lens: 'lens', settings });
}

describe('an image at infinity', () => {
  const project = projectOf(IDEAL);

  it('has spots in angle: none for an ideal telescope, whose magnification is −f₁/f₂', () => {
    const diagram = spotDiagram(evaluated(project), {
      reference: 'centroid',
      pupil: 'full',
      rings: 6,
      arms: 12,
    });
    if (!diagram.ok || !diagram.value.pictures[0].spot.ok) throw new Error('no spots');
    expect(diagram.value.unit).to.equal('mrad');
    expect(diagram.value.pictures[0].spot.value.rms).to.be.below(1e-12);
    const power = measure(project, 'angular_magnification');
    expect(power.ok && power.value.value).to.be.closeTo(-4, 1e-12);
    // An ideal lens keeps tangents: no distortion.
    const distortion = measure(project, 'distortion', { field: 'edge' });
    expect(distortion.ok && distortion.value.value).to.be.closeTo(0, 1e-10);
    // D′ = 10/4 mm: 1.22 λ/D′, of the cone that an ideal lens of 1000 mm makes of it.
    const lens = evaluated(project);
    const ring = airyRing(lens, { id: 'axis', x: 0, y: 0, weight: 1 });
    const expected = (1.21966989127 * 587.5618e-6) / (2 * Math.sin(Math.atan(1.25 / 1000)));
    ring?.forEach((semi) => expect(semi).to.be.closeTo(expected, 1e-9));
    expect(ring).to.have.length(2);
  });

  it('shows the defocus of the eyepiece as an angle: y δ/f₂² over the exit pupil', () => {
    const shift = 0.2;
    const moved = projectOf([{ ...IDEAL[0], t: 125 + shift }, IDEAL[1]], {
      fields: { kind: 'angle', points: [{ id: 'edge', x: 0, y: 0, weight: 1 }] },
    });
    const fans = rayFans(evaluated(moved), { rays: 3, pupil: 'full' });
    if (!fans.ok || !fans.value.fields[0].fans.ok) throw new Error('no fans');
    expect(fans.value.unit).to.equal('mrad');
    const [curve] = fans.value.fields[0].fans.value.tangential;
    // The marginal ray, 5 mm high, comes to the eyepiece at −5/100 of what is left; tan u′ = u − y/f₂.
    const slope = -5 / 100;
    const height = 5 + (125 + shift) * slope;
    expect(curve.error[2]).to.be.closeTo(1000 * Math.atan(slope - height / 25), 1e-9);
    const rms = measure(moved, 'rms_spot_angle');
    // Linear in the pupil: the RMS over a disk is its rim over √2.
    expect(rms.ok && rms.value.value).to.be.closeTo(Math.abs(curve.error[2]) / Math.SQRT2, 1e-5);
  });

  it('refuses what only a near image has, by name', () => {
    const reason = (id: string, settings: object = {}) => {
      const measured = measure(project, id, settings);
      return measured.ok ? '' : measured.reason;
    };
    expect(reason('rms_spot_radius')).to.match(/spot angle/);
    expect(reason('image_height', { field: 'edge' })).to.match(/lies at infinity/);
    const focal = measure(projectOf(IDEAL, { imageSpace: 'focal' }), 'rms_spot_angle');
    expect(!focal.ok && focal.reason).to.match(/lies near/);
    const refocused = refocus(project, 'lens', 'centroid');
    expect(!refocused.ok && refocused.reason).to.match(/focuses nothing/);
  });
});
