import { expect } from 'chai';
import type { Body, Part, Pattern } from '../project/scene.ts';
import { detector, glassOf, part, sceneOf, source } from './fixtures.ts';
import { BlockTracer } from './block-tracer.ts';
import { noTally, traceAll, tracerOf } from './run.ts';
import { SceneTracer } from './tracer.ts';

const block = part('block', { kind: 'box', width: 10, height: 10, thickness: 10 }, { frame: { dz: 5 } });
const rod = part('rod', { kind: 'cylinder', radius: 2, length: 30 }, { frame: { dz: -5 } });
const whole = (operation: 'union' | 'difference' | 'intersection', more: Partial<Part> = {}) =>
  part('whole', { kind: 'combined', operation, first: 'block', second: 'rod' }, { material: 'glass', ...more });

/** Length of a line along z through (x, y) that lies in glass, by its absorption. */
function inside(parts: readonly Part[], x: number, y: number): number {
  const model = sceneOf({
    materials: [glassOf(1.0000001, 0.01)],
    parts,
    sources: [source({ frame: { dx: x, dy: y, dz: -20 } })],
    sampling: { threshold: 0, events: 40 },
  });
  expect(model.findings.filter(({ severity }) => severity === 'error')).to.deep.equal([]);
  const { ledger } = traceAll(model, 2);
  return -Math.log(1 - ledger.inBodies / ledger.launched) / 0.01;
}

describe('Combined bodies', () => {
  it('take away, join and keep what is common', () => {
    const of = (operation: Parameters<typeof whole>[0], x: number, y: number) =>
      inside([block, rod, whole(operation)], x, y);
    expect(of('difference', 0.3, 0.2), 'through the hole').to.be.closeTo(0, 1e-5);
    expect(of('difference', 3, 3), 'beside it').to.be.closeTo(10, 1e-5);
    expect(of('union', 0.3, 0.2), 'along the rod').to.be.closeTo(30, 1e-5);
    expect(of('union', 3, 3)).to.be.closeTo(10, 1e-5);
    expect(of('intersection', 0.3, 0.2)).to.be.closeTo(10, 1e-5);
    expect(of('intersection', 3, 3)).to.be.closeTo(0, 1e-5);
  });

  it('have the areas of closed forms', () => {
    const { faces } = sceneOf({ parts: [block, rod, whole('difference')] });
    const area = (name: string) => faces.find((face) => face.name === name)!.form.area;
    expect(area('block_front')).to.be.closeTo(100 - 4 * Math.PI, 0.3);
    expect(area('rod_side')).to.be.closeTo(40 * Math.PI, 1e-3 * 40 * Math.PI);
    // Strips along the rod are cut across, not into ever narrower ones.
    const strips = faces.find(({ name }) => name === 'rod_side')!.form.triangles(192);
    expect(strips.indices.length / 3).to.be.below(20_000);
    expect(area('rod_front')).to.equal(0);
    expect(area('block_left')).to.be.closeTo(100, 1e-3);
  });

  it('drill a pattern of holes, one in another, moved with their frame', () => {
    const ring: Pattern = { kind: 'ring', count: 4, radius: 3 };
    const drill = part('drill', { kind: 'cylinder', radius: 0.5, length: 30 }, { frame: { dz: -5 }, pattern: ring });
    const twice = part(
      'twice',
      { kind: 'combined', operation: 'difference', first: 'whole', second: 'drill' },
      { material: 'glass', frame: { dx: 100 } },
    );
    const parts = [block, rod, whole('difference'), drill, twice];
    expect(inside(parts, 100 + 3, 0.1)).to.be.closeTo(0, 1e-5);
    expect(inside(parts, 100, 3.1)).to.be.closeTo(0, 1e-5);
    expect(inside(parts, 100 + 2.3, 2.3)).to.be.closeTo(10, 1e-5);
    expect(inside(parts, 0.3, 0.2), 'nothing is left where they stood').to.be.closeTo(0, 1e-5);
  });

  it('close the energy and are the same in both tracers', () => {
    const model = sceneOf({
      materials: [glassOf(1.6, 0.01)],
      parts: [block, rod, whole('difference')],
      sources: [source({ law: { kind: 'isotropic', half: 180 }, frame: { dz: 8, dx: 0.3 } })],
      detectors: [detector({ kind: 'far', halfX: 180, halfY: 90 })],
      sampling: { threshold: 1e-3, events: 30 },
    });
    const plain = noTally(model);
    new SceneTracer(model).chunk(0, 512, 1, plain);
    const compiled = noTally(model);
    const tracer = tracerOf(model);
    expect(tracer).to.be.instanceOf(BlockTracer);
    tracer.chunk(0, 512, 1, compiled);
    const { launched, ...ends } = compiled.ledger;
    expect(Object.values(ends).reduce((sum, value) => sum + value, 0)).to.be.closeTo(launched, 1e-10);
    for (const key of Object.keys(ends) as (keyof typeof ends)[])
      expect(ends[key], key).to.be.closeTo(plain.ledger[key], 1e-7);
    expect(compiled.tally().mishaps.map(({ kind }) => kind)).to.deep.equal([]);
  });

  it('say why they cannot be made', () => {
    const said = (body: Body, ...more: Part[]) =>
      sceneOf({ parts: [block, rod, part('whole', body), ...more] })
        .findings.map(({ text }) => text)
        .join(' ');
    const combined = (first: string, second: string): Body => ({ kind: 'combined', operation: 'union', first, second });
    expect(said(combined('block', 'gone'))).to.match(/no part “gone”/);
    expect(said(combined('block', 'block'))).to.match(/two different parts/);
    expect(said(combined('block', 'whole'))).to.match(/made of itself/);
    const circle = part('loop', { kind: 'combined', operation: 'union', first: 'whole', second: 'rod' });
    expect(said(combined('block', 'loop'), circle)).to.match(/whole of loop of whole/);
    expect(said(combined('block', 'screen'), part('screen', { kind: 'sheet', width: 1, height: 1 }))).to.match(
      /no inside/,
    );
    expect(said(combined('block', 'rest'), part('rest', { kind: 'group' }))).to.match(/group/);
    expect(said(combined('block', 'away'), part('away', { kind: 'sphere', radius: 1 }, { excluded: true }))).to.match(
      /excluded/,
    );
  });
});

describe('Facets on a base surface', () => {
  it('gather light as the surface does: flat mirrors on a paraboloid', () => {
    const facets: Pattern = { kind: 'facets', columns: 9, rows: 9, dx: 2, dy: 2, radius: -100, conic: -1 };
    const model = sceneOf({
      parts: [part('tiles', { kind: 'sheet', width: 1.9, height: 1.9 }, { finish: 'mirror', pattern: facets })],
      sources: [source({ region: { kind: 'rectangle', width: 18, height: 18 }, frame: { dz: -60 } })],
      detectors: [detector({ kind: 'rectangle', width: 2.2, height: 2.2 }, { frame: { dz: -50 } })],
    });
    expect(model.faces.filter(({ part: of }) => of === 'tiles')).to.have.length(81);
    const tally = traceAll(model, 8192);
    // Every facet throws its own size, a little foreshortened, to the focus: 0.95² of the light falls on mirrors.
    const flux = tally.detectors[0].flux.reduce((sum, value) => sum + value, 0) / tally.chunks;
    expect(flux).to.be.closeTo(0.95 ** 2 + 1.9 ** 2 / 18 ** 2, 0.03); // and what passes on the way there
  });

  it('leave out what lies beyond the surface, and say so', () => {
    const pattern: Pattern = { kind: 'facets', columns: 3, rows: 1, dx: 6, dy: 1, radius: 5 };
    const { faces, findings } = sceneOf({
      parts: [part('tiles', { kind: 'sheet', width: 1, height: 1 }, { pattern })],
    });
    expect(faces).to.have.length(1);
    expect(findings.map(({ text }) => text).join()).to.match(/2 of its 3 facets/);
  });
});
