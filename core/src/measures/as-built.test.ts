import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { RandomStream } from '../math/random.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Material } from '../materials/material.ts';
import type { Project, Surface } from '../project/model.ts';
import { traceBundle } from '../sequence/bundle.ts';
import { pupilPoints } from '../sequence/pupil-sampling.ts';
import { expectedFields, expectedSquare, inexactNumbers, WORKSHOP_GRADES, type Inexact } from './as-built.ts';
import { evaluateMeasure } from './registry.ts';

const GRADE = WORKSHOP_GRADES.precise;

const project = quickProject(
  [
    { r: 60, t: 6, n: 1.52 },
    { r: -45, t: 3, n: 1.62 },
    { r: -160, t: 4 },
    { r: 70, t: 4, n: 1.6 },
    { r: 300, t: 52 },
  ],
  {
    aperture: { kind: 'entrance_pupil_diameter', value: 12 },
    fields: {
      kind: 'angle',
      points: [
        { id: 'axis', x: 0, y: 0, weight: 1 },
        { id: 'edge', x: 0, y: 6, weight: 2 },
      ],
    },
  },
);

const lensOf = (one: Project) => {
  const lens = new Evaluation(one).lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
};
const INEXACT = inexactNumbers(lensOf(project).model, GRADE);

/** The project with every number off by what is drawn for it. */
function made(draw: () => number): Project {
  const [lens] = project.lenses;
  const surfaces = lens.surfaces.map((surface) => ({ ...surface, frame: { dx: 0, dy: 0, tx: 0, ty: 0 } })) as (Omit<
    Surface,
    'frame'
  > & { frame: Record<string, number> })[];
  const materials: Material[] = [...project.materials];
  for (const { variables, deviation } of INEXACT) {
    const by = draw() * deviation * Math.sqrt(3);
    for (const variable of variables) {
      const surface = surfaces[variable.surface];
      if (variable.kind === 'shape')
        surfaces[variable.surface] = {
          ...surface,
          shape: { kind: 'sphere', radius: 1 / (1 / (surface.shape as { radius: number }).radius + by) },
        };
      else if (variable.kind === 'thickness')
        surfaces[variable.surface] = {
          ...surface,
          after: { ...surface.after!, thickness: surface.after!.thickness + by },
        };
      else if (variable.kind === 'place') surface.frame[variable.id] += by;
      else {
        const glass = materials.find(({ id }) => id === surface.after!.material)!;
        const id = `own${variable.surface}`;
        materials.push({
          ...glass,
          id,
          dispersion: { kind: 'constant', index: (glass.dispersion as { index: number }).index + by },
        });
        surfaces[variable.surface] = { ...surface, after: { ...surface.after!, material: id } };
      }
    }
  }
  return { ...project, materials, lenses: [{ ...lens, surfaces: surfaces as unknown as Surface[] }] };
}

/** Mean square spots of the fields, focus set for the least weighted sum: rays are straight after the lens. */
function refocused(one: Project): number[] {
  const lens = lensOf(one);
  const aimer = lens.aimer();
  if (!aimer.ok) throw new Error(aimer.reason);
  const { px, py, weight } = pupilPoints({ kind: 'polar', rings: 4, arms: 8 }, 0);
  const mean = (values: Float64Array) => values.reduce((sum, value, i) => sum + weight[i] * value, 0);
  const fields = lens.model.lens.fields.points.map((field) => {
    const rays = traceBundle(aimer.value, { field, wave: 0, px, py }, { clip: false });
    const about = (values: Float64Array) => values.map((value) => value - mean(values));
    const [x, y] = [about(rays.x), about(rays.y)];
    const [u, v] = [about(rays.l.map((l, i) => l / rays.n[i])), about(rays.m.map((m, i) => m / rays.n[i]))];
    const sum = (pick: (i: number) => number) => mean(Float64Array.from(weight, (_, i) => pick(i)));
    return {
      own: sum((i) => x[i] ** 2 + y[i] ** 2),
      cross: sum((i) => x[i] * u[i] + y[i] * v[i]),
      slope: sum((i) => u[i] ** 2 + v[i] ** 2),
      weight: field.weight,
    };
  });
  const [cross, slope] = [
    fields.reduce((s, f) => s + f.weight * f.cross, 0),
    fields.reduce((s, f) => s + f.weight * f.slope, 0),
  ];
  const by = -cross / slope;
  return fields.map((f) => f.own + 2 * by * f.cross + by * by * f.slope);
}

describe('the as-built spot', () => {
  it('is what lenses made at random have on the average, focus set behind each', () => {
    const expected = expectedFields(lensOf(project), INEXACT);
    if (!expected.ok) throw new Error(expected.reason);
    const squares = expected.value.map(expectedSquare);
    const nominal = refocused(project);
    const stream = new RandomStream(5, 0);
    const PAIRS = 400;
    const sums = [0, 0];
    for (let k = 0; k < PAIRS; k++) {
      const drawn = INEXACT.map(() => 2 * stream.uniform() - 1);
      // Each with its opposite: what is linear in the errors has no mean, and would drown what is looked for.
      for (const sign of [1, -1]) {
        let next = 0;
        refocused(made(() => sign * drawn[next++])).forEach((square, f) => (sums[f] += square / 2));
      }
    }
    squares.forEach((square, f) => {
      expect(nominal[f]).to.be.below(square);
      // What errors add; 800 lenses tell it to some 5 %.
      expect((sums[f] / PAIRS - nominal[f]) / (square - nominal[f]), `field ${f}`).to.be.within(0.85, 1.15);
    });
  }).timeout(60_000);

  it('takes elements as they are cemented, and each surface and gap once', () => {
    const count = (pick: (one: Inexact) => boolean) => INEXACT.filter(pick).length;
    expect(count(({ variables }) => variables[0].kind === 'shape')).to.equal(5);
    expect(count(({ variables }) => variables[0].kind === 'thickness')).to.equal(4); // the last one is focus
    expect(count(({ variables }) => variables[0].kind === 'index')).to.equal(3);
    expect(count(({ variables }) => variables.length === 3)).to.equal(2); // the pair as a whole, in x and y
    expect(count(({ variables }) => variables.length === 2)).to.equal(2);
  });

  it('is the spot of the design where nothing is off, and grows with the workshop', () => {
    const value = (workshop: string, field = 'all') => {
      const found = evaluateMeasure(new Evaluation(project), {
        measure: 'as_built_spot',
        lens: 'lens',
        settings: { field, workshop },
      });
      if (!found.ok) throw new Error(found.reason);
      return found.value.value;
    };
    const exact = expectedFields(lensOf(project), []);
    if (!exact.ok) throw new Error(exact.reason);
    exact.value.forEach((one, f) => expect(expectedSquare(one)).to.be.closeTo(refocused(project)[f], 1e-12));
    expect(value('precise')).to.be.below(value('usual'));
    expect(value('usual')).to.be.below(value('coarse'));
    expect(value('usual', 'worst')).to.equal(Math.max(value('usual', 'axis'), value('usual', 'edge')));
  });
});
