import { expect } from 'chai';
import { paraxialImagePoint } from './image-point.ts';
import { distortion } from './image-scale.ts';
import { evaluationOf } from '../evaluation/wavefront-fixtures.ts';

const radians = Math.PI / 180;

describe('Where an image without distortion lies', () => {
  const lens = evaluationOf([], { pupil: 2, field: 20, ideal: 50 });
  const field = (x: number, y: number) => ({ id: `at_${x}_${y}`, x, y, weight: 1 });

  it('is f·tan θ, which an ideal lens keeps, or f·θ, which it misses by tan θ/θ − 1', () => {
    for (const theta of [1, 10, 25]) {
      const tangent = distortion(lens, field(0, theta), { scale: 'paraxial image' });
      expect(tangent.ok && tangent.value).to.be.closeTo(0, 1e-12);
      const angle = distortion(lens, field(0, theta), { scale: 'paraxial image', law: 'f·θ' });
      const expected = Math.tan(theta * radians) / (theta * radians) - 1;
      expect(angle.ok && angle.value, `${theta}°`).to.be.closeTo(expected, 1e-12);
    }
  });

  it('is as far out as the angle to the axis says, in the direction of the field', () => {
    const [x, y] = [12, -9];
    const found = paraxialImagePoint(lens, field(x, y), 'f·θ');
    if (!found.ok) throw new Error(found.reason);
    const [tx, ty] = [Math.tan(x * radians), Math.tan(y * radians)];
    expect(Math.hypot(...found.value)).to.be.closeTo(50 * Math.atan(Math.hypot(tx, ty)), 1e-12);
    expect(found.value[0] / found.value[1]).to.be.closeTo(tx / ty, 1e-12);
    const axis = paraxialImagePoint(lens, field(0, 0), 'f·θ');
    expect(axis.ok && axis.value).to.deep.equal([0, 0]);
  });
});
