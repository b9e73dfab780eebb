import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { applyEdits } from '../project/edit.ts';
import type { TestPlate } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { polishToEnd } from './polish.ts';
import { fitPlates, nearestPlate, plateChecks, type PlateFit } from './test-plates.ts';

const read = readProjectText(readFileSync('samples/forms/triplet.ulvex.json', 'utf8'));
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const { project: triplet } = read;
const [lens] = triplet.lenses;
/** A workshop with forty radii to a decade. */
const PLATES: readonly TestPlate[] = Array.from({ length: 121 }, (_, k) => ({
  radius: Number((5 * 10 ** (k / 40)).toPrecision(4)),
}));
const equipped: Project = { ...triplet, testPlates: { name: 'Yard', plates: PLATES } };
const radiiOf = ({ lenses }: Project) =>
  lenses[0].surfaces.flatMap(({ shape }) =>
    shape.kind === 'sphere' && shape.radius !== 'infinity' ? [shape.radius] : [],
  );

function looked(project: Project) {
  const found = new Evaluation(project).lens(lens.id);
  if (!found.ok) throw new Error(found.reason);
  return plateChecks(project, found.value);
}

function fit(project: Project): { states: PlateFit[]; reason: string } {
  const run = fitPlates(project, null, lens.id);
  const states: PlateFit[] = [];
  for (;;) {
    const step = run.next();
    if (!step.done) {
      states.push(step.value);
      continue;
    }
    return { states, reason: step.value.ok ? '' : step.value.reason };
  }
}

describe('test plates', () => {
  it('are next to a radius by the share that it is off, whatever its sign', () => {
    const plates = [{ radius: 10 }, { radius: 20 }, { radius: 40 }];
    const next = (radius: number) => nearestPlate(plates, radius)!.radius;
    expect([1, 14.1, -14.2, 28.2, 28.3, 900].map(next)).to.deep.equal([10, 10, 20, 20, 40, 40]);
    expect(nearestPlate([], 10)).to.equal(null);
  });

  it('that are missing are told, and taken in one step each', () => {
    expect(looked(triplet)).to.deep.equal([]);
    const found = looked(equipped);
    expect(found).to.have.length(radiiOf(triplet).length);
    const [first] = found;
    expect(first.text).to.match(/ mm: next test plate [\d.]+ mm, [+−][\d.]+ %\.$/);
    const mended = applyEdits(equipped, first.remedy!.edits).project;
    expect(looked(mended).map(({ surface }) => surface)).to.deep.equal(found.slice(1).map(({ surface }) => surface));
    const { shape } = mended.lenses[0].surfaces.find(({ id }) => id === first.surface)!;
    expect(PLATES.some(({ radius }) => 'radius' in shape && radius === Math.abs(Number(shape.radius)))).to.equal(true);
    expect(mended.parameters?.[`lenses.${lens.id}.surfaces.${first.surface}.radius`]).to.equal(undefined);
  });

  it('are given to all radii, the lens polished again after each, for less than taking them at once costs', () => {
    const { states, reason } = fit(equipped);
    expect(reason).to.equal('');
    const last = states.at(-1)!;
    expect([last.done, last.of]).to.deep.equal([states.length - 1, radiiOf(triplet).length]);
    for (const radius of radiiOf(last.project))
      expect(PLATES.some((one) => one.radius === Math.abs(radius))).to.equal(true);
    expect(last.fitted.map(({ to }) => to).sort()).to.deep.equal(radiiOf(last.project).sort());
    const focal = evaluateMeasure(new Evaluation(last.project), {
      measure: 'effective_focal_length',
      lens: lens.id,
      settings: {},
    });
    expect(focal.ok && focal.value.value).to.be.closeTo(50, 0.3);
    const fixed = (addresses: readonly string[]) =>
      Object.fromEntries(Object.entries(equipped.parameters!).filter(([address]) => !addresses.includes(address)));
    const atOnce = looked(equipped).reduce((now, { remedy }) => applyEdits(now, remedy!.edits).project, equipped);
    const held = {
      ...atOnce,
      parameters: fixed(looked(equipped).map(({ surface }) => `lenses.${lens.id}.surfaces.${surface}.radius`)),
    };
    const polished = polishToEnd(held, null, { gain: 1e-6 });
    expect(last.merit).to.be.below(0.7 * (polished.ok ? polished.value.merit : NaN));
    expect(last.merit).to.be.below(1.15 * last.before);
  }).timeout(60_000);

  it('say what is missing', () => {
    expect(fit(triplet).reason).to.match(/no list of test plates/);
    expect(fit({ ...equipped, goals: [] }).reason).to.match(/There are no goals/);
  });
});
