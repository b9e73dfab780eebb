import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { LIGHT_FORMS, lightFormProject } from '../project/light-forms.ts';
import { detector, part, sceneProject, source } from '../project/scene-fixtures.ts';
import type { Project } from '../project/model.ts';
import { evaluateMeasure } from './registry.ts';

const ask = (project: Project, measure: string, settings: object = {}) =>
  evaluateMeasure(new Evaluation(project), {
    measure,
    lens: 'scene',
    settings: { rays: 200_000, ...settings } as Record<string, unknown>,
  });

function value(project: Project, measure: string, settings: object = {}) {
  const found = ask(project, measure, settings);
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

/** A lamp with nothing before it but a small plate far aside. */
const lamp = (half: number, law: 'lambertian' | 'isotropic') =>
  sceneProject({
    sources: [source({ law: { kind: law, half } })],
    parts: [part('aside', { kind: 'sheet', width: 1, height: 1 }, { frame: { dx: 500, dz: -500 } })],
    detectors: [detector({ kind: 'far', halfX: 90, halfY: 90 }, { columns: 60, rows: 60 })],
  });

describe('Half-angle of a beam', () => {
  it('is 60° for Lambert’s law, in any plane, and within four standard errors of it', () => {
    for (const plane of [0, 45]) {
      const { value: found, standardError } = value(lamp(90, 'lambertian'), 'detector_half_angle', {
        over: 'one plane',
        plane,
      });
      expect(found).to.be.closeTo(60, 1.5);
      expect(Math.abs(found - 60)).to.be.below(4 * standardError! + 0.5);
    }
  });

  it('of all planes together is known better than in one', () => {
    const all = value(lamp(90, 'lambertian'), 'detector_half_angle');
    const one = value(lamp(90, 'lambertian'), 'detector_half_angle', { over: 'one plane' });
    expect(all.value).to.be.closeTo(60, 1);
    expect(Math.abs(all.value - 60)).to.be.below(4 * all.standardError! + 0.2);
    expect(all.standardError!).to.be.below(one.standardError! / 2);
  });

  it('is arccos of the share: 84.3° at a tenth', () => {
    const found = value(lamp(90, 'lambertian'), 'detector_half_angle', { percent: 10 });
    expect(found.value).to.be.closeTo(84.3, 2);
    expect(found.unit).to.equal('°');
  });

  it('is the edge of an even cone, and is refused where the map ends before the light', () => {
    expect(value(lamp(30, 'isotropic'), 'detector_half_angle').value).to.be.closeTo(30, 1.5);
    const narrow = {
      ...lamp(90, 'lambertian'),
      scenes: lamp(90, 'lambertian').scenes!.map((scene) => ({
        ...scene,
        detectors: [detector({ kind: 'far', halfX: 20, halfY: 20 })],
      })),
    };
    const found = ask(narrow, 'detector_half_angle');
    expect(!found.ok && found.reason).to.match(/does not fall to 50 % of its peak within the map/);
    const none = ask(lightFormProject(LIGHT_FORMS[2]), 'detector_half_angle');
    expect(!none.ok && none.reason).to.match(/no far-field detector/);
  });
});

describe('Efficiency', () => {
  it('is the flux on a detector over what is launched, in its own unit', () => {
    const half = (light: 'radiometric' | 'photometric') =>
      sceneProject({
        finishes: [{ id: 'half', name: 'Half', optics: { kind: 'split', reflectance: 0.4, transmittance: 0.5 } }],
        parts: [
          part('plate', { kind: 'sheet', width: 9, height: 9 }, { finish: 'half', frame: { dz: 5 } }),
          part('wall', { kind: 'sheet', width: 9, height: 9 }, { frame: { dz: 9 } }),
        ],
        sources: [source({ flux: 3 }), source({ id: 'red', flux: 2, light: [{ nm: 640, weight: 1 }] })],
        detectors: [detector({ kind: 'face', part: 'wall', face: 'face' }, { light })],
      });
    expect(value(half('radiometric'), 'detector_efficiency').value).to.be.closeTo(50, 1e-9);
    expect(value(half('photometric'), 'detector_efficiency').value).to.be.closeTo(50, 1e-9);
    expect(value(half('radiometric'), 'detector_efficiency').unit).to.equal('%');
  });
});
