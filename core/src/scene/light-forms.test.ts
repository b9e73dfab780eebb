import { expect } from 'chai';
import { LIGHT_FORMS, lightFormProject, sceneOnly, type LightForm } from '../project/light-forms.ts';
import { readProject } from '../project/read.ts';
import { traceAll } from './run.ts';
import { compileScene, type SceneModel } from './scene-model.ts';
import { detectorNumbers, type DetectorNumbers } from './statistics.ts';
import type { Tally } from './tally.ts';

function traced(form: LightForm, size?: number, rays = 20_000) {
  const project = lightFormProject(form, size);
  const model: SceneModel = compileScene(project, project.scenes![0], () => 'no lens');
  const tally: Tally = traceAll(model, rays);
  const numbers: DetectorNumbers = detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks);
  return { project, model, tally, numbers };
}
const form = (id: string) => LIGHT_FORMS.find((one) => one.id === id)!;

describe('Forms of lamps to begin from', () => {
  for (const one of LIGHT_FORMS)
    it(`${one.title}: is a sound project, throws light on its detector, and scales`, () => {
      const { project, model, tally, numbers } = traced(one);
      const read = readProject(JSON.parse(JSON.stringify(project)));
      expect(read.ok ? '' : JSON.stringify(read.problems)).to.equal('');
      expect(model.findings.map(({ text }) => text)).to.deep.equal([]);
      expect(tally.mishaps).to.deep.equal([]);
      expect(numbers.flux.value).to.be.above(0);
      expect(numbers.hits).to.be.above(50);
      const twice = traced(one, 2 * one.size.fallback).numbers;
      if (one.id === 'trough') expect(twice.flux.value / numbers.flux.value).to.be.closeTo(4, 0.1);
      else expect(twice.flux.value).to.be.closeTo(numbers.flux.value, 0.03 * numbers.flux.value);
      const length = model.detectors[0].chart.kind === 'directions' ? 1 : 2;
      expect(twice.rmsRadius.value / numbers.rmsRadius.value).to.be.closeTo(length, 0.05 * length);
      const { ledger } = tally;
      const ended = ledger.detected + ledger.absorbed + ledger.inBodies + ledger.escaped + ledger.cutOff + ledger.byLot;
      expect(ended / ledger.launched).to.be.closeTo(1, 1e-9);
    });

  it('the collimator makes a beam as narrow as étendue and its focus let it', () => {
    const { numbers, model } = traced(form('led_lens'), 40, 60_000);
    // No beam is narrower than étendue allows: chip · π sin² 35° over the area of the lens, as a disc of directions, has radius/√2.
    const solid = (Math.PI * Math.sin((35 * Math.PI) / 180) ** 2) / (Math.PI * 20 ** 2);
    const least = (Math.sqrt(solid / Math.PI / 2) * 180) / Math.PI;
    // And none is wider than the chip as seen from the vertex of the lens, f = 15.8 mm: side/√6.
    const most = (Math.atan(1 / 15.8) * 180) / Math.PI / Math.sqrt(6);
    expect(numbers.rmsRadius.value).to.be.within(least, most);
    expect(model.detectors[0].chart.kind).to.equal('directions');
    // It catches what goes to within 35° of its axis, less two faces: sin² 35° · 0.92.
    expect(numbers.flux.value / 100).to.be.closeTo(Math.sin((35 * Math.PI) / 180) ** 2 * 0.92, 0.03);
  });

  it('the concentrator with a perfect wall takes nearly all that comes within its angle; skew rays near it turn back', () => {
    const sample = form('concentrator');
    const perfect: LightForm = {
      ...sample,
      scene: (size) => ({
        ...sample.scene(size),
        finishes: [{ id: 'bright', name: 'Perfect', optics: { kind: 'mirror', reflectance: 1 } }],
      }),
    };
    expect(traced(perfect).numbers.flux.value).to.be.within(0.96, 1);
    expect(traced(sample).numbers.flux.value).to.be.within(0.8, 0.92);
  });

  it('the tube before the sensor lets in what was scattered alone, with few rays', () => {
    const { numbers } = traced(form('baffled_tube'));
    expect(numbers.flux.value).to.be.within(1e-9, 1e-2);
    expect(numbers.flux.standardError).to.be.below(0.1 * numbers.flux.value);
  });

  it('an empty scene is a project, too', () => {
    const read = readProject(JSON.parse(JSON.stringify(sceneOnly('New scene'))));
    expect(read.ok).to.equal(true);
  });
});
