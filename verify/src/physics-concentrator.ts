import { concentratorSizes, type Part } from '@ulvex/core';
import type { Found, PhysicsCase } from './judge-physics.ts';
import { GLASS, on, radians, sampled, type Sampled } from './physics-bench.ts';

/** Flat pieces that each wall of the trough is made of. */
const WALL_PIECES = 240;

/**
 * The share of even light from the whole half-space at the mouth of a trough between two tilted parabolas, perfect mirrors at its ends,
 * that comes to its exit: the sine of its acceptance, one over the concentration.
 *
 * @param theta - its acceptance, rad: of a filled one that inside of the glass
 */
function exitShare(aPrime: number, theta: number, filled: boolean): Sampled {
  const focus = aPrime * (1 + Math.sin(theta));
  const wall = Array.from({ length: WALL_PIECES + 1 }, (_, i): [number, number] => {
    const phi = Math.PI / 2 + theta + (i / WALL_PIECES) * (theta - Math.PI / 2);
    const r = (2 * focus) / (1 - Math.cos(phi));
    return [r * Math.sin(phi - theta) - aPrime, r * Math.cos(phi - theta)];
  });
  const [mouth, height] = wall[WALL_PIECES];
  const outside = mouth + 1;
  const long = 8;
  const left = (points: readonly [number, number][]) => points.map(([x, y]): [number, number] => [-x, y]).reverse();
  const bar = (id: string, points: readonly [number, number][], more: Partial<Part>): Part => ({
    id,
    body: { kind: 'extruded', points, length: long },
    frame: { dz: -long / 2 },
    ...more,
  });
  const hollow = (): Part[] => {
    const profile: [number, number][] = [...wall, [outside, height], [outside, 0]];
    const mirror = { finish: 'mirror' };
    return [bar('right', profile, mirror), bar('left', left(profile), mirror)];
  };
  const solid = (): Part[] => {
    const profile = [...wall, ...left(wall)];
    const [exit, open] = [profile.length, WALL_PIECES + 1];
    const faces = { [`wall_${exit}`]: { finish: 'absorber' }, [`wall_${open}`]: { finish: 'absorber' } };
    return [bar('glass', profile, { material: 'glass', finish: 'mirror', faces })];
  };
  const end = (id: string, dz: number): Part => ({
    id,
    body: { kind: 'sheet', width: 4 * outside, height: 4 * height },
    finish: 'mirror',
    frame: { dz },
  });
  const exit: Part = {
    id: 'target',
    body: { kind: 'sheet', width: 2 * aPrime, height: long },
    frame: { tx: 90, dy: filled ? 1e-6 : -1e-6 },
  };
  return sampled({
    parts: [...(filled ? solid() : [...hollow(), end('near', -long / 2), end('far', long / 2)]), exit],
    materials: [GLASS],
    sources: [
      {
        // Downward from a hair under the mouth, between the mirrors of its ends.
        region: { kind: 'rectangle', width: 2 * mouth * (1 - 1e-9), height: long * (1 - 1e-9) },
        law: { kind: 'lambertian', half: 90 },
        frame: { dy: height * (1 - 1e-9), tx: 90 },
      },
    ],
    detectors: [on('target')],
    sampling: { threshold: 0, events: 200 },
  });
}

const inverse = ({ value, error, honest }: Sampled): Sampled => ({
  value: 1 / value,
  error: error / value ** 2,
  honest,
});

/** Concentration of a hollow trough and of one filled with glass, which takes the same cone of air in. */
export function trough({ inputs }: PhysicsCase): Found {
  const { aPrime, thetaDeg } = inputs as { aPrime: number; thetaDeg: number };
  const sine = Math.sin(radians(thetaDeg));
  const sizes = concentratorSizes(aPrime, thetaDeg);
  return {
    a: sizes.mouth,
    L: sizes.length,
    f: sizes.focus,
    C3D: sizes.concentration,
    C2D: inverse(exitShare(aPrime, radians(thetaDeg), false)),
    C2D_n1p5_filled: inverse(exitShare(aPrime, Math.asin(sine / 1.5), true)),
  };
}
