import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { projectOf } from '../project/fixtures.ts';
import { ask } from './ask.ts';

const evaluation = new Evaluation(projectOf());

async function valueOf(text: string): Promise<number> {
  const answer = await ask(evaluation, 'single', text);
  if (!answer.ok) throw new Error(answer.reason);
  return answer.value.value;
}

async function reasonOf(text: string): Promise<string> {
  const answer = await ask(evaluation, 'single', text);
  return answer.ok ? '' : answer.reason;
}

describe('questions about a lens', () => {
  it('take measures by title and by id, with what they were', async () => {
    const expected = evaluateMeasure(evaluation, {
      measure: 'effective_focal_length',
      lens: 'single',
      settings: {},
    });
    if (!expected.ok) throw new Error(expected.reason);
    expect(await valueOf('Effective focal length')).to.equal(expected.value.value);
    expect(await valueOf('effective_focal_length / entrance pupil diameter')).to.be.closeTo(
      expected.value.value / 10,
      1e-12,
    );
    const answer = await ask(evaluation, 'single', 'rms spot radius * 2');
    expect(answer.ok && answer.value.parts[0]).to.deep.include({ title: 'RMS spot radius', unit: 'µm' });
    expect(answer.ok && answer.value.parts[0].how).to.match(/12 × 24 polar/);
  });

  it('take parameters by their address, short within the lens', async () => {
    for (const name of ['lenses.single.surfaces.front.radius', 'surfaces.front.radius', 'front.radius'])
      expect(await valueOf(`${name} / 2`), name).to.equal(25);
    expect(await reasonOf('back.radius')).to.match(/is no measure|infinite/);
  });

  it('take the choices of a measure in brackets', async () => {
    const coarse = evaluateMeasure(evaluation, {
      measure: 'rms_spot_radius',
      lens: 'single',
      settings: { field: 'axis', rings: 3, reference: 'chief' },
    });
    expect(await valueOf('RMS spot radius[axis, rings=3, chief]')).to.equal(coarse.ok && coarse.value.value);
    expect(await reasonOf('rms spot radius[moon]')).to.match(/takes no “moon”; it takes field \(axis, all, worst\)/);
    expect(await reasonOf('distortion')).to.match(/of which field\? .*: axis/);
    expect(await reasonOf('total length[axis]')).to.match(/no choices/);
    expect(await reasonOf('front.radius[axis]')).to.match(/has no choices in brackets/);
  });

  it('say why a measure has no value', async () => {
    expect(await reasonOf('magnification')).to.match(/^Magnification: /);
    expect(await reasonOf('effective focal length + rms spot radius[rings=0]')).to.match(
      /^RMS spot radius: .*rings must be at least 1/,
    );
    const nowhere = await ask(evaluation, 'none', '1');
    expect(nowhere.ok).to.equal(false);
  });
});
