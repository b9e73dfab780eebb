import { expect } from 'chai';
import fc from 'fast-check';
import { BOXES_KERNEL_BYTES } from '../compute/boxes-kernel.generated.ts';
import { compileKernel } from '../compute/wasm.ts';
import { boxSorter, plainSorter } from './box-sorter.ts';
import { MeshFace } from './mesh-face.ts';
import { ball, block } from './mesh-fixtures.ts';
import { meshRecord, readyMesh } from './mesh-record.ts';
import { MeshTree } from './mesh-tree.ts';
import { TriangleMesh } from './triangle-mesh.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
/** On a grid, so that corners, edges and whole triangles coincide now and then. */
const place = fc.integer({ min: -20, max: 20 }).map((step) => step / 4);
const direction = fc.tuple(number(-1, 1), number(-1, 1), number(-1, 1)).filter((d) => Math.hypot(...d) > 0.1);

/** Distances to all triangles, one after the other. */
function bruteForce(
  corners: ArrayLike<number>,
  triangles: Uint32Array,
  o: readonly number[],
  d: readonly number[],
): number[] {
  const found: number[] = [];
  for (let i = 0; i < triangles.length; i += 3) {
    const at = (k: number) => [0, 1, 2].map((axis) => corners[3 * triangles[i + k] + axis]);
    const [a, b, c] = [at(0), at(1), at(2)];
    const u = b.map((value, k) => value - a[k]);
    const v = c.map((value, k) => value - a[k]);
    const s = o.map((value, k) => value - a[k]);
    // s + t d = p u + q v by Cramer's rule.
    const det3 = (p: readonly number[], q: readonly number[], r: readonly number[]) =>
      p[0] * (q[1] * r[2] - q[2] * r[1]) - p[1] * (q[0] * r[2] - q[2] * r[0]) + p[2] * (q[0] * r[1] - q[1] * r[0]);
    const minus = d.map((value) => -value);
    const whole = det3(minus, u, v);
    if (Math.abs(whole) < 1e-9) continue; // along the triangle
    const [t, p, q] = [det3(s, u, v) / whole, det3(minus, s, v) / whole, det3(minus, u, s) / whole];
    if (p >= 0 && q >= 0 && p + q <= 1 && t >= 0) found.push(t);
  }
  return found.sort((x, y) => x - y);
}

describe('The tree of a mesh', () => {
  it('leaves no triangle out, whatever lies about', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(place, { minLength: 9, maxLength: 9 }), { minLength: 1, maxLength: 80 }),
        fc.array(fc.tuple(fc.tuple(number(-9, 9), number(-9, 9), number(-9, 9)), direction), {
          minLength: 5,
          maxLength: 5,
        }),
        (soup, lines) => {
          const corners = Float64Array.from(soup.flat());
          const all = Uint32Array.from({ length: corners.length / 3 }, (_, i) => i);
          const mesh = new TriangleMesh(corners, all);
          if (mesh.triangles.length === 0) return;
          for (const [o, way] of lines) {
            const d = way.map((value) => value / Math.hypot(...way));
            const found = mesh.meet(o[0], o[1], o[2], d[0], d[1], d[2], 0).map(({ t }) => t);
            for (const t of bruteForce(corners, mesh.triangles, o, d))
              expect(Math.min(...found.map((one) => Math.abs(one - t))), `${t}`).to.be.below(1e-7 * (1 + t));
          }
        },
      ),
    );
  });

  it('is the same whether its boxes are sorted by the kernel or by TypeScript', () => {
    const { corners, triangles } = ball(24, 31, (theta, phi) => 10 + Math.sin(3 * theta) * Math.cos(5 * phi));
    const [a, b] = [boxSorter, plainSorter].map((sorter) => new MeshTree(corners, triangles, sorter));
    expect(compileKernel(BOXES_KERNEL_BYTES), 'the kernel').to.not.equal(null);
    expect(a.refs).to.deep.equal(b.refs);
    expect(a.ids).to.deep.equal(b.ids);
    expect(a.boxes).to.deep.equal(b.boxes);
  });

  it('is built of triangles whose middles all lie in one place', () => {
    const sides = Array.from({ length: 300 }, (_, i) => 2 ** (i / 100));
    const corners = Float64Array.from(sides.flatMap((a) => [-a, -a, 0, a, -a, 0, 0, a, 0]));
    const triangles = Uint32Array.from({ length: 900 }, (_, i) => i);
    expect(new TriangleMesh(corners, triangles).meet(0.2, 0.2, -1, 0, 0, 1, 0)).to.have.length(300);
  });
});

describe('A mesh', () => {
  it('has the volume and area of what it is', () => {
    const { corners, triangles } = block(2, 3, 5);
    const mesh = new TriangleMesh(Float64Array.from(corners), triangles);
    expect(mesh.volume).to.be.closeTo(30, 1e-12);
    expect(mesh.area).to.be.closeTo(2 * (6 + 10 + 15), 1e-12);
    expect(mesh.closed).to.equal(true);
    expect(mesh.faults).to.deep.equal([]);
  });

  it('that is inside out is turned', () => {
    const { corners, triangles } = block(2, 3, 5);
    for (let i = 0; i < triangles.length; i += 3) triangles.subarray(i, i + 3).reverse();
    const face = new MeshFace(new TriangleMesh(Float64Array.from(corners), triangles));
    const [out, normal] = [new Float64Array(8), new Float64Array(3)];
    expect(face.meet(0.3, 0.1, -10, 0, 0, 1, out)).to.equal(2);
    expect([...out.subarray(0, 2)]).to.deep.equal([7.5, 12.5]);
    face.normal(0.3, 0.1, -2.5, normal);
    expect([...normal]).to.deep.equal([0, 0, -1]);
    face.normal(0.3, 0.1, 2.5, normal);
    expect([...normal]).to.deep.equal([0, 0, 1]);
  });

  it('tells holes, turned triangles, crowded edges and triangles of no area, with a place', () => {
    const { corners, triangles } = block(2, 2, 2);
    const wrong = (list: number[]) =>
      new TriangleMesh(Float64Array.from(corners), Uint32Array.from(list)).faults.map(
        ({ kind, count }) => `${count} ${kind}`,
      );
    const all = [...triangles];
    expect(wrong(all.slice(3))).to.deep.equal(['3 hole']);
    expect(wrong([all[1], all[0], all[2], ...all.slice(3)])).to.deep.equal(['3 flipped']);
    expect(wrong([...all, all[1], all[0], all[2]])).to.deep.equal(['3 crowded']);
    expect(wrong([...all, 0, 0, 1])).to.deep.equal(['1 flat']);
    const [fault] = new TriangleMesh(Float64Array.from(corners), Uint32Array.from(all.slice(3))).faults;
    expect(fault.at.every((value) => Math.abs(value) === 1)).to.equal(true);
  });

  it('leaves out triangles that stand exactly on another one, by their places, and is closed without them', () => {
    const { corners, triangles } = block(2, 3, 5);
    // Every triangle twice more, from another corner on and with corners of their own.
    const [given, all] = [[...corners], [...triangles]];
    for (let again = 1; again <= 2; again++)
      for (let i = 0; i < triangles.length; i += 3)
        for (let k = 0; k < 3; k++) {
          const corner = triangles[i + ((k + again) % 3)];
          all.push(given.length / 3);
          given.push(...corners.slice(3 * corner, 3 * corner + 3));
        }
    const mesh = new TriangleMesh(Float64Array.from(given), Uint32Array.from(all));
    expect(mesh.faults.map(({ kind, count }) => `${count} ${kind}`)).to.deep.equal(['24 doubled']);
    expect([...mesh.triangles]).to.deep.equal([...triangles]);
    expect(mesh.closed).to.equal(true);
    expect(mesh.volume).to.be.closeTo(30, 1e-12);
    const flat = (zero: number) => [0, 0, zero, 1, 0, zero, 0, 1, zero];
    const sheet = new TriangleMesh(Float64Array.of(...flat(0), ...flat(-0)), Uint32Array.of(0, 1, 2, 4, 5, 3));
    expect(sheet.triangles).to.have.length(3);
  });

  it('spreads points evenly over its skin', () => {
    const { corners, triangles } = block(1, 1, 8);
    const face = new MeshFace(new TriangleMesh(Float64Array.from(corners), triangles));
    const at = new Float64Array(3);
    let ends = 0;
    for (let i = 0; i < 4000; i++) {
      face.spread((i + 0.5) / 4000, (i * 0.618034) % 1, at);
      if (Math.abs(Math.abs(at[2]) - 4) < 1e-12) ends++;
    }
    expect(ends / 4000).to.be.closeTo(2 / 34, 1e-3);
  });
});

describe('The record of a mesh', () => {
  const { corners, triangles } = block(1, 2, 3);
  const record = meshRecord('mesh', 'Block', corners, triangles);

  it('comes back as it was written, at any scale', () => {
    const ready = readyMesh(record, 2);
    if (!ready.ok) throw new Error(ready.reason);
    expect([...ready.value.corners]).to.deep.equal([...corners].map((value) => 2 * value));
    expect(ready.value.triangles).to.deep.equal(triangles);
    // Made once: projects come to workers as copies.
    const again = readyMesh({ ...record }, 2);
    expect(again.ok && again.value).to.equal(ready.value);
  });

  for (const [what, bad] of [
    ['no base 64', { corners: '%%%' }],
    ['corners cut off', { corners: record.corners.slice(0, 20) }],
    ['no triangle', { triangles: '' }],
    ['a corner that is not there', { triangles: meshRecord('a', 'a', corners, Uint32Array.of(0, 1, 99)).triangles }],
    [
      'no place',
      {
        corners: meshRecord(
          'a',
          'a',
          Float32Array.from(corners, () => NaN),
          triangles,
        ).corners,
      },
    ],
    ['no area', { triangles: meshRecord('a', 'a', corners, Uint32Array.of(0, 0, 1)).triangles }],
  ] as const)
    it(`is refused with ${what}`, () => {
      const ready = readyMesh({ ...record, ...bad });
      expect(ready.ok).to.equal(false);
      if (!ready.ok) expect(ready.reason).to.include('Block');
    });
});
