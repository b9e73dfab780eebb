import { expect } from 'chai';
import fc from 'fast-check';
import type { CompiledArea } from './area.ts';
import { AREAS, areaDefinition, clearArea, compileArea, stretches, type ObscurationArea } from './registry.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

const RECORDS: readonly ObscurationArea[] = [
  { kind: 'circle', semi: 5 },
  { kind: 'circle', semi: 5, inner: 2, dx: 1, dy: -2 },
  { kind: 'rectangle', half_x: 3, half_y: 2, turn: 30 },
  { kind: 'ellipse', semi_x: 3, semi_y: 1.5, dy: 1, turn: -20 },
  {
    kind: 'polygon',
    points: [
      [0, 3],
      [-2, -1],
      [2, -1],
    ],
  },
  { kind: 'spider', arms: 3, width: 0.5 },
];

/** Share of a square of half width `half` that an area contains, by a grid. */
function areaOf(record: ObscurationArea, half: number): number {
  const { contains } = compileArea(record);
  const SIZE = 800;
  let count = 0;
  for (let i = 0; i < SIZE; i++)
    for (let j = 0; j < SIZE; j++)
      if (contains(half * (-1 + (2 * i + 1) / SIZE), half * (-1 + (2 * j + 1) / SIZE))) count++;
  return (count / SIZE ** 2) * 4 * half * half;
}

const chord = (area: CompiledArea, limit: number) => stretches((y) => area.contains(0, y), limit);

describe('areas of apertures and obscurations', () => {
  it('have the area that geometry gives them, wherever they are put', () => {
    expect(areaOf(RECORDS[0], 6)).to.be.closeTo(25 * Math.PI, 0.1);
    expect(areaOf(RECORDS[1], 9)).to.be.closeTo(21 * Math.PI, 0.2);
    expect(areaOf(RECORDS[2], 5)).to.be.closeTo(24, 0.05);
    expect(areaOf(RECORDS[3], 5)).to.be.closeTo(4.5 * Math.PI, 0.05);
    expect(areaOf(RECORDS[4], 5)).to.be.closeTo(8, 0.05);
  });

  it('contain nothing beyond their reach', () => {
    fc.assert(
      fc.property(fc.constantFrom(...RECORDS), number(-12, 12), number(-12, 12), (record, x, y) => {
        const area = compileArea(record);
        if (Math.hypot(x, y) > area.reach * (1 + 1e-12)) expect(area.contains(x, y)).to.equal(false);
      }),
      { seed: 21, numRuns: 2000 },
    );
  });

  it('say rightly whether they are their own mirror image', () => {
    fc.assert(
      fc.property(fc.constantFrom(...RECORDS), number(-6, 6), number(-6, 6), (record, x, y) => {
        const area = compileArea(record);
        if (area.mirrorX) expect(area.contains(-x, y)).to.equal(area.contains(x, y));
      }),
      { seed: 22, numRuns: 2000 },
    );
    const mirrored = RECORDS.map((record) => compileArea(record).mirrorX);
    expect(mirrored).to.deep.equal([true, false, false, false, true, true]);
  });

  it('cover what a spider covers, its first arm along +y', () => {
    const { contains } = compileArea({ kind: 'spider', arms: 3, width: 1 });
    expect(contains(0.49, 10)).to.equal(true);
    expect(contains(0, -10)).to.equal(false);
    expect(contains(-10 * Math.sin(Math.PI / 3) * 1, -10 * Math.cos(Math.PI / 3))).to.equal(true);
  });

  it('are cut by the line x = 0 where their edges are', () => {
    const ring = clearArea(compileArea({ kind: 'circle', semi: 5 }), [compileArea({ kind: 'circle', semi: 2 })]);
    const [below, above, ...rest] = chord(ring, 5);
    expect(rest).to.have.length(0);
    [below, above].flat().forEach((value, i) => expect(value).to.be.closeTo([-5, -2, 2, 5][i], 1e-5));
    expect(chord(clearArea(null, []), 3)).to.deep.equal([[-3, 3]]);
    expect(chord(compileArea({ kind: 'rectangle', half_x: 1, half_y: 1, dx: 4 }), 5)).to.deep.equal([]);
  });

  it('are registered once per kind', () => {
    for (const definition of AREAS) expect(areaDefinition(definition.kind)).to.equal(definition);
    expect(() => compileArea({ kind: 'star' } as never)).to.throw('star');
  });
});
