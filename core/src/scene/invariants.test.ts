import { expect } from 'chai';
import fc from 'fast-check';
import type { Part, Source } from '../project/scene.ts';
import { detector, glassOf, part, sceneOf, source } from './fixtures.ts';
import { traceAll } from './run.ts';
import type { SceneModel } from './scene-model.ts';
import { detectorNumbers } from './statistics.ts';
import { SceneTracer, type Stretch } from './tracer.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const tilt = fc.record({ tx: number(-40, 40), ty: number(-40, 40) });

/** Clear bodies on the way from one disc to another. */
const between = fc.oneof(
  fc.record({ kind: fc.constant('sphere' as const), radius: number(2, 6) }),
  fc.record({
    kind: fc.constant('box' as const),
    width: number(6, 14),
    height: number(6, 14),
    thickness: number(1, 6),
  }),
  fc.record({
    kind: fc.constant('cone' as const),
    front: number(3, 6),
    back: number(1, 6),
    length: number(2, 6),
  }),
  fc.record({ kind: fc.constant('cylinder' as const), radius: number(3, 7), length: number(1, 6) }),
  fc.record({ kind: fc.constant('torus' as const), ring: number(4, 6), tube: number(1, 3) }),
  fc.record({
    kind: fc.constant('prism' as const),
    apex: number(20, 60),
    side: number(8, 14),
    length: number(8, 14),
  }),
);

describe('Reciprocity', () => {
  it('as much goes from one Lambertian disc to another as comes back, through any glass, loss and white wall', () => {
    fc.assert(
      fc.property(between, tilt, number(0, 0.1), fc.integer({ min: 1, max: 1e6 }), (body, turn, loss, seed) => {
        const things: readonly Part[] = [
          part('thing', body, { material: 'glass', frame: { ...turn, dz: 10 } }),
          part(
            'wall',
            { kind: 'sheet', width: 30, height: 30 },
            { frame: { dx: 12, dz: 10, ty: 90 }, finish: 'white' },
          ),
        ];
        const run = (from: number, to: number, ahead: boolean) => {
          const [at, target] = ahead ? [0, 30] : [30, 0];
          const lamp: Source = source({
            region: { kind: 'disc', radius: from },
            law: { kind: 'lambertian', half: 90 },
            frame: { dz: at, ...(ahead ? {} : { ty: 180 }) },
          });
          const model = sceneOf({
            materials: [glassOf(1.6, loss)],
            finishes: [{ id: 'white', name: 'white', optics: { kind: 'paint', reflectance: 0.8 } }],
            parts: [...things, part('target', { kind: 'disc', radius: to }, { frame: { dz: target } })],
            sources: [lamp],
            detectors: [detector({ kind: 'face', part: 'target', face: 'face' })],
            sampling: { splitting: 'one', threshold: 1e-3, seed },
          });
          const tally = traceAll(model, 6000);
          expect(tally.mishaps).to.deep.equal([]);
          return detectorNumbers(model.detectors[0], tally.detectors[0], tally.chunks).flux;
        };
        const [there, back] = [run(3, 2, true), run(2, 3, false)];
        const [a, b] = [there.value * 9, back.value * 4];
        const error = Math.hypot(there.standardError * 9, back.standardError * 4);
        // Thirty comparisons of two sampled numbers: five standard errors leave out one in fifty thousand.
        expect(Math.abs(a - b), `${a} and ${b} ± ${error}`).to.be.at.most(5 * error);
      }),
      { numRuns: 30 },
    );
  });
});

describe('Étendue', () => {
  /** Where the light that is never reflected crosses z = 40, with its direction cosines; null where there is none. */
  function map(model: SceneModel, [x, y, L, M]: readonly number[]): number[] | null {
    let best: Stretch | null = null;
    const tracer = new SceneTracer(model, {
      watch: (stretch) => {
        if (stretch.face === -1 && stretch.share > 0.3) best = stretch;
      },
    });
    tracer.follow({ at: [x, y, 0], direction: [L, M, Math.sqrt(1 - L * L - M * M)], wave: 0 });
    if (!best) return null;
    const { from, to } = best as Stretch;
    const span = from.map((value, axis) => to[axis] - value);
    const length = Math.hypot(...span);
    const [l, m, n] = span.map((value) => value / length);
    const t = (40 - from[2]) / n;
    return n > 0.1 ? [from[0] + t * l, from[1] + t * m, l, m] : null;
  }

  it('the map of rays through any bodies keeps dx dy dL dM', () => {
    let looked = 0;
    fc.assert(
      fc.property(
        between,
        tilt,
        fc.tuple(number(-2, 2), number(-2, 2), number(-0.2, 0.2), number(-0.2, 0.2)),
        (body, turn, ray) => {
          const model = sceneOf({
            parts: [part('thing', body, { material: 'glass', frame: { ...turn, dz: 12 } })],
            sources: [source()],
            sampling: { threshold: 0.3 },
          });
          const h = [2e-4, 2e-4, 2e-5, 2e-5];
          const columns = ray.map((_, k) => {
            const [ahead, behind] = [1, -1].map((side) =>
              map(
                model,
                ray.map((value, i) => value + (i === k ? side * h[k] : 0)),
              ),
            );
            return ahead && behind ? ahead.map((value, i) => (value - behind[i]) / (2 * h[k])) : null;
          });
          fc.pre(columns.every((column) => column !== null && column.every((value) => Math.abs(value) < 200)));
          const det = determinant(columns as number[][]);
          // A ray that meets an edge on one side of the difference is none of this.
          fc.pre(Math.abs(det) < 50);
          if (Math.abs(Math.abs(det) - 1) > 1e-3) {
            const smooth = columns.every((_, k) => smoothAt(model, ray, k, h[k]));
            fc.pre(smooth);
          }
          looked++;
          expect(Math.abs(det)).to.be.closeTo(1, 1e-3);
        },
      ),
      { numRuns: 120 },
    );
    expect(looked).to.be.above(60);
  });

  /** Whether the map bends gently between a ray and its neighbours: no edge lies between them. */
  function smoothAt(model: SceneModel, ray: readonly number[], k: number, h: number): boolean {
    const [a, b, c] = [-1, 0, 1].map((side) =>
      map(
        model,
        ray.map((value, i) => value + (i === k ? side * h : 0)),
      ),
    );
    return Boolean(
      a && b && c && b.every((value, i) => Math.abs(a[i] + c[i] - 2 * value) < 1e-3 * Math.abs(a[i] - c[i]) + 1e-9),
    );
  }

  function determinant(m: readonly (readonly number[])[]): number {
    const a = m.map((row) => [...row]);
    let det = 1;
    for (let k = 0; k < 4; k++) {
      const pivot = [k, k + 1, k + 2, k + 3]
        .filter((i) => i < 4)
        .sort((i, j) => Math.abs(a[j][k]) - Math.abs(a[i][k]))[0];
      if (pivot !== k) {
        [a[k], a[pivot]] = [a[pivot], a[k]];
        det = -det;
      }
      det *= a[k][k];
      for (let i = k + 1; i < 4; i++) {
        const factor = a[i][k] / a[k][k];
        for (let j = k; j < 4; j++) a[i][j] -= factor * a[k][j];
      }
    }
    return det;
  }
});
