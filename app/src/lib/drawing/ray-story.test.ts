import { RAY_STATUS, type SectionRay } from '@ulvex/core';
import { expect } from 'chai';
import { nearestRay, rayStory } from './ray-story.ts';

const ray = (points: readonly number[], more: Partial<SectionRay> = {}): SectionRay => ({
  field: 'axis',
  nm: 587.6,
  py: 1,
  points: Float64Array.from(points),
  strays: false,
  status: RAY_STATUS.alive,
  endsAt: null,
  ...more,
});
const frame = { x: (z: number) => 10 * z, y: (y: number) => 100 - 10 * y };

describe('the story of a ray', () => {
  it('is that of the nearest one to a click, if any is near', () => {
    const rays = [ray([0, 1, 10, 1]), ray([0, 2, 10, 2]), ray([0, 5])];
    expect(nearestRay(rays, frame, 50, 88)).to.equal(0);
    expect(nearestRay(rays, frame, 50, 81)).to.equal(1);
    expect(nearestRay(rays, frame, 50, 60)).to.equal(null);
    expect(nearestRay(rays, frame, 120, 90)).to.equal(null); // beyond its end
  });

  it('names surface by surface, with heights and the angle of the way there', () => {
    const told = rayStory(ray([-5, 1, 0, 1, 10, 0]), ['front', 'image'], null);
    expect(told.steps.map(({ where, z, y }) => [where, z, y])).to.deep.equal([
      ['front', 0, 1],
      ['image', 10, 0],
    ]);
    expect(told.steps[0].angle).to.equal(0);
    expect(told.steps[1].angle).to.be.closeTo((-Math.atan(0.1) * 180) / Math.PI, 1e-12);
    expect(told.end).to.equal('It arrives.');
  });

  it('ends with the reason for which the ray ended', () => {
    const missed = ray([-5, 9, 0, 9], { status: RAY_STATUS.missed, strays: true, endsAt: 's1' });
    const told = rayStory(missed, ['L1 front'], 'L1 front');
    expect(told.steps.at(-1)?.where).to.equal('past it');
    expect(told.end).to.equal('It misses the surface at L1 front.');
  });
});
