import { expect } from 'chai';
import { DETECTOR_PLACES, freeFace, PLACE_KINDS } from './registry.ts';

const [COLUMNS, ROWS] = [24, 16];

describe('Places of detectors', () => {
  for (const { kind, first, parameters } of DETECTOR_PLACES)
    it(`${kind}: has a cell for each place of its map, a title, and all its numbers at first`, () => {
      const definition = PLACE_KINDS.of(kind);
      const map = definition.map(first, COLUMNS, ROWS);
      expect(map.size.length).to.equal(COLUMNS * ROWS * (definition.layers?.(first) ?? 1));
      expect(map.range.x[0]).to.be.below(map.range.x[1]);
      expect(map.range.y[0]).to.be.below(map.range.y[1]);
      for (const { id } of parameters) expect(first, id).to.have.property(id).that.is.a('number');
      for (const piece of definition.outline(first)) expect(piece.every(Number.isFinite)).to.equal(true);
      expect(definition.title).to.not.equal('');
    });

  const whole = (kind: string) => {
    const definition = PLACE_KINDS.of(kind);
    return definition.map(definition.first, COLUMNS, ROWS).size.reduce((sum, size) => sum + size, 0);
  };

  it('have cells that make up the whole: areas, a volume, solid angles', () => {
    expect(whole('rectangle')).to.be.closeTo(400, 1e-9);
    expect(whole('disc')).to.be.closeTo(100 * Math.PI, 0.05); // its edge is measured with lines
    expect(whole('cylinder')).to.be.closeTo(2 * Math.PI * 20 * 40, 1e-9);
    expect(whole('sphere')).to.be.closeTo(4 * Math.PI * 2500, 1e-8);
    expect(whole('block')).to.be.closeTo(8000, 1e-9);
    // Within ±30° in azimuth and elevation: (π/3)·2 sin 30°.
    expect(whole('far')).to.be.closeTo(Math.PI / 3, 1e-12);
  });

  it('have a face in space where light passes, of the size of the map', () => {
    const passing = DETECTOR_PLACES.filter(({ first }) => freeFace(first) !== null).map(({ kind }) => kind);
    expect(passing).to.deep.equal(['rectangle', 'disc', 'cylinder', 'sphere']);
    expect(freeFace({ kind: 'face', part: 'a', face: 'b' })).to.equal(null);
    const { min, max } = freeFace({ kind: 'rectangle', width: 6, height: 4 })!.box;
    expect([min[0], min[1], max[0], max[1]]).to.deep.equal([-3, -2, 3, 2]);
  });
});
