import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { readProjectText } from '@ulvex/core';
import { LotDraws, makeTrials, type LotTrial } from '@ulvex/core/tolerance';
import { againstChoices, correlation, type TrialPoint } from './scatter.ts';
import { studyOf } from './study-of.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('The sample cannot be read.');
const study = studyOf(read.project);
const SEED = 7;
const trials: LotTrial[] = [];
const work = makeTrials({ ...study, seed: SEED }, 0, 12);
for (let step = work.next(); !step.done; step = work.next()) trials.push(step.value);
const point = (x: number, y: number): TrialPoint => ({ trial: 0, x, y, passes: true });

describe('trials as points', () => {
  const choices = againstChoices(study, SEED);
  const byId = (id: string) => choices.find((one) => one.id === id)!;

  it('have all that is watched, set and toleranced to be drawn against', () => {
    const count = study.watched.length + study.compensators.length + study.tolerances.length;
    expect(choices).to.have.length(count);
    expect(new Set(choices.map(({ id }) => id)).size).to.equal(count);
    expect(byId('set focus')).to.deep.include({ title: 'Refocus', unit: 'mm' });
    expect(byId(`tolerance ${study.tolerances[0].id}`).title).to.equal('L1 front radius');
  });

  it('are where the trials are: values, moves and the departures that were drawn', () => {
    const watched = byId(`watched ${study.watched[0].id}`);
    expect(watched.of(trials)).to.deep.equal(trials.map(({ values }) => values[0]));
    expect(byId('set focus').of(trials)).to.deep.equal(trials.map(({ moved }) => moved[0]));
    const draws = LotDraws.of(study.tolerances, SEED);
    if (!draws.ok) throw new Error(draws.reason);
    const departures = byId(`tolerance ${study.tolerances[3].id}`).of(trials);
    const { lower, upper } = study.tolerances[3];
    departures.forEach((by, k) => {
      expect(by).to.equal(draws.value.of(k)[3].by);
      expect(by).to.be.within(lower, upper);
    });
  });

  it('correlate from −1 to 1, and not at all without a spread', () => {
    expect(correlation([point(0, 1), point(1, 3), point(2, 5)])).to.be.closeTo(1, 1e-15);
    expect(correlation([point(0, 1), point(1, -3), point(2, -7)])).to.be.closeTo(-1, 1e-15);
    expect(correlation([point(-1, 1), point(0, 0), point(1, 1)])).to.equal(0);
    expect(correlation([point(1, 1), point(1, 2), point(1, 3)])).to.equal(null);
    expect(correlation([point(0, 0), point(1, 1)])).to.equal(null);
  });
});
