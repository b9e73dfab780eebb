import { expect } from 'chai';
import { detector, part, sceneOf, source } from '../../scene/fixtures.ts';
import { SceneEvaluation } from '../evaluation/scene-evaluation.ts';
import { sceneRays, sceneView } from './scene-view.ts';

const model = sceneOf({
  finishes: [{ id: 'dull', name: 'dull', optics: { kind: 'mirror', reflectance: 0.06 } }],
  parts: [
    part('ball', { kind: 'sphere', radius: 3 }, { material: 'glass', frame: { dz: 10 } }),
    part('fold', { kind: 'shell', radius: 'infinity', semi: 5 }, { finish: 'mirror', frame: { dz: 20, tx: 45 } }),
    part('wall', { kind: 'sheet', width: 60, height: 60 }, { frame: { dy: 20, dz: 20, tx: 90 } }),
    part('hood', { kind: 'tube', radius: 9, inner: 8, length: 4 }, { finish: 'dull' }),
  ],
  sources: [source({ region: { kind: 'disc', radius: 1 } }), source({ id: 'stray', frame: { ty: 180, dz: -5 } })],
  detectors: [
    detector({ kind: 'face', part: 'wall', face: 'face' }),
    detector({ kind: 'rectangle', width: 4, height: 2 }, { id: 'gate', frame: { dz: 15 } }),
  ],
});
const scene = new SceneEvaluation(model);

describe('the drawing of a scene', () => {
  it('holds every face in its place, with how it looks', () => {
    const view = sceneView(scene);
    const looks = new Map(view.faces.map(({ part: of, look }) => [of, look]));
    expect([...looks]).to.deep.equal([
      ['ball', 'clear'],
      ['fold', 'mirror'],
      ['wall', 'black'],
      ['hood', 'black'],
    ]);
    const ball = view.faces[0].triangles.positions;
    for (let i = 0; i < ball.length; i += 3)
      expect(Math.hypot(ball[i], ball[i + 1], ball[i + 2] - 10)).to.be.closeTo(3, 1e-5);
    expect(view.detectors.map(({ id, laid }) => [id, laid!.positions.length > 0])).to.deep.equal([
      ['meter', true],
      ['gate', true],
    ]);
    expect(view.meters.map(({ range }) => range.x)).to.deep.equal([
      [-30, 30],
      [-2, 2],
    ]);
  });

  it('holds a few rays of each source; one that meets nothing is told', () => {
    const rays = sceneRays(scene, 20);
    expect(rays.sources).to.deep.equal(['lamp', 'stray']);
    expect(rays.launched).to.deep.equal([20, 20]);
    expect(rays.met).to.deep.equal([20, 0]);
    // What the mirror folds up ends on the wall, which the first detector lies on.
    const wall = Number(Object.entries(rays.detectors).find(([, ids]) => ids.includes('meter'))![0]);
    expect(Array.from(rays.face).filter((face) => face === wall).length).to.be.at.least(20);
    for (let piece = 0; piece < rays.share.length; piece++) expect(rays.share[piece]).to.be.within(0, 1);
  });

  it('numbers of a detector that is not there name those that are', () => {
    expect(scene.numbers('nowhere', 64)).to.deep.include({
      ok: false,
      reason: 'There is no detector “nowhere”; there are meter, gate.',
    });
    const numbers = scene.numbers('', 256);
    expect(numbers.ok && numbers.value.flux.value).to.be.closeTo(1 * (1 - 2 * 0.04), 0.01);
  });
});
