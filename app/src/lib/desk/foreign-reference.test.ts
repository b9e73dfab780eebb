import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { answerQuery, Evaluation, readProjectText, type Project } from '@ulvex/core';
import { asReference } from './foreign-reference.ts';

function sample(name: string): Project {
  const read = readProjectText(readFileSync(`samples/${name}.ulvex.json`, 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  return read.project;
}

describe('Another project as the reference', () => {
  it('answers what is asked of the lens that is shown, field by field', () => {
    const [tide, ice] = [sample('tide-camera'), sample('ice-glass')];
    const before = asReference(ice, tide.lenses[0]);
    if (!before) throw new Error('no lens');
    const evaluation = new Evaluation(before);
    const lens = tide.lenses[0].id;
    for (const { id } of tide.lenses[0].fields.points.slice(0, ice.lenses[0].fields.points.length)) {
      const spot = answerQuery(evaluation, {
        kind: 'measure',
        measure: 'rms_spot_radius',
        lens,
        settings: { field: id },
      });
      expect(spot.ok, id).to.equal(true);
    }
    const own = answerQuery(new Evaluation(ice), {
      kind: 'measure',
      measure: 'effective_focal_length',
      lens: ice.lenses[0].id,
      settings: {},
    });
    const laid = answerQuery(evaluation, {
      kind: 'measure',
      measure: 'effective_focal_length',
      lens,
      settings: {},
    });
    expect(laid).to.deep.equal(own);
  });

  it('needs a lens, and keeps ids apart where there are more fields', () => {
    const tide = sample('tide-camera');
    expect(asReference({ ...tide, lenses: [] }, tide.lenses[0])).to.equal(null);
    const [lens] = tide.lenses;
    const few = {
      ...lens,
      fields: { ...lens.fields, points: [{ ...lens.fields.points[2], id: lens.fields.points[1].id }] },
    };
    const ids = asReference(tide, few)!.lenses[0].fields.points.map(({ id }) => id);
    expect(new Set(ids).size).to.equal(lens.fields.points.length);
    expect(ids[0]).to.equal(few.fields.points[0].id);
  });
});
