import { expect } from 'chai';
import { quickProject } from '../project/fixtures.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { toleranceFindings } from './findings.ts';

const PROJECT = quickProject([{ r: 50, t: 4, n: 1.5 }, { t: 95 }]);
const radius: Tolerance = {
  id: 'r',
  kind: 'share',
  address: 'lenses.lens.surfaces.s1.radius',
  lower: -1,
  upper: 1,
};
const shift: Tolerance = {
  id: 'e',
  kind: 'element',
  lens: 'lens',
  surface: 's1',
  motion: 'shift_x',
  lower: 0,
  upper: 1,
};
const said = (tolerances: readonly Tolerance[], compensators: readonly Compensator[] = []) =>
  toleranceFindings(PROJECT, { tolerances, compensators }).map(
    ({ of, severity, text }) => `${of} ${severity}: ${text}`,
  );

describe('findings on tolerances', () => {
  it('are none where all can be studied', () => {
    const focus: Compensator = { id: 'c', kind: 'refocus', lens: 'lens', criterion: 'centroid' };
    expect(said([radius, shift], [focus])).to.deep.equal([]);
  });

  it('name what is not there, cannot depart, or has limits of the wrong sign', () => {
    expect(said([{ ...radius, address: 'lenses.lens.surfaces.s9.radius' } as Tolerance])[0]).to.match(/^r error: .*s9/);
    expect(said([{ ...radius, address: 'lenses.lens.surfaces.s2.radius' } as Tolerance])[0]).to.match(/infinite/);
    expect(said([{ ...shift, surface: 's2' } as Tolerance])).to.deep.equal([]); // the back of the same element
    expect(said([{ ...shift, surface: 'image' } as Tolerance])[0]).to.match(/bounds no element/);
    expect(said([{ ...radius, lower: 0.5 }])[0]).to.match(/^r error: .*both sides of 0/);
    const normal = { ...radius, distribution: { kind: 'normal', sigmas: -1 } } as Tolerance;
    expect(said([normal])[0]).to.match(/standard deviations/);
  });

  it('warn of what does nothing or counts twice, and leave alone what is off', () => {
    expect(said([{ ...radius, lower: 0, upper: 0 }])).to.deep.equal(['r warning: It has no range: both limits are 0.']);
    expect(said([radius, { ...radius, id: 'again' }])[0]).to.match(/^again warning: .*“r”/);
    expect(said([{ ...radius, lower: 0.5, off: true }])).to.deep.equal([]);
  });

  it('name a compensator that finds no focus', () => {
    const lost: Compensator = { id: 'c', kind: 'refocus', lens: 'gone', criterion: 'centroid' };
    expect(said([radius], [lost])[0]).to.match(/^c error: .*gone/);
  });
});
