import { expect } from 'chai';
import { quickProject, type Quick } from '../../project/fixtures.ts';
import type { Lens, RaySource } from '../../project/model.ts';
import { Evaluation } from '../evaluation/evaluation.ts';
import { inspectRay, type RayInspection } from './ray-inspection.ts';

function evaluationOf(surfaces: readonly Quick[], change: Partial<Lens> = {}): Evaluation {
  return new Evaluation(quickProject(surfaces, change));
}

function inspect(surfaces: readonly Quick[], source: RaySource, change: Partial<Lens> = {}): RayInspection {
  const lens = evaluationOf(surfaces, change).lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  const found = inspectRay(lens.value, source, null);
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

const PLATE: readonly Quick[] = [{ t: 10, n: 1.5 }, { t: 30 }];
const launched = (tx: number, ty: number, y = 0): RaySource => ({
  kind: 'launched',
  x: 0,
  y,
  z: -20,
  tx,
  ty,
});

describe('the ray inspector', () => {
  it('tells angles, paths and displacement at a plane plate', () => {
    const { steps, end, start } = inspect(PLATE, launched(0, 30));
    const inside = Math.asin(Math.sin(Math.PI / 6) / 1.5);
    expect(end).to.equal(null);
    expect(start).to.deep.equal([0, 0, -20]);
    expect(steps.map(({ surface }) => surface)).to.deep.equal(['s1', 's2', 'image']);
    expect(steps[0].incidence).to.be.closeTo(30, 1e-12);
    expect(steps[0].refraction).to.be.closeTo((inside * 180) / Math.PI, 1e-12);
    expect(steps[1].incidence).to.be.closeTo(steps[0].refraction!, 1e-12);
    expect(steps[1].refraction).to.be.closeTo(30, 1e-12);
    expect(steps[1].way).to.be.closeTo(10 / Math.cos(inside), 1e-12);
    expect(steps[1].path).to.be.closeTo(20 / Math.cos(Math.PI / 6) + (1.5 * 10) / Math.cos(inside), 1e-12);
    expect(steps[2].global[1]).to.be.closeTo(50 * Math.tan(Math.PI / 6) + 10 * Math.tan(inside), 1e-12);
  });

  it('loses by Fresnel: (n−1)²/(n+1)² a face at normal incidence, nothing in p at Brewster’s angle', () => {
    const normal = inspect(PLATE, launched(0, 0));
    expect(normal.steps[0].flux).to.be.closeTo(0.96, 1e-12);
    expect(normal.takenClear).to.deep.equal(['1.5']);
    expect(normal.steps[1].flux).to.be.closeTo(0.96 ** 2, 1e-12);
    const brewster = Math.atan(1.5);
    const rs = ((1.5 * 1.5 - 1) / (1.5 * 1.5 + 1)) ** 2; // Rs at Brewster’s angle
    const tilted = inspect(PLATE, launched(0, (brewster * 180) / Math.PI));
    expect(tilted.steps[0].flux).to.be.closeTo(1 - rs / 2, 1e-12);
  });

  it('tells a ray up to its end, with the reason', () => {
    const clipped = inspect([{ t: 10, n: 1.5, semi: 3 }, { t: 30 }], launched(0, 0, 5));
    expect(clipped.steps.map(({ surface }) => surface)).to.deep.equal(['s1']);
    expect(clipped.steps[0].flux).to.equal(0);
    expect(clipped.steps[0].refraction).to.equal(null);
    expect(clipped.end).to.deep.equal({ surface: 's1', reason: 'falls outside the aperture' });
    const missed = inspect([{ r: 8, t: 5, n: 1.5 }, { t: 30 }], launched(0, 0, 9));
    expect(missed.steps).to.deep.equal([]);
    expect(missed.end?.reason).to.equal('misses the surface');
    const total = inspect(
      [
        { t: 10, n: 1.8 },
        { t: 5, frame: { tx: 50 } },
      ],
      launched(0, 0),
    );
    expect(total.end?.reason).to.equal('is totally reflected');
    expect(total.steps.at(-1)?.incidence).to.be.closeTo(50, 1e-9);
  });

  it('aims through a point of any surface, and through a point of the pupil', () => {
    const lens: readonly Quick[] = [{ r: 60, t: 6, n: 1.6 }, { r: -80, t: 15 }, { t: 40 }];
    const change: Partial<Lens> = {
      stop: 's3',
      pupil: { aim: 'stop', obscuration: 0 },
      fields: { kind: 'angle', points: [{ id: 'f', x: 2, y: 5, weight: 1 }] },
    };
    const aimed = inspect(lens, { kind: 'aimed', field: 'f', surface: 's2', x: 1.25, y: -2 }, change);
    const through = aimed.steps.find(({ surface }) => surface === 's2')!;
    expect(through.local[0]).to.be.closeTo(1.25, 1e-9);
    expect(through.local[1]).to.be.closeTo(-2, 1e-9);
    expect(aimed.startDirection[1] / aimed.startDirection[2]).to.be.closeTo(Math.tan(Math.PI / 36), 1e-12);
    const chief = inspect(lens, { kind: 'pupil', field: 'f', px: 0, py: 0 }, change);
    const stop = chief.steps.find(({ surface }) => surface === 's3')!;
    expect(Math.hypot(stop.local[0], stop.local[1])).to.be.below(1e-9);
  });

  it('keeps directions in both frames through folds', () => {
    const { steps } = inspect([{ t: 20 }, { n: 'mirror', t: -30, frame: { tx: 45, axis: 'reflect' } }], launched(0, 0));
    const rounded = steps[1].globalDirection.map((part) => Math.round(part * 1e12) / 1e12 + 0);
    expect(rounded).to.deep.equal([0, 1, 0]);
    expect(steps[1].flux).to.equal(1);
    expect(steps[1].incidence).to.be.closeTo(45, 1e-12);
  });
});
