import { expect } from 'chai';
import { Pacing } from './pacing.ts';

/**
 * When charts are begun while what is drawn at once is answered at given times; they look again after each answer and when their wait is over.
 *
 * @param answering - how long an answer takes before it comes, ms
 */
function begun(answers: readonly number[], until: number, answering = 0): { at: number; age: number }[] {
  const pacing = new Pacing();
  const found: { at: number; age: number }[] = [];
  let shown = -1;
  let due = Infinity;
  for (let now = 0; now <= until; now++) {
    const answered = answers.indexOf(now);
    if (answered >= 0) {
      pacing.answered(now);
      shown = answered;
    }
    if (answered < 0 && now < due) continue;
    const busy = answers.some((at) => now < at && now >= at - answering);
    const wait = pacing.chartsWait(now, busy);
    due = now + wait;
    if (wait > 0) continue;
    pacing.began(now);
    found.push({ at: now, age: now - answers[shown] });
    due = Infinity;
  }
  return found;
}

const every = (ms: number, count: number) => Array.from({ length: count }, (_, k) => k * ms);

describe('the pacing of charts', () => {
  it('begins them when the frame of a single change is out', () => {
    expect(begun([0], 1000)).to.deep.equal([{ at: 20, age: 20 }]);
  });

  it('lets them follow every move of a calm hand, behind its frame', () => {
    const charts = begun(every(100, 20), 1900, 12);
    expect(charts.map(({ at }) => at)).to.deep.equal(every(100, 19).map((at) => at + 20));
  });

  it('waits for an answer that is under way, and the frame behind it', () => {
    expect(begun([0, 90], 400, 80)).to.deep.equal([{ at: 110, age: 20 }]);
  });

  it('begins them beside answers that a hand leaves no pause between', () => {
    for (const pace of [16, 25, 40, 75]) {
      const charts = begun(every(pace, 100), 99 * pace, pace);
      const gaps = charts.slice(1).map(({ at }, k) => at - charts[k].at);
      expect(Math.max(...gaps), `${pace}`).to.be.at.most(100 + 2 * pace);
      expect(charts.every(({ age }) => age === 0)).to.equal(true);
    }
  });

  it('looks out for something newer where they were begun a moment before', () => {
    expect(begun([0, 50, 100], 1000).map(({ at }) => at)).to.deep.equal([20, 120]);
    expect(begun([0, 50], 1000).map(({ at }) => at)).to.deep.equal([20, 155]);
  });

  it('tells how long the frame of an answer takes', () => {
    const pacing = new Pacing();
    expect(pacing.untilShown(5)).to.equal(0);
    pacing.answered(10);
    expect(pacing.untilShown(15)).to.equal(15);
    expect(pacing.untilShown(60)).to.equal(0);
  });
});
