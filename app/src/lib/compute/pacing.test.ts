import { expect } from 'chai';
import { Pacing } from './pacing.ts';

/** When charts are begun while what is drawn at once is answered at given times; they look again after each answer and when their wait is over. */
function begun(answers: readonly number[], until: number): { at: number; age: number }[] {
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
    const wait = pacing.chartsWait(now);
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
    expect(begun([0], 1000)).to.deep.equal([{ at: 30, age: 30 }]);
  });

  it('lets them follow a hand, with what is newest at every second move', () => {
    const charts = begun(every(100, 20), 1900);
    expect(charts.every(({ age }) => age <= 30)).to.equal(true);
    expect(charts.slice(1).map(({ at }, k) => at - charts[k].at)).to.satisfy((gaps: number[]) =>
      gaps.every((gap) => gap === 200),
    );
  });

  it('waits for no frame where moves follow one another at once, and does not fall behind', () => {
    const charts = begun(every(25, 40), 975);
    expect(charts.length).to.be.at.least(6);
    expect(charts.every(({ age }) => age === 0)).to.equal(true);
  });

  it('comes to what a hand left behind', () => {
    const charts = begun([0, 100], 1000);
    expect(charts.map(({ at }) => at)).to.deep.equal([30, 240]);
  });

  it('tells how long the frame of an answer takes', () => {
    const pacing = new Pacing();
    expect(pacing.untilShown(5)).to.equal(0);
    pacing.answered(10);
    expect(pacing.untilShown(15)).to.equal(25);
    expect(pacing.untilShown(60)).to.equal(0);
  });
});
