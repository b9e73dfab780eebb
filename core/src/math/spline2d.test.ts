import { expect } from 'chai';
import { ridders } from './ridders.ts';
import { splineOver, type Grid } from './spline2d.ts';

/** A grid with the values of a function. */
function gridOf(f: (x: number, y: number) => number, columns: number, rows: number, step = 1): Grid {
  const [x, y] = [-((columns - 1) * step) / 2, -((rows - 1) * step) / 2];
  const z = Array.from({ length: columns * rows }, (_, i) =>
    f(x + (i % columns) * step, y + Math.floor(i / columns) * step),
  );
  return { x, y, dx: step, dy: step, columns, z };
}

const at = (grid: Grid, x: number, y: number) => {
  const out = new Float64Array(6);
  splineOver(grid)(x, y, out);
  return [...out];
};

describe('splineOver', () => {
  it('gives any bicubic polynomial back, with its derivatives, up to the rim', () => {
    const f = (x: number, y: number) =>
      1 + x - 2 * y + 0.5 * x * x * y - 0.1 * x ** 3 * y ** 2 + 0.02 * x ** 3 * y ** 3;
    for (const [columns, rows] of [
      [4, 4],
      [5, 7],
      [9, 4],
    ] as const) {
      const grid = gridOf(f, columns, rows);
      for (const [x, y] of [
        [0.3, -0.4],
        [-1.5, 1.5],
        [1.5, -1.2],
      ] as const) {
        const [value, fx, fy, fxx, fxy, fyy] = at(grid, x, y);
        expect(value).to.be.closeTo(f(x, y), 1e-12);
        expect(fx).to.be.closeTo(1 + x * y - 0.3 * x * x * y * y + 0.06 * x * x * y ** 3, 1e-12);
        expect(fy).to.be.closeTo(-2 + 0.5 * x * x - 0.2 * x ** 3 * y + 0.06 * x ** 3 * y * y, 1e-12);
        expect(fxx).to.be.closeTo(y - 0.6 * x * y * y + 0.12 * x * y ** 3, 1e-11);
        expect(fxy).to.be.closeTo(x - 0.6 * x * x * y + 0.18 * x * x * y * y, 1e-11);
        expect(fyy).to.be.closeTo(-0.2 * x ** 3 + 0.12 * x ** 3 * y, 1e-11);
      }
    }
  });

  it('goes through its values, without a jump of the second derivative at knots', () => {
    const grid = gridOf((x, y) => Math.sin(x) * Math.cos(0.7 * y), 9, 8);
    grid.z.forEach((value, i) =>
      expect(at(grid, grid.x + (i % 9), grid.y + Math.floor(i / 9))[0]).to.be.closeTo(value, 1e-13),
    );
    const [before, behind] = [at(grid, 1 - 1e-9, 0.3), at(grid, 1 + 1e-9, 0.3)];
    before.forEach((value, k) => expect(value).to.be.closeTo(behind[k], 1e-7));
    const slopes = ridders((h) => [at(grid, 0.4 + h, 0.3)[0]], 0.1).values;
    expect(at(grid, 0.4, 0.3)[1]).to.be.closeTo(slopes[0], 1e-10);
  });

  it('comes nearer a smooth function by the fourth power of the step', () => {
    const f = (x: number, y: number) => Math.exp(0.3 * x) * Math.cos(0.5 * y);
    const error = (step: number) => {
      const count = Math.round(8 / step) + 1;
      return Math.abs(at(gridOf(f, count, count, step), 0.37, -0.21)[0] - f(0.37, -0.21));
    };
    expect(error(1) / error(0.25)).to.be.above(60);
  });

  it('is nothing outside, and refuses too few values', () => {
    expect(
      at(
        gridOf(() => 1, 4, 4),
        1.6,
        0,
      )[0],
    ).to.be.NaN;
    expect(() => splineOver(gridOf(() => 1, 3, 4))).to.throw(RangeError);
  });
});
