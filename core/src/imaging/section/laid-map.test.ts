import { expect } from 'chai';
import { detector, part, sceneOf } from '../../scene/fixtures.ts';
import { mapPlace } from '../../scene/charts.ts';
import { laidMap } from './laid-map.ts';

const model = sceneOf({
  parts: [
    part('rod', { kind: 'cylinder', radius: 2, length: 5 }, { material: 'glass' }),
    part('bowl', { kind: 'shell', radius: 20, semi: 8 }),
    part('ball', { kind: 'sphere', radius: 3 }),
  ],
  detectors: [
    detector({ kind: 'face', part: 'rod', face: 'side' }, { id: 'wall' }),
    detector({ kind: 'face', part: 'bowl', face: 'face' }, { id: 'mirror' }),
    detector({ kind: 'face', part: 'ball', face: 'surface' }, { id: 'skin' }),
    detector({ kind: 'rectangle', width: 4, height: 2 }, { id: 'gate' }),
    detector({ kind: 'cylinder', radius: 3, length: 2 }, { id: 'drum' }),
    detector({ kind: 'far', halfX: 30, halfY: 20 }, { id: 'far' }),
  ],
});
const laidOn = (id: string) => {
  const index = model.detectors.findIndex((one) => one.id === id);
  const face = model.faces.find(({ detectors }) => detectors.includes(index));
  return { detector: model.detectors[index], laid: laidMap(model.detectors[index], face?.form) };
};

describe('maps laid where light was counted', () => {
  for (const id of ['wall', 'mirror', 'skin', 'gate', 'drum'])
    it(`${id}: every corner carries its own place of the map`, () => {
      const {
        detector: { chart, range },
        laid,
      } = laidOn(id);
      const out = new Float64Array(2);
      const turning = chart.kind !== 'flat';
      for (let i = 0; i < laid!.positions.length / 3; i++) {
        const [x, y, z] = laid!.positions.subarray(3 * i, 3 * i + 3);
        // At a pole of a ball every azimuth is the same place.
        if (chart.kind === 'sphere' && Math.hypot(x, z) < 1e-3) continue;
        mapPlace(chart, x, y, z, out);
        const across = (out[0] - range.x[0]) / (range.x[1] - range.x[0]) - laid!.places[2 * i];
        expect(turning ? across - Math.round(across) : across).to.be.closeTo(0, 1e-5);
        expect((out[1] - range.y[0]) / (range.y[1] - range.y[0])).to.be.closeTo(laid!.places[2 * i + 1], 1e-5);
      }
    });

  it('run over the seam of a closed wall without crossing the whole map', () => {
    const { laid } = laidOn('drum');
    for (let k = 0; k < laid!.places.length; k += 6) {
      const across = [0, 2, 4].map((at) => laid!.places[k + at]);
      expect(Math.max(...across) - Math.min(...across)).to.be.below(0.03);
    }
  });

  it('are laid nowhere for the far field', () => {
    expect(laidOn('far').laid).to.equal(null);
  });
});
