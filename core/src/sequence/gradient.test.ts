import { expect } from 'chai';
import fc from 'fast-check';
import { RAY_STATUS, rayBlock } from '../compute/ray-block.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens, Medium, Project } from '../project/model.ts';
import { Aimer } from './aiming.ts';
import { rayPaths } from './extents.ts';
import { launchPupil } from './launch.ts';
import { traceOne } from './fixtures.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { firstOrder, paraxialRay } from './paraxial.ts';
import { traceBlock } from './trace.ts';

/** A lens with gradients behind some of its surfaces. */
function projectOf(
  surfaces: readonly Quick[],
  gradients: Readonly<Record<string, NonNullable<Medium['gradient']>>>,
  change: Partial<Lens> = {},
): Project {
  const edits = Object.entries(gradients).map(([id, value]) => ({
    kind: 'set' as const,
    path: `lenses.lens.surfaces.${id}.after.gradient`,
    value,
  }));
  return applyEdits(quickProject(surfaces, change), edits).project;
}

function modelOf(...given: Parameters<typeof projectOf>): LensModel {
  const project = projectOf(...given);
  return compileLens(project, project.lenses[0]);
}

type Triple = readonly [number, number, number];

const N0 = 1.6;
const G = 0.15; // 1/mm
const ROD = { r2: -N0 * N0 * G * G };

describe('gradient-index media', () => {
  it('bend rays in a rod n² = n₀²(1 − g²r²) along their exact way, skew ones too', () => {
    const length = 37;
    const model = modelOf([{ t: length, n: N0 }, { t: 0 }], { s1: ROD });
    for (const [x, y, l, m] of [
      [0, 1, 0, 0],
      [0.4, 1.2, 0, 0.2],
      [1, -0.5, 0.15, 0.1],
      [0, 0, 0, 0.5],
    ]) {
      const ray = traceOne(model, [x, y, 0], [l, m, Math.sqrt(1 - l * l - m * m)]);
      // In the rod T = n d; across, it keeps what it had in air; along z, √(n² − T²) at the entry, for ever.
      const square = N0 * N0 * (1 - G * G * (x * x + y * y));
      const along = Math.sqrt(square - l * l - m * m);
      const [rate, tau] = [N0 * G, length / along];
      const at = (r: number, t: number) => r * Math.cos(rate * tau) + (t / rate) * Math.sin(rate * tau);
      expect(ray.place[0]).to.be.closeTo(at(x, l), 1e-9);
      expect(ray.place[1]).to.be.closeTo(at(y, m), 1e-9);
      // Out into air: the part across stays again.
      const slope = (r: number, t: number) => t * Math.cos(rate * tau) - r * rate * Math.sin(rate * tau);
      expect(ray.direction[0]).to.be.closeTo(slope(x, l), 1e-9);
      expect(ray.direction[1]).to.be.closeTo(slope(y, m), 1e-9);
      // ∫n²dτ with n² = n₀² − rate² r²
      const part = (r: number, t: number) => {
        const [c, s] = [r, t / rate];
        const whole = ((c * c + s * s) * tau) / 2;
        const swing = ((c * c - s * s) * Math.sin(2 * rate * tau)) / (4 * rate);
        return whole + swing + (c * s * Math.sin(rate * tau) ** 2) / rate;
      };
      const path = N0 * N0 * tau - rate * rate * (part(x, l) + part(y, m));
      expect(ray.path).to.be.closeTo(path, 1e-9);
    }
  });

  it('bend rays in an axial gradient into parabolas', () => {
    const [rise, length] = [0.03, 12];
    const model = modelOf([{ t: length, n: N0 }, { t: 0 }], { s1: { z1: rise } });
    const m = 0.4;
    const ray = traceOne(model, [0, 1, 0], [0, m, Math.sqrt(1 - m * m)]);
    // z = Tz τ + rise τ²/4
    const along = Math.sqrt(N0 * N0 - m * m);
    const tau = (2 * (-along + Math.sqrt(along * along + rise * length))) / rise;
    expect(ray.place[1]).to.be.closeTo(1 + m * tau, 1e-10);
    expect(ray.direction[1]).to.be.closeTo(m, 1e-12);
    const path = N0 * N0 * tau + rise * ((along * tau * tau) / 2 + (rise * tau ** 3) / 12);
    expect(ray.path).to.be.closeTo(path, 1e-9);
  });

  it('end on curved and tilted surfaces', () => {
    const model = modelOf(
      [
        { r: 20, t: 8, n: N0 },
        { r: -30, t: 5, frame: { tx: 4 } },
      ],
      { s1: { ...ROD, z1: 0.02 } },
    );
    const rays = rayBlock(1);
    [rays.x[0], rays.y[0], rays.z[0], rays.n[0]] = [0.3, 2, -5, 1];
    let place: Triple = [NaN, NaN, NaN];
    traceBlock(model, rays, 1, 0, {
      clip: false,
      visit: (j, part) => {
        if (j === 1) place = [part.x[0], part.y[0], part.z[0]];
      },
    });
    expect(place[2]).to.be.closeTo(model.surfaces[1].shape.sag(place[0], place[1]), 1e-12);
  });

  it('lead light back the way it came', () => {
    const gradient = { r2: -0.04, r4: 1e-4, z1: 0.02 };
    const length = 8;
    const model = modelOf(
      [
        { r: 20, t: length, n: N0 },
        { r: -30, t: 5 },
      ],
      { s1: gradient },
    );
    // Seen from behind, n² = n₀² + z₁L − z₁z + …, and the radii change places and signs.
    const behind = Math.sqrt(N0 * N0 + gradient.z1 * length);
    const turned = modelOf(
      [
        { r: 30, t: length, n: behind },
        { r: -20, t: 5 },
      ],
      {
        s1: { ...gradient, z1: -gradient.z1 },
      },
    );
    const there = traceOne(model, [0.3, 2, -5], [0.02, 0.05, 1]);
    const [x, y] = there.place;
    const [l, m, n] = there.direction;
    const back = traceOne(turned, [x, y, -5], [-l, -m, n]);
    expect(back.place[0]).to.be.closeTo(0.3, 1e-9);
    expect(back.place[1]).to.be.closeTo(2, 1e-9);
    expect(back.path).to.be.closeTo(there.path, 1e-9);
  });

  it('take light back through a mirror at their end the way it came', () => {
    // A quarter pitch and a mirror: parallel light comes back parallel, from the other side of the axis.
    const quarter = Math.PI / 2 / G;
    const model = modelOf([{ t: quarter, n: N0 }, { n: 'mirror', t: -quarter }, { t: -1 }], { s1: ROD });
    expect(model.surfaces[1].gradient).to.not.equal(null);
    const ray = traceOne(model, [0, 0.01, 0], [0, 0, 1]);
    expect(ray.status).to.equal(RAY_STATUS.alive);
    expect(ray.place[1]).to.be.closeTo(-0.01, 1e-8);
    expect(ray.direction[1]).to.be.closeTo(0, 1e-8);
    const paraxial = paraxialRay(model, 0, 0.01, 0);
    expect(paraxial.y[2]).to.be.closeTo(-0.01, 1e-14);
  });

  it('have the first order of their closed forms: a rod of a quarter pitch has f = 1/(n₀g)', () => {
    for (const part of [0.2, 0.5, 1, 1.4]) {
      const length = (part * Math.PI) / 2 / G;
      const model = modelOf([{ t: length, n: N0 }, { t: 10 }], { s1: ROD });
      const data = firstOrder(model, 0);
      if (!data.ok) throw new Error(data.reason);
      expect(data.value.power).to.be.closeTo(N0 * G * Math.sin(G * length), 1e-13);
      expect(data.value.backFocalDistance).to.be.closeTo(1 / (N0 * G * Math.tan(G * length)), 1e-11);
    }
  });

  it('have a paraxial trace that real rays near the axis agree with, axial and radial together', () => {
    const gradient = { r2: -0.02, r4: 1e-4, z1: 0.03, z2: -1e-3 };
    const model = modelOf(
      [
        { r: 15, t: 9, n: N0 },
        { r: -40, t: 20 },
      ],
      { s1: gradient },
    );
    const h = 1e-5;
    const ray = traceOne(model, [0, h, 0], [0, 0, 1]);
    const paraxial = paraxialRay(model, 0, h, 0);
    expect(ray.place[1] / h).to.be.closeTo(paraxial.y[2] / h, 1e-6);
    const axial = modelOf(
      [
        { r: 15, t: 9, n: N0 },
        { r: -40, t: 20 },
      ],
      { s1: { z1: 0.03, z3: 1e-4 } },
    );
    expect(traceOne(axial, [0, h, 0], [0, 0, 1]).place[1] / h).to.be.closeTo(
      paraxialRay(axial, 0, h, 0).y[2] / h,
      1e-6,
    );
  });

  it('give every ray an end, whatever their numbers', () => {
    const number = (size: number) => fc.double({ min: -size, max: size, noNaN: true });
    fc.assert(
      fc.property(
        fc.record({ r2: number(0.5), r4: number(0.1), z1: number(1), z4: number(0.1) }),
        number(50),
        fc.integer({ min: -60, max: 60 }),
        (gradient, t, radius) => {
          const model = modelOf([{ r: 20, t, n: 1.5 }, { r: radius || Infinity, t: 5, n: 'mirror' }, { t: 3 }], {
            s1: gradient,
          });
          for (const [x, y, m] of [
            [0, 0, 0],
            [3, -2, 0.3],
            [0.5, 9, -0.8],
          ] as const) {
            const ray = traceOne(model, [x, y, -5], [0, m, 1]);
            for (const value of [...ray.place, ...ray.direction, ray.path])
              if (!Number.isFinite(value)) throw new Error(`not a number, with status ${ray.status}`);
          }
        },
      ),
      { seed: 5, numRuns: 150 },
    );
  });

  it('say why a ray does not get through, and draw its bent way where it does', () => {
    const weak = modelOf([{ t: 40, n: 1.2 }, { t: 0 }], { s1: { r2: -0.5 } });
    // Near the rim it comes in flatter than n = 1 lets it out again: at the far face it swings back to the axis, steep.
    expect(traceOne(weak, [0, 1.69, 0], [0, 0, 1]).status).to.equal(RAY_STATUS.totalReflection);
    expect(traceOne(weak, [0, 5, 0], [0, 0, 1]).status).to.equal(RAY_STATUS.noIndex);
    const project = projectOf(
      [{ t: 40, n: N0 }, { t: 5 }],
      { s1: ROD },
      { aperture: { kind: 'entrance_pupil_diameter', value: 2 } },
    );
    const model = compileLens(project, project.lenses[0]);
    const data = firstOrder(model, 0);
    if (!data.ok) throw new Error(data.reason);
    const pupil = launchPupil(model, data.value);
    if (!pupil.ok) throw new Error(pupil.reason);
    const request = { field: model.lens.fields.points[0], wave: 0, px: [0], py: [1] };
    const [rim] = rayPaths(new Aimer(model, pupil.value), request, false);
    const heights = [...rim.points].filter((_, i) => i % 3 === 1);
    expect(heights.length).to.be.above(20);
    expect(Math.min(...heights)).to.be.closeTo(-1, 1e-2); // half a pitch later it is on the other side
  });
});
