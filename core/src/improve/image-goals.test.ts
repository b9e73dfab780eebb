import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { fieldMtf, modulation } from '../imaging/point/mtf.ts';
import { wavefront } from '../imaging/wavefront/wavefront.ts';
import type { ImageGoal } from '../project/improve.ts';
import type { ParameterStates, Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { imageSampling } from './image-goal.ts';
import { polish } from './polish.ts';
import { MeritProblem } from './problem.ts';
import { meritStand } from './stand.ts';
import { imageGoal, worstDerivative } from './fixtures.ts';

const tide = (() => {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error('the sample cannot be read');
  return read.project;
})();
const at = (rest: string) => `lenses.tide.surfaces.${rest}`;
const FREE: ParameterStates = Object.fromEntries(
  ['l2_back.radius', 'l3_l4.radius', 'l1_back.thickness', 'l4_back.thickness'].map((name) => [
    at(name),
    { kind: 'free' },
  ]),
);
const image = (more: Partial<ImageGoal> = {}) => imageGoal('tide', more);
/** The same in its primary colour alone. */
const green: Project = {
  ...tide,
  lenses: [
    { ...tide.lenses[0], wavelengths: tide.lenses[0].wavelengths.filter(({ id }) => id === tide.lenses[0].primary) },
  ],
};
const wanting = (goal: ImageGoal, parameters = FREE, of = tide): Project => ({
  ...of,
  goals: [goal],
  parameters,
  making: { off: true },
});

function problem(goal: ImageGoal, parameters = FREE, of = tide): MeritProblem {
  const made = MeritProblem.of(wanting(goal, parameters, of), null);
  if (!made.ok) throw new Error(made.reason);
  return made.value;
}

function lensOf(project: Project) {
  const lens = new Evaluation(project).lens('tide');
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
}

/** Where a polish by one goal ends, as another goal tells it. */
function after(by: ImageGoal, told: ImageGoal, of = tide): number {
  const run = polish(wanting(by, FREE, of), null, { evaluations: 14 });
  for (;;) {
    const step = run.next();
    if (!step.done) continue;
    if (!step.value.ok) throw new Error(step.value.reason);
    return meritStand(new Evaluation({ ...step.value.value.project, goals: [told] })).goals[0].value!;
  }
}

const squares = (values: Float64Array) => values.reduce((sum, value) => sum + value * value, 0);

describe('image goals by extremes', () => {
  const spot = image({ by: 'peak' });
  const wave = image({ what: 'wavefront', by: 'peak' });

  it('tell the largest distance of a ray, and peak to valley, of every field and colour', () => {
    const lens = lensOf(tide);
    const { points } = imageSampling(lens, wave);
    const [stand] = meritStand(new Evaluation(wanting(wave))).goals;
    expect(stand.parts).to.have.length(9);
    for (const { field, of, value } of stand.parts!) {
      const wavelength = lens.model.wavelengths.findIndex(({ nm }) => nm === of);
      const found = wavefront(
        lens,
        lens.model.lens.fields.points.find(({ id }) => id === field)!,
        wavelength,
        { sampling: { kind: 'polar', rings: 24, arms: 48 }, pupil: 'full' },
      );
      if (!found.ok) throw new Error(found.reason);
      const range = Math.max(...found.value.w) - Math.min(...found.value.w);
      expect(value / range, `${field} ${of}`).to.be.within(0.9, 1.1);
    }
    expect(stand.value).to.equal(Math.max(...stand.parts!.map(({ value }) => value)));
    expect(Math.max(...points.px.map((x, i) => Math.hypot(x, points.py[i])))).to.be.closeTo(1, 1e-12);
  });

  it('sum to a mean of high power, which is no less than the largest and little more', () => {
    for (const goal of [spot, wave]) {
      const merit = problem(goal);
      const [stand] = meritStand(new Evaluation(wanting(goal))).goals;
      const sum = squares(merit.values(merit.start)!);
      expect(stand.square).to.be.closeTo(sum, 1e-9 * sum);
      const factor = goal.what === 'wavefront' ? 50 : 1;
      const least = stand.parts!.reduce((all, { value }) => all + (factor * value) ** 2 / 9, 0);
      expect(Math.sqrt(sum / least)).to.be.within(1, 1.6);
    }
  });

  it('have exact derivatives', () => {
    expect(worstDerivative(problem(spot), Infinity, 1)).to.be.below(1e-5);
    expect(worstDerivative(problem(wave), Infinity, 1)).to.be.below(3e-5); // the radius of the reference sphere is held
  });

  it('are brought lower than by a polish for the RMS', () => {
    expect(after(spot, spot)).to.be.below(0.97 * after(image({}), spot));
    expect(after(wave, wave)).to.be.below(0.97 * after(image({ what: 'wavefront' }), wave));
  });
});

describe('image goals by the MTF at a frequency', () => {
  const fine = image({ what: 'mtf', frequency: 60 });

  it('tell the modulation of the physical model', () => {
    const lens = lensOf(tide);
    const [stand] = meritStand(new Evaluation(wanting(fine))).goals;
    expect(stand.parts).to.have.length(6);
    for (const field of lens.model.lens.fields.points) {
      const found = fieldMtf(lens, field, { method: 'physical', frequencies: [60] });
      if (!found.ok) throw new Error(found.reason);
      for (const way of ['tangential', 'sagittal'] as const) {
        const part = stand.parts!.find(({ field: id, of }) => id === field.id && of === way)!;
        expect(part.value, `${field.id} ${way}`).to.be.closeTo(modulation(found.value[way][0]), 1e-5);
      }
    }
  });

  it('sum to what aberrations take, with derivatives that hold the outline of the pupil', () => {
    const merit = problem(fine, FREE, green);
    const [stand] = meritStand(new Evaluation(wanting(fine, FREE, green))).goals;
    expect(stand.square).to.be.closeTo(squares(merit.values(merit.start)!), 1e-9);
    const values = merit.values(merit.start)!;
    merit.columns(merit.start).forEach((column, v) => {
      const step = 3 * merit.numbers[v].small;
      const [up, down] = [step, -step].map((by) => squares(merit.values(merit.start.with(v, merit.start[v] + by))!));
      const slope = 2 * column.reduce((sum, one, i) => sum + one * values[i], 0);
      // As large as the slope could be where the column points along the values.
      const whole = 2 * Math.sqrt(squares(column) * squares(values));
      expect(slope, merit.numbers[v].address).to.be.closeTo((up - down) / (2 * step), 0.02 * whole);
    });
    // The distance of the image changes the extent of the pupil on its sphere, which is followed; of the outline next to nothing is left to hold.
    expect(worstDerivative(problem(fine, { [at('l4_back.thickness')]: { kind: 'free' } }), Infinity, 1)).to.be.below(
      2e-5,
    );
  });

  it('bring it higher than a polish for the RMS spot', () => {
    expect(after(fine, fine, green)).to.be.above(after(image({}), fine, green) + 0.02);
  });

  it('are refused beyond the limit of diffraction, and where there is no such thing yet', () => {
    const none = MeritProblem.of(wanting(image({ what: 'mtf', frequency: 5000 })), null);
    expect(!none.ok && none.reason).to.match(/5000 cycles\/mm is beyond the limit of diffraction/);
    const far = wanting(fine);
    const lens = far.lenses[0];
    const surfaces = lens.surfaces.map((one) =>
      one.id === 'l4_back' ? { ...one, after: { ...one.after!, thickness: one.after!.thickness + 4 } } : one,
    );
    const blurred = MeritProblem.of({ ...far, lenses: [{ ...lens, surfaces }] }, null);
    expect(!blurred.ok && blurred.reason).to.match(/Polish image quality by spots first/);
  });
});
