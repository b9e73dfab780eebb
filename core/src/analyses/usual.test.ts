import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { seidel } from '../imaging/field/seidel.ts';
import { atOnce } from '../math/steps.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { analysisSettings, type Analysed } from './analysis.ts';
import type { CurvePanel, DotPanel, TablePanel } from './panels.ts';
import { findAnalysis, runAnalysis } from './registry.ts';

/** The analyses that every designer looks at first, against measures that are computed by other code. */
describe('the usual analyses', () => {
  let project: Project;
  before(() => {
    const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
    if (!read.ok) throw new Error('unreadable');
    ({ project } = read);
  });

  function run(id: string, settings: object = {}, of: Project = project): Analysed {
    const found = atOnce(runAnalysis(new Evaluation(of), { analysis: id, lens: 'tide', settings, detail: 'full' }));
    if (!found.ok) throw new Error(found.reason);
    return found.value;
  }
  function measure(id: string, settings: Record<string, unknown>): number {
    const found = evaluateMeasure(new Evaluation(project), { measure: id, lens: 'tide', settings });
    if (!found.ok) throw new Error(found.reason);
    return found.value.value;
  }
  /** The tide camera with one of its numbers changed so that its widest field is lost. */
  const blocked = (): Project => ({
    ...project,
    lenses: project.lenses.map((lens) => ({
      ...lens,
      fields: { ...lens.fields, points: [...lens.fields.points, { id: 'beyond', x: 0, y: 85, weight: 1 }] },
    })),
  });

  it('spots have the RMS radius of the measure, all rays inside of their box, and an Airy ring', () => {
    const { panels, about, resolved } = run('spots');
    expect(panels).to.have.length(3);
    for (const panel of panels as readonly DotPanel[]) {
      const field = panel.title;
      expect(panel.figures![0].value).to.be.closeTo(measure('rms_spot_radius', { field, pupil: 'clipped' }), 0.02);
      const [, half] = panel.x.range!;
      expect(half).to.equal(resolved!.box);
      for (const { x, y } of panel.groups)
        for (const value of [...x, ...y]) expect(Math.abs(value)).to.be.at.most(half);
      expect(panel.outlines[0].name).to.equal('Airy');
    }
    expect(about.join(' · ')).to.match(/Airy 2\.5–2\.8 µm · box ±35 µm · about the centroid · 12 × 24 rays/);
    expect((run('spots', { box: 20 }).panels[0] as DotPanel).x.range).to.deep.equal([-20, 20]);
  });

  it('of a field without rays say so, and show the others', () => {
    for (const id of ['spots', 'ray_fans', 'opd_fans', 'mtf']) {
      const { panels, missing } = run(id, {}, blocked());
      expect(missing, id).to.have.length(1);
      expect(missing![0], id).to.match(/^beyond /);
      expect(panels.length, id).to.be.above(0);
    }
    const fans = run('ray_fans', {}, blocked());
    expect(fans.panels.map(({ title }) => title)).to.include('beyond sagittal: no chief ray');
    expect(fans.columns).to.equal(4);
  });

  it('ray fans pass through the chief ray and are as high as their scale says', () => {
    const { panels, resolved } = run('ray_fans');
    expect(panels.map(({ title }) => title)).to.deep.equal([
      ...['axis', 'zone', 'edge'].map((field) => `${field} tangential`),
      ...['axis', 'zone', 'edge'].map((field) => `${field} sagittal`),
    ]);
    let largest = 0;
    for (const { curves, y } of panels as readonly CurvePanel[]) {
      expect(y.range).to.deep.equal([-resolved!.scale, resolved!.scale]);
      const primary = curves.find(({ name }) => name.startsWith('d'))!;
      expect(primary.y[primary.x.indexOf(0)]).to.be.closeTo(0, 1e-9);
      largest = Math.max(largest, ...curves.flatMap((one) => one.y.filter(Number.isFinite).map(Math.abs)));
    }
    expect(largest).to.be.within(0.5 * resolved!.scale, resolved!.scale);
    expect(run('ray_fans', { direction: 'sagittal' }).panels).to.have.length(3);
  });

  it('wavefront fans are 0 on the chief ray of each colour', () => {
    for (const { curves } of run('opd_fans').panels as readonly CurvePanel[])
      for (const { x, y } of curves) expect(y[x.indexOf(0)]).to.be.closeTo(0, 1e-9);
  });

  it('the MTF is 1 at the middle, that of the measure at a frequency, and nowhere above its limit', () => {
    const { panels } = run('mtf', { highest: 100 });
    const { curves } = panels[0] as CurvePanel;
    const edge = curves.find(({ name }) => name === 'edge tangential')!;
    const at = edge.x.findIndex((frequency) => Math.abs(frequency - 50) < 1e-9);
    const settings = { field: 'edge', frequency: 50, direction: 'tangential' };
    expect(edge.y[0]).to.be.closeTo(1, 1e-9);
    expect(edge.y[at]).to.be.closeTo(measure('mtf', settings), 1e-5);
    const limits = curves.filter(({ tint }) => tint === 'limit');
    expect(limits).to.have.length(6);
    for (const [k, { y }] of curves.filter(({ tint }) => tint !== 'limit').entries())
      y.forEach((value, i) => expect(value).to.be.at.most(limits[k].y[i] + 1e-3));
  });

  it('field curves run from the axis to the largest field, with the distortion of the measure at its end', () => {
    const { panels } = run('field_curves');
    const [foci, distortion, light] = panels as readonly CurvePanel[];
    expect(foci.curves).to.have.length(6);
    for (const { y } of foci.curves) expect([y[0], y.at(-1)]).to.deep.equal([0, 16]);
    expect(distortion.curves[0].x.at(-1)).to.be.closeTo(measure('distortion', { field: 'edge' }), 1e-9);
    expect(light.curves[0].x[0]).to.be.closeTo(1, 1e-12);
    for (const [k, value] of light.curves[1].x.entries())
      expect(value, 'through apertures').to.be.at.most(light.curves[0].x[k] + 1e-9);
  });

  it('Seidel sums add up, in mm and in waves, and name the surface that contributes most', () => {
    const lens = new Evaluation(project).lens('tide');
    const sums = lens.ok ? seidel(lens.value) : lens;
    if (!sums.ok) throw new Error(sums.reason);
    const table = (unit: string) => run('seidel', { unit }).panels[0] as TablePanel;
    const [mm, waves] = [table('mm'), table('waves')];
    expect(mm.total!.slice(1)).to.deep.equal(Object.values(sums.value.total));
    expect(waves.total![1]).to.be.closeTo(sums.value.waves.w040, 1e-12);
    mm.columns.slice(1).forEach(({ bars }, k) => {
      expect(bars).to.equal(true);
      const column = mm.rows.map((row) => Number(row[k + 1]));
      expect(column.reduce((sum, value) => sum + value, 0)).to.be.closeTo(Number(mm.total![k + 1]), 5e-4);
    });
    expect(run('seidel').words![0]).to.match(
      /^l2_back contributes most to Petzval curvature, the largest sum; \d+ % of what all/,
    );
  });

  it('the first-order table has the focal lengths of the measure, and what the image surface shows', () => {
    const table = run('first_order').panels[0] as TablePanel;
    const row = (title: string) => table.rows.find(([first]) => first === title)!;
    const strong = table.columns.findIndex((column) => column.strong);
    expect(row('focal length')[strong]).to.be.closeTo(measure('effective_focal_length', {}), 1e-12);
    expect(row('paraxial magnification'), 'of a far object').to.equal(undefined);
    expect(row('image scale in use')[strong]).to.be.closeTo(36, 0.4);
    expect(row('image scale in use').filter((value) => value === '')).to.have.length(2);
  });

  it('take settings as earlier versions kept them', () => {
    const settings = (id: string, given: object) => {
      const read = analysisSettings(findAnalysis(id)!, given);
      return read.ok ? read.value : read.reason;
    };
    expect(settings('spots', { reference: 'chief', pupil: 'full', sampling: 3, box: null })).to.deep.equal({
      reference: 'chief',
      pupil: 'full',
      sampling: '24 × 48',
      box: 0,
    });
    expect(settings('ray_fans', { direction: 'sagittal', pupil: 'full', scale: null })).to.deep.equal({
      direction: 'sagittal',
      pupil: 'full',
      scale: 0,
    });
    expect(settings('mtf', { method: 'simple', colours: 'primary', highest: null })).to.deep.include({ highest: 0 });
    expect(settings('spots', { sampling: 99 })).to.deep.include({ sampling: '12 × 24' });
  });
});
