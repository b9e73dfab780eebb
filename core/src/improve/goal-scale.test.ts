import { expect } from 'chai';
import type { Goal, MeasureGoal } from '../project/improve.ts';
import { goalScale, goalTitle, makingScale, sidesOf } from './goal-scale.ts';
import type { MakingRow } from './making-limits.ts';

const goal = (part: Partial<MeasureGoal> = {}): MeasureGoal =>
  ({
    id: 'g',
    kind: 'measure',
    measure: 'effective_focal_length',
    settings: {},
    weight: 1,
    ...part,
  }) as MeasureGoal;

describe('the scale of a goal', () => {
  it('is so much of its unit that lengths, angles and spots weigh alike; limits are ten times stiffer', () => {
    expect(goalScale('mm', goal({ target: 36 }), 'target')).to.equal(0.01);
    expect(goalScale('µm', goal({ target: 5 }), 'target')).to.equal(1);
    for (const unit of ['mm', 'µm', 'mrad', '°', '%', 'λ', 'W'])
      for (const side of ['min', 'max'] as const)
        expect(goalScale(unit, goal({ max: 3 }), side), unit).to.be.closeTo(
          goalScale(unit, goal({ max: 3 }), 'target') / 10,
          1e-15,
        );
  });

  it('goes by the size of what is wanted where the unit says nothing, and never by nothing', () => {
    expect(goalScale('', goal({ target: 3.5 }), 'target')).to.be.closeTo(0.0035, 1e-15);
    expect(goalScale('', goal({ target: -400 }), 'target')).to.be.closeTo(0.4, 1e-12);
    expect(goalScale('', goal({ max: 20 }), 'target')).to.be.closeTo(0.02, 1e-15);
    expect(goalScale('', goal({ target: 0 }), 'target')).to.equal(0.001);
    expect(goalScale('', goal(), 'target')).to.equal(0.001);
  });

  it('has a side for each thing that is wanted, 0 among them', () => {
    expect(sidesOf(goal())).to.deep.equal([]);
    expect(sidesOf(goal({ target: 0 }))).to.deep.equal(['target']);
    expect(sidesOf(goal({ min: -1, max: 0 }))).to.deep.equal(['min', 'max']);
  });

  it('of what a workshop can make is 2 µm, or two hundredths of a degree', () => {
    expect(makingScale({ unit: 'mm' } as MakingRow)).to.equal(0.002);
    expect(makingScale({ unit: '°' } as MakingRow)).to.equal(0.02);
  });

  it('stands under the name that a goal was given, or that of what it measures', () => {
    expect(goalTitle(goal())).to.equal('Effective focal length');
    expect(goalTitle(goal({ label: 'as long as the old one' }))).to.equal('as long as the old one');
    expect(goalTitle(goal({ measure: 'of_a_later_version' }))).to.equal('of_a_later_version');
    expect(goalTitle({ id: 'q', kind: 'image_quality', weight: 1 } as Goal)).to.equal('Image quality');
  });
});
