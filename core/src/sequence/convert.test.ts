import { expect } from 'chai';
import { quickProject } from '../project/fixtures.ts';
import type { FieldSet, Lens, SystemAperture } from '../project/model.ts';
import { convertAperture, convertFields } from './convert.ts';
import { compileLens } from './lens-model.ts';
import { firstOrder, type FirstOrder } from './paraxial.ts';

const SURFACES = [{ t: 6 }, { r: 60, t: 5, n: 1.6 }, { r: -45, t: 60 }];
const POINTS = [
  { id: 'a', x: 0, y: 0, weight: 1 },
  { id: 'b', x: -2, y: 5, weight: 2 },
];

function lensWith(change: Partial<Lens>): { lens: Lens; data: FirstOrder } {
  const project = quickProject(SURFACES, change);
  const data = firstOrder(compileLens(project, project.lenses[0]), 0);
  if (!data.ok) throw new Error(data.reason);
  return { lens: project.lenses[0], data: data.value };
}

describe('conversions', () => {
  it('keep the beam when the kind of aperture changes, and come back', () => {
    for (const distance of ['infinity', 300] as const) {
      const start = lensWith({ object: { distance } });
      const kinds: SystemAperture['kind'][] = [
        'stop_semi_aperture',
        'image_f_number',
        ...(distance === 300 ? (['object_na'] as const) : []),
      ];
      for (const kind of kinds) {
        const aperture = convertAperture(start.lens, start.data, kind);
        if (!aperture.ok) throw new Error(aperture.reason);
        const next = lensWith({ object: { distance }, aperture: aperture.value });
        expect(next.data.entrancePupilDiameter, kind).to.be.closeTo(10, 1e-12);
        expect(next.data.marginal.y[1]).to.be.closeTo(start.data.marginal.y[1], 1e-12);
      }
    }
  });

  it('keep the image when the kind of field changes, and come back', () => {
    for (const distance of ['infinity', 300] as const) {
      const start = lensWith({ object: { distance }, fields: { kind: 'angle', points: POINTS } });
      const kinds: FieldSet['kind'][] = ['image_height', ...(distance === 300 ? (['object_height'] as const) : [])];
      for (const kind of kinds) {
        const fields = convertFields(start.lens, start.data, kind);
        if (!fields.ok) throw new Error(fields.reason);
        const next = lensWith({ object: { distance }, fields: fields.value });
        expect(Math.abs(next.data.chief.y.at(-1)!), kind).to.be.closeTo(Math.abs(start.data.chief.y.at(-1)!), 1e-11);
        const back = convertFields(next.lens, next.data, 'angle');
        if (!back.ok) throw new Error(back.reason);
        back.value.points.forEach((point, i) => {
          expect(point.x).to.be.closeTo(POINTS[i].x, 1e-12);
          expect(point.y).to.be.closeTo(POINTS[i].y, 1e-12);
        });
      }
    }
  });

  it('turn an angle of +θ into an object height of −y', () => {
    const { lens, data } = lensWith({ object: { distance: 300 }, fields: { kind: 'angle', points: POINTS } });
    const heights = convertFields(lens, data, 'object_height');
    expect(heights.ok && heights.value.points[1].y).to.be.closeTo(-300 * Math.tan((5 * Math.PI) / 180), 1e-10);
  });

  it('say what does not apply to a far object', () => {
    const { lens, data } = lensWith({ fields: { kind: 'angle', points: POINTS } });
    expect(convertFields(lens, data, 'object_height')).to.have.property('ok', false);
    expect(convertAperture(lens, data, 'object_na')).to.have.property('ok', false);
  });
});
