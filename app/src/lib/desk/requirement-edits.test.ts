import { applyEdits, readProjectText } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { addRequirement, limitText, readLimit, requirementTitle, setLimit } from './requirement-edits.ts';

const read = readProjectText(
  readFileSync(resolve(import.meta.dirname, '../../../../samples/tide-camera.ulvex.json'), 'utf8'),
);
if (!read.ok) throw new Error('the sample does not read');
const { project } = read;
const [lens] = project.lenses;

describe('requirements', () => {
  it('are made of any measure, about the last field where one is needed', () => {
    const added = addRequirement(project, lens, 'distortion');
    if (!added.ok) throw new Error(added.reason);
    const { requirements } = applyEdits(project, added.value.edits).project;
    expect(requirements.at(-1)).to.deep.include({
      measure: 'distortion',
      lens: 'tide',
      settings: { field: 'edge' },
    });
    expect(requirementTitle(requirements.at(-1)!)).to.equal('Distortion');
    expect(addRequirement(project, lens, 'beauty').ok).to.equal(false);
  });

  it('never have a lower limit above the upper one', () => {
    const requirement = { id: 'r', measure: 'total_length', lens: 'tide', settings: {}, max: 40 };
    expect(setLimit(requirement, 'min', 41).ok).to.equal(false);
    expect(setLimit(requirement, 'min', 40).ok).to.equal(true);
    expect(setLimit(requirement, 'max', undefined).ok).to.equal(true);
    expect(setLimit({ ...requirement, min: 3 }, 'max', 2).ok).to.equal(false);
  });

  it('read limits as typed, and none where nothing is', () => {
    for (const text of ['', ' – ', '-', 'none']) expect(readLimit(text)).to.deep.equal({ ok: true, value: undefined });
    expect(readLimit('3/2')).to.deep.equal({ ok: true, value: 1.5 });
    expect(readLimit('*2/3', 1.5)).to.deep.equal({ ok: true, value: 1 });
    expect(readLimit('high').ok).to.equal(false);
    expect(readLimit('*2').ok).to.equal(false);
    expect([limitText(undefined), limitText(-2)]).to.deep.equal(['–', '−2']);
  });
});
