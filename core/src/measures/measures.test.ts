import { expect } from 'chai';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { projectOf, quickProject } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { readSettings } from './measure.ts';
import { evaluateMeasure, findMeasure, MEASURES } from './registry.ts';
import { standing } from './requirement.ts';

function tideCamera(): Project {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.project;
}

function measured(project: Project, measure: string, settings: unknown = {}): number {
  const outcome = evaluateMeasure(new Evaluation(project), { measure, lens: project.lenses[0].id, settings });
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value.value;
}

function reason(project: Project, measure: string, settings: unknown = {}, lens = project.lenses[0].id): string {
  const outcome = evaluateMeasure(new Evaluation(project), { measure, lens, settings });
  return outcome.ok ? `measured ${outcome.value.value}` : outcome.reason;
}

describe('measures', () => {
  const tide = tideCamera();

  it('give the tide camera’s figures', () => {
    expect(measured(tide, 'effective_focal_length')).to.be.closeTo(36.00061, 1e-5);
    expect(measured(tide, 'image_f_number')).to.be.closeTo(36.00061 / 10.285714, 1e-6);
    expect(measured(tide, 'working_f_number')).to.be.closeTo(36.00061 / 10.285714, 1e-6);
    expect(measured(tide, 'total_length')).to.be.closeTo(42.2038, 1e-12);
    expect(measured(tide, 'back_focal_distance')).to.be.closeTo(measured(tide, 'paraxial_image_distance'), 1e-12);
    expect(measured(tide, 'distortion', { field: 'edge' })).to.be.closeTo(0.16123, 5e-5);
    // The sensor stands 0.3 mm before the paraxial image, whose scale is larger.
    expect(measured(tide, 'distortion', { field: 'edge', scale: 'paraxial image' })).to.be.closeTo(-0.68712, 5e-5);
    expect(measured(tide, 'chief_ray_angle', { field: 'axis' })).to.be.closeTo(0, 1e-9);
    expect(measured(tide, 'image_height', { field: 'edge' })).to.be.closeTo(10.25, 0.02);
  });

  it('combine spots of fields as they say', () => {
    const of = (field: string) => measured(tide, 'rms_spot_radius', { field });
    const each = ['axis', 'zone', 'edge'].map(of);
    expect(of('worst')).to.equal(Math.max(...each));
    expect(of('all')).to.be.closeTo(Math.sqrt(each.reduce((sum, value) => sum + value ** 2, 0) / 3), 1e-12);
    expect(measured(tide, 'rms_spot_radius', { field: 'edge', reference: 'chief' })).to.be.greaterThan(each[2]);
  });

  it('tell the F-number of the light that passes, and caution about that of the stop, where an aperture cuts the beam', () => {
    const told = (measure: string, clear: number) => {
      const project = quickProject([{ t: 10 }, { r: 100, t: 2, n: 1.5, semi: clear }, { r: -100, t: 99 }], {
        aperture: { kind: 'entrance_pupil_diameter', value: 10 },
      });
      const found = evaluateMeasure(new Evaluation(project), { measure, lens: 'lens', settings: {} });
      if (!found.ok) throw new Error(found.reason);
      return found.value;
    };
    expect(told('passing_f_number', 4).value).to.be.closeTo((told('working_f_number', 4).value * 5) / 4, 1e-7);
    expect(told('image_f_number', 4).caution).to.match(
      /cuts 36 % of the beam: the F-number of the light that passes is 1\.25 times as large/,
    );
    expect(told('image_f_number', 5.05).caution).to.equal(undefined);
    expect(told('passing_f_number', 5.05).value).to.equal(told('working_f_number', 5.05).value);
  });

  it('caution when rays fail that no aperture was meant to stop', () => {
    const steep = quickProject([
      { t: 10, n: 1.9 },
      { r: -5.2, t: 50 },
    ]);
    const request = { measure: 'rms_spot_radius', lens: 'lens', settings: {} };
    const outcome = evaluateMeasure(new Evaluation(steep), request);
    expect(outcome.ok && outcome.value.caution).to.match(/Only of the rays that arrive: \d+ of 288 fail/);
    const sound = evaluateMeasure(new Evaluation(tide), { ...request, lens: 'tide' });
    expect(sound.ok && sound.value.caution).to.equal(undefined);
  });

  it('count folded lengths by their extent', () => {
    const folded = quickProject([
      { r: -1200, k: -1, t: -409, n: 'mirror' },
      { r: -611, k: -4.84, t: 509, n: 'mirror' },
    ]);
    expect(measured(folded, 'total_length')).to.equal(509);
  });

  it('refuse what does not exist, in words', () => {
    expect(reason(tide, 'beauty')).to.match(/no measure “beauty”/);
    expect(reason(tide, 'total_length', {}, 'other')).to.match(/no lens “other”/);
    expect(reason(tide, 'distortion')).to.match(/field is missing: name a field by its id/);
    expect(reason(tide, 'distortion', { field: 'nowhere' })).to.match(/no field “nowhere”; there are axis, zone, edge/);
    expect(reason(tide, 'distortion', { field: 'axis' })).to.match(/not defined on the axis/);
    expect(reason(tide, 'rms_spot_radius', { ring: 3 })).to.match(
      /no such setting; it has: field, reference, pupil, rings, arms/,
    );
    expect(reason(tide, 'rms_spot_radius', { rings: 0 })).to.match(/rings must be at least 1/);
    expect(reason(tide, 'rms_spot_radius', { rings: 'many' })).to.match(/whole number/);
    expect(reason(tide, 'rms_spot_radius', { reference: 'middle' })).to.match(/one of centroid, chief/);
    expect(reason(tide, 'total_length', null)).to.match(/must be an object/);
    expect(reason(tide, 'magnification')).to.match(/finite distance/);
    expect(reason(quickProject([{ t: 5, n: 1.5 }, { t: 5 }]), 'effective_focal_length')).to.equal(
      'The lens is afocal.',
    );
    expect(reason(projectOf({ ...projectOf().lenses[0], stop: null }), 'rms_spot_radius')).to.match(/stop/);
  });

  it('never show a number that is none, whatever the settings', () => {
    const evaluation = new Evaluation(tide);
    fc.assert(
      fc.property(fc.constantFrom(...MEASURES.map(({ id }) => id)), fc.jsonValue(), (measure, settings) => {
        const outcome = evaluateMeasure(evaluation, { measure, lens: 'tide', settings });
        if (outcome.ok) expect(Number.isFinite(outcome.value.value)).to.equal(true);
        else expect(outcome.reason).to.not.equal('');
      }),
    );
  });

  it('are told to the user: each has a title, a meaning and legal defaults', () => {
    for (const measure of MEASURES) {
      expect(findMeasure(measure.id)).to.equal(measure);
      expect(measure.id).to.match(/^[a-z][a-z0-9_]*$/);
      expect(measure.meaning.length, measure.id).to.be.greaterThan(20);
      const needsField = measure.settings.field?.fallback === null;
      expect(readSettings(measure, needsField ? { field: 'axis' } : {}).ok, measure.id).to.equal(true);
    }
  });
});

describe('standing', () => {
  it('tells met, close and missed by the margin', () => {
    expect(standing(36, { min: 35, max: 37 })).to.deep.include({ verdict: 'met', margin: 1, place: 0.5 });
    expect(standing(36.95, { min: 35, max: 37 }).verdict).to.equal('close');
    expect(standing(37.01, { min: 35, max: 37 }).verdict).to.equal('missed');
    expect(standing(8, { max: 9 }).verdict).to.equal('met');
    expect(standing(8.8, { max: 9 }).verdict).to.equal('close');
    expect(standing(-1, { min: 0 }).verdict).to.equal('missed');
    expect(standing(5, { min: 5, max: 5 }).verdict).to.equal('met');
    expect(standing(1e9, {})).to.deep.include({ verdict: 'met', minPlace: null, maxPlace: null });
  });

  it('puts value and limits on the bar in their order', () => {
    const number = fc.double({ min: -1e6, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(number, number, number, (value, a, b) => {
        const [min, max] = [Math.min(a, b), Math.max(a, b)];
        fc.pre(max - min > 1e-6);
        const { place, minPlace, maxPlace, verdict } = standing(value, { min, max });
        expect(minPlace).to.be.lessThan(maxPlace!);
        if (verdict !== 'missed') expect(place).to.be.within(minPlace! - 1e-9, maxPlace! + 1e-9);
        else if (value < min) expect(place).to.be.at.most(minPlace!);
        else expect(place).to.be.at.least(maxPlace!);
      }),
    );
  });
});
