import { expect } from 'chai';
import { RAY_STATUS } from '../compute/ray-block.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Lens } from '../project/model.ts';
import { traceOne } from './fixtures.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { firstOrder } from './paraxial.ts';

const RADIANS = Math.PI / 180;
const WAVE = 587.5618e-6; // mm, of the test lens

function modelOf(surfaces: readonly Quick[], change: Partial<Lens> = {}): LensModel {
  const project = quickProject(surfaces, change);
  return compileLens(project, project.lenses[0]);
}

/** Radial error where rays from an axial point, `z` from the vertex, meet the image surface, and the spread of their paths. */
function stigmatism(model: LensModel, z: number, sines: readonly number[]) {
  let error = 0;
  const paths = sines.map((sine) => {
    const ray = traceOne(model, [0, 0, z], [sine * 0.6, sine * 0.8, Math.sqrt(1 - sine * sine)]);
    expect(ray.status, `sine ${sine}`).to.equal(RAY_STATUS.alive);
    error = Math.max(error, Math.hypot(ray.place[0], ray.place[1]));
    return ray.path;
  });
  return { error, spread: Math.max(...paths) - Math.min(...paths) };
}

describe('closed forms of tracing', () => {
  it('an ellipsoid of glass brings parallel light to one point: k = −1/n²', () => {
    const n = 1.6;
    const radius = 30;
    const model = modelOf([{ r: radius, k: -1 / (n * n), t: (n * radius) / (n - 1), n }]);
    const paths = [0, 2, 5, 9, 13].map((y) => {
      const ray = traceOne(model, [y * 0.6, y * 0.8, -20], [0, 0, 1]);
      expect(Math.hypot(ray.place[0], ray.place[1])).to.be.below(1e-12);
      return ray.path;
    });
    paths.forEach((path) => expect(path).to.be.closeTo(paths[0], 1e-12));
  });

  it('an ellipsoidal mirror images one focus onto the other', () => {
    // a = 50, b = 30: foci ±40 from the centre; the vertex at the right end, its radius b²/a = 18.
    const mirror = modelOf([{ r: -18, k: -0.64, t: -90, n: 'mirror' }]);
    const sines = [0.05, 0.2, 0.5, 0.8, 0.95];
    const { error, spread } = stigmatism(mirror, -10, sines);
    expect(error).to.be.below(1e-12);
    expect(spread).to.be.below(1e-12);
  });

  it('a sphere images its aplanatic points onto each other, with the sines in one ratio', () => {
    // Light from inside, R(1 + 1/n) before the vertex, seems to come from R(1 + n) (M. Born and E. Wolf, 4.2.3).
    const [n, R] = [1.5, 10];
    const model = modelOf([{ r: -R, t: -R * (1 + n), n: 1 }]);
    model.indices[0][0] = n;
    for (const sine of [0.1, 0.3, 0.5, 0.6]) {
      const ray = traceOne(model, [0, 0, -R * (1 + 1 / n)], [0, sine, Math.sqrt(1 - sine * sine)]);
      expect(Math.abs(ray.place[1])).to.be.below(1e-13);
      expect(ray.direction[1] / sine).to.be.closeTo(1 / n, 1e-14);
    }
  });

  it('a Cartesian oval as an even asphere is stigmatic to the order of its terms', () => {
    // n√(r² + z²)-type oval: object 100 in air before the vertex, image 90 behind it in glass.
    const [n, s, t] = [1.5, 100, 90];
    const sag = (u: number) => {
      let z = (u * (1 / s + n / t)) / (2 * (n - 1)); // paraxial start
      for (let step = 0; step < 60; step++) {
        const front = Math.sqrt(u + (s + z) ** 2);
        const behind = Math.sqrt(u + (t - z) ** 2);
        z -= (front + n * behind - s - n * t) / ((s + z) / front - (n * (t - z)) / behind);
      }
      return z;
    };
    // Coefficients of u, u² … u⁵ through five small samples, by Newton's divided differences.
    const nodes = [4, 9, 16, 25, 36];
    const coefficients = fit(
      nodes,
      nodes.map((u) => sag(u) / u),
    );
    const shape = (terms: number): Quick['shape'] => ({
      kind: 'even_asphere',
      radius: 'infinity',
      ...Object.fromEntries(coefficients.slice(0, terms).map((a, i) => [`a${2 * i + 2}`, a])),
    });
    const errorWith = (terms: number, sine: number) =>
      stigmatism(modelOf([{ shape: shape(terms)!, t, n }]), -s, [sine]).error;
    expect(errorWith(5, 0.05)).to.be.below(2e-9);
    // With two terms the error begins with r⁵: twice the aperture, 32 times the error.
    expect(errorWith(2, 0.04) / errorWith(2, 0.02)).to.be.closeTo(32, 1.5);
    expect(errorWith(3, 0.05) / errorWith(3, 0.025)).to.be.closeTo(128, 12);
  });

  it('a plane plate shifts a ray by t sin I (1 − cos I/(n cos I′))', () => {
    const [n, t] = [1.5, 10];
    const model = modelOf([{ t, n }, { t: 5 }]);
    for (const degrees of [10, 45, 80]) {
      const [sine, cosine] = [Math.sin(degrees * RADIANS), Math.cos(degrees * RADIANS)];
      const ray = traceOne(model, [0, 0, 0], [0, sine, cosine]);
      expect(ray.direction[1]).to.be.closeTo(sine, 1e-15);
      const across = 15 * sine - ray.place[1] * cosine;
      const inside = Math.sqrt(n * n - sine * sine);
      expect(across).to.be.closeTo(t * sine * (1 - cosine / inside), 1e-13);
    }
  });

  it('a prism deviates least where the ray goes through symmetrically: n sin(A/2) = sin((A + δ)/2)', () => {
    const [n, apex] = [1.5168, 60];
    // Both faces tilted by half the apex angle, in opposite directions.
    const deviation = (incidence: number) => {
      const model = modelOf([
        { t: 10, n, frame: { tx: -apex / 2 } },
        { t: 10, frame: { tx: apex / 2 } },
      ]);
      const angle = (incidence - apex / 2) * RADIANS;
      const ray = traceOne(model, [0, 0, -5], [0, -Math.sin(angle), Math.cos(angle)]);
      expect(ray.status).to.equal(RAY_STATUS.alive);
      return Math.abs(Math.atan2(ray.direction[1], ray.direction[2]) + angle) / RADIANS;
    };
    const least = (2 * Math.asin(n * Math.sin((apex / 2) * RADIANS))) / RADIANS - apex;
    const incidence = (apex + least) / 2;
    expect(deviation(incidence)).to.be.closeTo(least, 1e-12);
    for (const off of [-5, -1, 1, 5]) expect(deviation(incidence + off)).to.be.above(least);
    // At 40° of incidence, from Snell's law twice.
    const first = Math.asin(Math.sin(40 * RADIANS) / n) / RADIANS;
    const second = Math.asin(n * Math.sin((apex - first) * RADIANS)) / RADIANS;
    expect(deviation(40)).to.be.closeTo(40 + second - apex, 1e-11);
  });

  it('a fold leaves focal length and Petzval sum as they are', () => {
    const petzval = (model: LensModel) => {
      let [sum, sign] = [0, 1];
      model.surfaces.forEach(({ shape, reflects }, j) => {
        const n = sign * model.indices[0][j];
        if (reflects) sign = -sign;
        const next = sign * model.indices[0][j + 1];
        sum += shape.curvature * (1 / next - 1 / n);
      });
      return sum;
    };
    const straight: Quick[] = [{ r: 60, t: 6, n: 1.6 }, { r: -80, t: 50 }, { r: 70, t: 4, n: 1.5 }, { t: 40 }];
    const folded: Quick[] = [
      { r: 60, t: 6, n: 1.6 },
      { r: -80, t: 20 },
      { n: 'mirror', t: -30, frame: { tx: 45, axis: 'reflect' } },
      { r: -70, t: -4, n: 1.5 },
      { t: -40 },
    ];
    const [one, other] = [modelOf(straight), modelOf(folded)];
    // All of it turns its sign behind one mirror, where n does: the sum as the trade counts it is the same.
    expect(petzval(other)).to.be.closeTo(petzval(one), 1e-15);
    const focal = (model: LensModel) => {
      const data = firstOrder(model, 0);
      if (!data.ok) throw new Error(data.reason);
      return data.value.focalLength;
    };
    expect(Math.abs(focal(other))).to.be.closeTo(focal(one), 1e-11);
  });
});

describe('diffraction', () => {
  const grating = (lines: number, order: number, angle = 0) => ({ kind: 'grating', lines, order, angle }) as const;

  it('follows the grating equation into glass, out of it and at a mirror', () => {
    for (const [order, degrees] of [
      [1, 0],
      [1, 10],
      [-1, 10],
      [2, -35],
      [0, 20],
    ] as const) {
      const sine = Math.sin(degrees * RADIANS);
      const expected = sine + order * WAVE * 600;
      for (const [n, behind] of [
        [1, 1],
        [1.5, 1.5],
        ['mirror', 1],
      ] as const) {
        const model = modelOf([{ t: n === 'mirror' ? -5 : 5, n, phase: grating(600, order) }]);
        const ray = traceOne(model, [0, 0, 0], [0, sine, Math.cos(degrees * RADIANS)]);
        expect(ray.direction[1]).to.be.closeTo(expected / behind, 1e-14);
        expect(Math.sign(ray.direction[2])).to.equal(n === 'mirror' ? -1 : 1);
        expect(Math.hypot(...ray.direction)).to.be.closeTo(1, 1e-15);
      }
    }
  });

  it('spreads conically: only the part across the lines changes', () => {
    const model = modelOf([{ t: 5, phase: grating(300, 1, 90) }]);
    const ray = traceOne(model, [0, 0, 0], [0.1, 0.2, Math.sqrt(0.95)]);
    expect(ray.direction[0]).to.be.closeTo(0.1 + 300 * WAVE, 1e-14);
    expect(ray.direction[1]).to.be.closeTo(0.2, 1e-15);
  });

  it('says where an order does not exist', () => {
    const model = modelOf([{ t: 5, phase: grating(2000, 1) }]);
    expect(traceOne(model, [0, 0, 0], [0, 0, 1]).status).to.equal(RAY_STATUS.noOrder);
  });

  it('adds up the path of the waves: a grating turns a plane wave into a plane wave', () => {
    const model = modelOf([{ t: 20, phase: grating(400, 1) }]);
    const sine = 400 * WAVE;
    // Along the normal of the new wave all paths are the same.
    const level = [-3, 0, 4].map((y) => {
      const ray = traceOne(model, [0, y, -1], [0, 0, 1]);
      return ray.path - ray.place[1] * sine;
    });
    level.forEach((value) => expect(value).to.be.closeTo(level[0], 1e-13));
  });

  it('of rings is a lens: parallel light meets in a point where the phase is that of a sphere', () => {
    // φ = −(√(f² + r²) − f)/λ, expanded to r¹⁰; its power is the paraxial one.
    const f = 200;
    const series = [-1 / 2, 1 / 8, -1 / 16, 5 / 128, -7 / 256].map((a, i) => (a * f ** (-1 - 2 * i)) / WAVE);
    const rings = {
      kind: 'kinoform',
      ...Object.fromEntries(series.map((p, i) => [`p${2 * i + 2}`, p])),
    } as const;
    const model = modelOf([{ t: f, phase: rings }]);
    const paths = [0, 3, 7, 10].map((y) => {
      const ray = traceOne(model, [y * 0.6, y * 0.8, 0], [0, 0, 1]);
      expect(Math.hypot(ray.place[0], ray.place[1])).to.be.below(1e-9);
      return ray.path;
    });
    paths.forEach((path) => expect(path).to.be.closeTo(paths[0], 1e-9));
    const data = firstOrder(model, 0);
    expect(data.ok && data.value.focalLength).to.be.closeTo(f, 1e-9);
  });
});

describe('an ideal thin lens', () => {
  const lens = (extra: object = {}): Quick['shape'] => ({ kind: 'ideal_lens', focal_length: 50, ...extra });

  it('images every point of a plane to one point, with equal paths', () => {
    const model = modelOf([{ shape: lens({ object: 80 })!, t: 400 / 3 }]); // 1/80 + 3/400 = 1/50
    for (const point of [
      [0, 0, -80],
      [10, -25, -80],
    ] as const) {
      const rays = [
        [0, 0],
        [9, 4],
        [-12, 20],
      ].map(([x, y]) => traceOne(model, point, [x - point[0], y - point[1], 80]));
      for (const { place, path } of rays) {
        expect(place[0]).to.be.closeTo((-point[0] * 5) / 3, 1e-12);
        expect(place[1]).to.be.closeTo((-point[1] * 5) / 3, 1e-12);
        expect(path).to.be.closeTo(rays[0].path, 1e-12);
      }
    }
  });

  it('takes far objects and virtual images, glass after it, and mirrors', () => {
    const far = modelOf([{ shape: lens()!, t: 50 }]);
    const [a, b] = [
      [3, 4],
      [-10, 7],
    ].map(([x, y]) => {
      // all from one plane wave: the way to the lens begins on it
      const ray = traceOne(far, [x, y, 0], [0.1, -0.2, 1]);
      return { ...ray, path: ray.path + (0.1 * x - 0.2 * y) / Math.hypot(0.1, 0.2, 1) };
    });
    expect(a.place[0]).to.be.closeTo(5, 1e-12);
    expect(a.place[1]).to.be.closeTo(-10, 1e-12);
    expect(b.place[0]).to.be.closeTo(5, 1e-12);
    expect(a.path).to.be.closeTo(b.path, 1e-12);
    const glass = modelOf([{ shape: lens()!, t: 75, n: 1.5 }]);
    expect(traceOne(glass, [0, 10, 0], [0, 0, 1]).place[1]).to.be.closeTo(0, 1e-13);
    const mirror = modelOf([{ shape: lens({ object: 80 })!, t: -400 / 3, n: 'mirror' }]);
    for (const y of [0, 8, -15])
      expect(traceOne(mirror, [0, 3, -80], [0, y - 3, 80]).place[1]).to.be.closeTo(-5, 1e-12);
    for (const model of [far, glass, mirror]) {
      const data = firstOrder(model, 0);
      expect(data.ok && data.value.focalLength).to.be.closeTo(50, 1e-12);
    }
  });
});

describe('a Fresnel surface', () => {
  it('turns rays as the surface it stands for, from its plane', () => {
    const [radius, n] = [60, 1.5];
    const model = modelOf([{ shape: { kind: 'fresnel', radius, conic: -1 }, t: 0, n }, { t: 120 }]);
    for (const y of [1, 10, 25]) {
      const ray = traceOne(model, [0, y, 0], [0, 0, 1]);
      // The slope of a paraboloid is y/R; by Snell at the facet and at the plane behind.
      const facet = Math.atan(y / radius);
      const inside = facet - Math.asin(Math.sin(facet) / n);
      expect(ray.direction[1]).to.be.closeTo(-n * Math.sin(inside), 1e-14);
    }
    const data = firstOrder(model, 0);
    expect(data.ok && data.value.focalLength).to.be.closeTo(120, 1e-12);
  });
});

/** Coefficients of the polynomial through points, from the constant one up. */
function fit(nodes: readonly number[], values: readonly number[]): number[] {
  const divided = [...values];
  for (let level = 1; level < nodes.length; level++)
    for (let i = nodes.length - 1; i >= level; i--)
      divided[i] = (divided[i] - divided[i - 1]) / (nodes[i] - nodes[i - level]);
  let sum = [0];
  for (let i = nodes.length - 1; i >= 0; i--) {
    const next = [0, ...sum];
    sum.forEach((value, k) => (next[k] -= nodes[i] * value));
    next[0] += divided[i];
    sum = next;
  }
  return sum.slice(0, nodes.length);
}
