import { expect } from 'chai';
import { Evaluation } from '../../imaging/evaluation/evaluation.ts';
import { atOnce } from '../../math/steps.ts';
import { detector, part, sceneProject, source } from '../../project/scene-fixtures.ts';
import type { Project } from '../../project/model.ts';
import type { Analysed } from '../analysis.ts';
import type { CurvePanel, DotPanel, MapPanel, TablePanel } from '../panels.ts';
import { runAnalysis } from '../registry.ts';

function run(project: Project, analysis: string, settings: object = {}): Analysed {
  const found = atOnce(runAnalysis(new Evaluation(project), { analysis, lens: '', settings, detail: 'full' }));
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

const figure = ({ panels }: Analysed, name: string) =>
  panels.flatMap(({ figures = [] }) => figures).find((one) => one.name === name)!;

/** An even beam of radius 5 on a black sheet, 1 W. */
const beam = (light: 'radiometric' | 'photometric' = 'radiometric') =>
  sceneProject({
    parts: [part('sheet', { kind: 'sheet', width: 12, height: 12 }, { frame: { dz: 20 } })],
    sources: [source({ region: { kind: 'disc', radius: 5 } })],
    detectors: [detector({ kind: 'face', part: 'sheet', face: 'face' }, { columns: 48, rows: 48, light })],
    sampling: { rays: 200_000 },
  });

describe('Light on a detector', () => {
  it('is the flux of a beam over its area, and all of its flux together', () => {
    const found = run(beam(), 'detector_map');
    const map = found.panels[0] as MapPanel;
    expect(figure(found, 'flux').value).to.be.closeTo(1, 1e-9);
    const middle = map.values[24 * 48 + 24];
    expect(middle).to.be.closeTo(1 / (25 * Math.PI), 0.06 / (25 * Math.PI));
    expect(map.errors![24 * 48 + 24]).to.be.within(1e-6, 0.05 * middle);
    expect(map.values[0]).to.equal(0);
    expect(map.x).to.deep.include({ unit: 'mm', range: [-6, 6] });
  });

  it('keeps its flux when cells are taken together, with less noise, at odd numbers of cells too', () => {
    const noise = (by: number) => {
      const map = run(beam(), 'detector_map', { by }).panels[0] as MapPanel;
      const cell = ((map.x.range[1] - map.x.range[0]) / map.columns) ** 2;
      const real = map.values.reduce((sum, value) => sum + value * cell, 0);
      if (48 % by === 0) expect(real).to.be.closeTo(1, 1e-9);
      else expect(map.columns).to.equal(Math.ceil(48 / by));
      const at = Math.floor(map.rows / 2) * map.columns + Math.floor(map.columns / 2);
      return map.errors![at] / map.values[at];
    };
    const [one, four, five] = [1, 4, 5].map(noise);
    expect(four).to.be.below(one / 2);
    expect(five).to.be.below(one / 2);
  });

  it('is told in lumen by the same run: 683 lm/W at 555 nm', () => {
    const found = run(beam(), 'detector_map', { light: 'lm' });
    expect(figure(found, 'flux')).to.deep.include({ unit: 'lm' });
    expect(figure(found, 'flux').value).to.be.closeTo(683, 0.1);
    expect(figure(found, 'peak').unit).to.equal('lx');
    expect(figure(run(beam('photometric'), 'detector_map'), 'mean').value).to.equal(figure(found, 'mean').value);
  });
});

describe('Cross-sections, circles and uniformity', () => {
  it('of an even beam are flat up to its edge', () => {
    const [x] = run(beam(), 'light_sections').panels as CurvePanel[];
    const [density] = x.curves;
    const wanted = 1 / (25 * Math.PI);
    density.x.forEach((at, k) => {
      if (Math.abs(at) < 4.6) expect(density.y[k]).to.be.closeTo(wanted, 0.15 * wanted);
      if (Math.abs(at) > 5.2) expect(density.y[k]).to.equal(0);
    });
    const [, less, more] = x.curves;
    less.y.forEach((value, k) => expect(value).to.be.at.most(more.y[k]));
  });

  it('of an even beam hold half of it within R/√2', () => {
    const found = run(beam(), 'flux_within');
    expect(figure(found, 'radius of 50 %').value).to.be.closeTo(5 / Math.SQRT2, 0.03);
    expect(figure(found, 'radius of 80 %').value).to.be.closeTo(5 * Math.sqrt(0.8), 0.03);
    const [circle, square] = (found.panels[0] as CurvePanel).curves;
    // A square of half side s holds 4s²/(πR²) while it lies in the beam.
    const k = circle.x.findIndex((value) => value > 3);
    expect(square.y[k]).to.be.closeTo((4 * square.x[k] ** 2) / (25 * Math.PI), 0.02);
    expect(circle.y.at(-1)).to.be.closeTo(1, 1e-12);
  });

  it('say how uneven the middle is, and how much of that is noise', () => {
    const found = run(beam(), 'evenness', { part: 50, by: 4 });
    expect(figure(found, 'least/mean').value).to.be.within(90, 100);
    expect(figure(found, 'spread/mean').value).to.be.below(3 * figure(found, 'noise of a cell').value + 0.5);
    const all = run(beam(), 'evenness', { by: 4 });
    expect(figure(all, 'least/mean').value).to.equal(0);
    expect(figure(all, 'contrast').value).to.equal(100);
  });
});

describe('Intensity by angle', () => {
  /** Light of one law, and a map of the whole half space before it. */
  const lamp = (law: Parameters<typeof source>[0]) =>
    sceneProject({
      sources: [source({ flux: 3, ...law })],
      parts: [part('far', { kind: 'sheet', width: 1, height: 1 }, { frame: { dx: 500, dz: -500 } })],
      detectors: [detector({ kind: 'far', halfX: 90, halfY: 90 }, { columns: 90, rows: 90 })],
      sampling: { rays: 400_000 },
    });

  it('of a Lambertian lamp is Φ/π at its peak, and half of it at 60° in every plane', () => {
    for (const plane of [0, 30]) {
      const found = run(lamp({ law: { kind: 'lambertian', half: 90 } }), 'intensity', { plane, by: 2 });
      expect(figure(found, `at 50 % in plane ${plane}°`).value).to.be.closeTo(60, 1.2);
      expect(figure(found, 'half-angle at 50 %').value).to.be.closeTo(60, 1);
      const [curve] = (found.panels[0] as CurvePanel).curves;
      const at = (angle: number) => curve.y[curve.x.findIndex((value) => value >= angle)];
      for (const angle of [0, 20, 40, -50])
        expect(at(angle), `${angle}°`).to.be.closeTo((3 / Math.PI) * Math.cos((angle * Math.PI) / 180), 0.05);
    }
  });

  it('is drawn about the middle, too: a circle through it for Lambert’s law', () => {
    const found = run(lamp({ law: { kind: 'lambertian', half: 90 } }), 'intensity', { view: 'polar', by: 3 });
    const [curve] = (found.panels[0] as DotPanel).outlines;
    const radius = 3 / Math.PI / 2;
    curve.x.forEach((x, k) => expect(Math.hypot(x, curve.y[k] - radius)).to.be.closeTo(radius, 0.06));
  });
});

describe('Where light goes', () => {
  /** Two lamps before a half mirror: one of twice the flux, and a black wall behind. */
  const project = sceneProject({
    finishes: [{ id: 'half', name: 'Half', optics: { kind: 'split', reflectance: 0.3, transmittance: 0.5 } }],
    parts: [
      part('plate', { kind: 'sheet', width: 20, height: 20 }, { finish: 'half', frame: { dz: 10 } }),
      part('wall', { kind: 'sheet', width: 20, height: 20 }, { frame: { dz: 30 } }),
    ],
    sources: [source({ id: 'one', name: 'First' }), source({ id: 'two', flux: 2, frame: { dx: 2 } })],
    detectors: [detector({ kind: 'face', part: 'wall', face: 'face' }, { name: 'On the wall' })],
  });

  it('adds up to what was launched', () => {
    const [table] = run(project, 'energy_book').panels as TablePanel[];
    const by = new Map(table.rows.map(([words, watts]) => [words, watts as number]));
    expect(by.get('absorbed at faces with a detector')).to.be.closeTo(1.5, 1e-9);
    expect(by.get('absorbed at other faces')).to.be.closeTo(0.6, 1e-9);
    expect(by.get('escaped from the scene')).to.be.closeTo(0.9, 1e-9);
    expect(table.rows.reduce((sum, [, watts]) => sum + (watts as number), 0)).to.be.closeTo(3, 1e-9);
    expect(table.total).to.deep.equal(['launched', 3, 100]);
  });

  it('is listed face by face, the most first, with what falls on an area', () => {
    const [table] = run(project, 'flux_by_face').panels as TablePanel[];
    expect(table.rows.map(([name, face]) => `${name} ${face}`)).to.deep.equal(['wall face', 'plate face']);
    expect(table.rows[0][3]).to.be.closeTo(1.5, 1e-9);
    expect(table.rows[0][5]).to.be.closeTo(1.5 / 400, 1e-9);
    expect(table.total![3]).to.be.closeTo(2.1, 1e-9);
    const short = run(project, 'flux_by_face', { rows: 1 });
    expect((short.panels[0] as TablePanel).rows).to.have.length(1);
    expect(short.about.join()).to.include('1 of 2 faces and bodies');
  });

  it('is told source by source', () => {
    const [table] = run(project, 'flux_by_source').panels as TablePanel[];
    expect(table.columns[3].title).to.equal('On the wall');
    expect(table.rows.map(([name]) => name)).to.deep.equal(['First', 'two']);
    expect(table.rows[0][3]).to.be.closeTo(0.5, 1e-9);
    expect(table.rows[1][3]).to.be.closeTo(1, 1e-9);
    for (const row of table.rows) expect(row[5]).to.be.closeTo(50, 1e-6);
  });

  it('of a photometric detector is a share of what the source launches in lumen', () => {
    const lumens = {
      ...project,
      scenes: project.scenes!.map((scene) => ({
        ...scene,
        sources: [
          source({
            id: 'one',
            light: [
              { nm: 470, weight: 1 },
              { nm: 620, weight: 3 },
            ],
          }),
        ],
        detectors: scene.detectors.map((one) => ({ ...one, light: 'photometric' as const })),
        sampling: { ...scene.sampling, rays: 200_000 },
      })),
    };
    const [table] = run(lumens, 'flux_by_source').panels as TablePanel[];
    expect(table.columns[3].unit).to.equal('lm');
    expect(table.rows[0][5]).to.be.closeTo(50, 0.2);
  });
});
