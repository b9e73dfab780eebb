import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { seidel } from '../imaging/field/seidel.ts';
import { evaluationOf, TWO_ELEMENTS } from '../imaging/evaluation/wavefront-fixtures.ts';
import { atOnce } from '../math/steps.ts';
import { applyEdits } from '../project/edit.ts';
import { readProjectText } from '../project/read.ts';
import { analyse, looksAtScene, type Analysed, type Analysis } from './analysis.ts';
import {
  panelRows,
  type BarPanel,
  type Curve,
  type CurvePanel,
  type DotPanel,
  type MapPanel,
  type Panel,
} from './panels.ts';
import { applyGrade } from '../tolerances/edits.ts';
import { GRADES } from '../tolerances/grades.ts';
import { ANALYSES, runAnalysis } from './registry.ts';

const OF_LENSES = ANALYSES.filter((one): one is Analysis => !looksAtScene(one));
const OF_SCENES = ANALYSES.filter(looksAtScene);
const ofLens = (id: string) => OF_LENSES.find((one) => one.id === id)!;

function run(lens: LensEvaluation, id: string, settings: object = {}, detail: 'draft' | 'full' = 'full'): Analysed {
  const found = atOnce(analyse(lens, ofLens(id), settings, detail));
  if (!found.ok) throw new Error(`${id}: ${found.reason}`);
  return found.value;
}

const curve = (panel: Panel, name: string): Curve => {
  const found = (panel as CurvePanel).curves.find((one) => one.name === name);
  if (!found) throw new Error(`no curve ${name}`);
  return found;
};
const figure = ({ panels }: Analysed, name: string) =>
  panels.flatMap(({ figures = [] }) => figures).find((one) => one.name === name)!.value;

/** A paraboloid of F/20 on its axis, its image surface moved. */
const mirror = (dz = 0) => evaluationOf([{ r: -400, k: -1, t: -200 + dz, n: 'mirror' }], { pupil: 10, field: 0.5 });
const LAMBDA = 587.5618e-6;

/** A sample, with tolerances where it has none. */
function sample(name: string): { evaluation: Evaluation; lens: string } {
  const read = readProjectText(readFileSync(`samples/${name}.ulvex.json`, 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  const { project } = read;
  const [lens] = project.lenses;
  const edits = project.tolerancing ? [] : applyGrade(project, lens, GRADES[0]).edits;
  return { evaluation: new Evaluation(applyEdits(project, edits).project), lens: lens.id };
}

function checkPanel(panel: Panel, what: string): void {
  if (panel.kind === 'curves' || panel.kind === 'dots') {
    const lines = panel.kind === 'curves' ? panel.curves : [...panel.groups, ...panel.outlines];
    for (const { x, y } of lines) expect(x.length, what).to.equal(y.length);
    const values = lines.flatMap(({ y }) => y);
    expect(values.some(Number.isFinite), what).to.equal(true);
    expect(
      values.some((value) => Math.abs(value) === Infinity),
      what,
    ).to.equal(false);
  } else if (panel.kind === 'map') {
    expect(panel.values, what).to.have.length(panel.columns * panel.rows);
    expect(
      panel.values.some((value) => !Number.isNaN(value)),
      what,
    ).to.equal(true);
  } else if (panel.kind === 'picture') {
    expect(panel.rgb, what).to.have.length(3 * panel.columns * panel.rows);
    expect(
      panel.rgb.reduce((a, b) => Math.min(a, b)),
      what,
    ).to.be.at.least(0);
    expect(
      panel.rgb.reduce((a, b) => Math.max(a, b)),
      what,
    ).to.be.within(0.3, 1.5);
  } else if (panel.kind === 'bars')
    for (const { values } of panel.series) expect(values, what).to.have.length(panel.names.length);
  else for (const row of panel.rows) expect(row, what).to.have.length(panel.columns.length);
}

describe('Analyses', () => {
  for (const name of ['tide-camera', 'ice-glass']) {
    let shared: ReturnType<typeof sample> | undefined;
    for (const { id } of OF_LENSES)
      it(`${id} answers for ${name}, coarsely near to what it says in full`, () => {
        const { evaluation, lens } = (shared ??= sample(name));
        const [draft, full] = (['draft', 'full'] as const).map((detail) =>
          atOnce(runAnalysis(evaluation, { analysis: id, lens, settings: {}, detail })),
        );
        if (!draft.ok || !full.ok) throw new Error(draft.ok ? '' : draft.reason);
        expect(full.value.about.length).to.be.above(0);
        expect(draft.value.panels.map(({ title }) => title)).to.deep.equal(full.value.panels.map(({ title }) => title));
        full.value.panels.forEach((panel) => checkPanel(panel, id));
        draft.value.panels.forEach(({ figures = [] }, i) =>
          figures.forEach(({ name: what, value }, k) => {
            const right = full.value.panels[i].figures![k].value;
            if (Number.isFinite(right) && Math.abs(right) > 0.01) expect(value / right, what).to.be.within(0.85, 1.15);
          }),
        );
        expect(panelRows(full.value.panels).length).to.be.above(2);
      });
  }

  it('say how far they looked where that was left to the lens; another lens asked so is seen at the same scale', () => {
    const [sharp, blurred] = [mirror(), mirror(3)];
    const ids = ['spots_focus', 'spots_field', 'quality_focus', 'mtf_focus'];
    for (const id of ids) {
      const found = run(sharp, id, {}, 'draft');
      expect(run(sharp, id, found.resolved, 'draft').panels, id).to.deep.equal(found.panels);
      const own = run(blurred, id, {}, 'draft');
      const alike = run(blurred, id, found.resolved, 'draft');
      expect(alike.resolved, id).to.deep.equal(found.resolved);
      expect(own.resolved, id).not.to.deep.equal(found.resolved);
      const titles = ({ panels }: Analysed) => panels.map(({ title }) => title);
      expect(titles(alike), id).to.deep.equal(titles(found));
    }
  });

  it('enlarge spots over the field by the scale that is asked for', () => {
    const reach = (scale: number) => {
      const [panel] = run(mirror(3), 'spots_field', { scale }).panels as DotPanel[];
      // The spot of the field in the middle alone lies about the axis.
      const middle = panel.groups[0].x.filter((x, i) => Math.hypot(x, panel.groups[0].y[i]) < 0.08);
      return Math.max(...middle);
    };
    expect(reach(400) / reach(200)).to.be.closeTo(0.5, 1e-6);
  });

  it('are told apart by their ids, and refuse what they do not know', () => {
    expect(new Set(ANALYSES.map(({ id }) => id)).size).to.equal(ANALYSES.length);
    const { evaluation, lens } = sample('tide-camera');
    const ask = (analysis: string, settings: object, of = lens) => {
      const found = atOnce(runAnalysis(evaluation, { analysis, lens: of, settings, detail: 'draft' }));
      return found.ok ? '' : found.reason;
    };
    expect(ask('beauty', {})).to.match(/no analysis “beauty”/);
    expect(ask('footprint', {}, 'gone')).to.match(/no lens “gone”/);
    expect(ask('footprint', { surface: 'gone' })).to.match(/no surface “gone”; there are l1_front/);
    expect(ask('zernike', { terms: 3 })).to.match(/terms must be at least 4/);
    expect(ask('zernike', { words: 3 })).to.match(/no such setting/);
    expect(ask('point_spread', { field: 'gone' })).to.match(/no field “gone”/);
    expect(ask('point_spread', { colour: 'pink' })).to.match(/no wavelength “pink”/);
  });

  it('find the best focus of a perfect mirror where it is, and its MTF there after Hopkins', () => {
    const shifted = mirror(0.3);
    // Light goes toward −z after the mirror: a shift along z brings it back.
    expect(
      figure(run(shifted, 'quality_focus', { quality: 'spot', range: 1, field: 'axis' }), 'axis best at'),
    ).to.be.closeTo(-0.3, 2e-3);
    expect(
      figure(run(shifted, 'quality_focus', { quality: 'wavefront', range: 1, field: 'axis' }), 'axis best at'),
    ).to.be.closeTo(-0.3, 2e-3);
    // Half a wave of defocus at the edge: values of the exact integral at shares of the cutoff.
    const waves = 0.5;
    const dz = (waves * LAMBDA) / (1 - Math.cos(Math.asin(1 / 40)));
    const cutoff = 1 / (LAMBDA * 20);
    for (const [share, value] of [
      [0.1, 0.7420891248775614],
      [0.25, 0.31733212664310323],
      [0.5, 0.08460882061000675],
    ]) {
      const [panel] = run(mirror(), 'mtf_focus', { frequency: share * cutoff, range: dz, field: 'axis' }).panels;
      const along = curve(panel, 'axis tangential');
      expect(along.y[0], `${share}`).to.be.closeTo(value, 2e-3);
      expect(along.y.at(-1)).to.be.closeTo(value, 2e-3);
      expect(curve(panel, 'axis sagittal').y[0]).to.be.closeTo(value, 2e-3);
    }
  });

  it('give a defocused wavefront its Zernike term W/(2√3) and the map of a paraboloid', () => {
    const dz = 0.4;
    const lens = mirror(dz);
    const waves = (dz * (1 - Math.cos(2 * Math.atan(5 / 400)))) / LAMBDA;
    const [bars] = run(lens, 'zernike', { field: 'axis' }).panels as [BarPanel];
    const focus = bars.series[0].values[bars.names.findIndex((name) => name.startsWith('4 '))];
    expect(Math.abs(focus)).to.be.closeTo(waves / (2 * Math.sqrt(3)), 1e-3);
    const map = run(lens, 'wavefront_map', { field: 'axis' });
    expect(figure(map, 'RMS')).to.be.closeTo(waves / Math.sqrt(12), 3e-3);
    expect(figure(run(lens, 'wavefront_map', { field: 'axis', off: 'tilt and focus' }), 'RMS')).to.be.below(1e-4);
    const panel = map.panels[0] as MapPanel;
    // Cells outside of the pupil hold nothing.
    expect(panel.values[0]).to.be.NaN;
    const spherical = evaluationOf([{ r: -400, k: -1, t: -200, n: 'mirror' }], { pupil: 40, field: 0.5 });
    const sag = run(spherical, 'sag_map', { surface: 'stop', from: 'base sphere' });
    const r = 20;
    const sphere = -(400 - Math.sqrt(400 * 400 - r * r));
    expect(figure(sag, 'P–V')).to.be.closeTo(1000 * Math.abs(-(r * r) / 800 - sphere), 0.05);
    expect(figure(run(spherical, 'sag_map', { surface: 'stop', from: 'base conic' }), 'P–V')).to.be.below(1e-9);
    expect(
      figure(
        run(evaluationOf(TWO_ELEMENTS, { pupil: 6, field: 4 }), 'sag_map', { surface: 'stop' }),
        'radius of the best sphere',
      ),
    ).to.be.closeTo(30, 1e-6);
  });

  it('take the sag of one surface from another, vertex on vertex', () => {
    const lens = evaluationOf(TWO_ELEMENTS, { pupil: 6, field: 4 });
    const [first, second] = lens.model.surfaces.map(({ id }) => id);
    const same = run(lens, 'sag_map', { surface: first, from: 'another surface', other: first });
    expect(figure(same, 'P–V')).to.equal(0);
    const apart = run(lens, 'sag_map', { surface: first, from: 'another surface', other: second });
    const panel = apart.panels[0] as MapPanel;
    const sag = (r2: number, r: number) => r2 / r / (1 + Math.sqrt(1 - r2 / r ** 2));
    // The cell in the middle of the last row that holds one.
    const semi = panel.x.range[1];
    const y = semi * ((2 * (panel.rows - 0.5)) / panel.rows - 1);
    const at = (panel.rows - 1) * panel.columns + (panel.columns >> 1);
    expect(panel.values[at]).to.be.closeTo(1000 * (sag(y * y, 30) - sag(y * y, -80)), 1e-9);
    // By itself the first curved surface is looked at.
    const plain = run(lens, 'sag_map');
    expect(plain.panels[0].title).to.equal(first);
  });

  it('see the third order that the Seidel sums tell', () => {
    const lens = evaluationOf(TWO_ELEMENTS, { pupil: 3, field: 2, focused: true });
    const sums = seidel(lens);
    if (!sums.ok) throw new Error(sums.reason);
    const bars = run(lens, 'power_series').panels[0] as BarPanel;
    const value = (key: string) => bars.series[0].values[bars.names.findIndex((name) => name.startsWith(key))];
    const { w040, w131, w222 } = sums.value.waves;
    expect(value('W040')).to.be.closeTo(w040, 0.02 * Math.abs(w040));
    expect(value('W131')).to.be.closeTo(w131, 0.02 * Math.abs(w131));
    expect(value('W222')).to.be.closeTo(w222, 0.02 * Math.abs(w222));
  });

  it('share out the power of a thin lens and its Petzval curvature', () => {
    const lens = evaluationOf(
      [
        { r: 50, t: 1e-6, n: 1.5 },
        { r: -50, t: 50 },
      ],
      { pupil: 5, field: 2 },
    );
    const found = run(lens, 'powers');
    const [share, petzval] = found.panels as [BarPanel, BarPanel];
    expect(share.series[0].values[0] + share.series[0].values[1]).to.be.closeTo(100, 1e-9);
    expect(share.series[0].values[0]).to.be.closeTo(50, 1e-4);
    expect(petzval.series[0].values.reduce((a, b) => a + b)).to.be.closeTo(-1000 / (1.5 * 50), 1e-4);
    expect(figure(found, 'Petzval radius')).to.be.closeTo(-75, 1e-3);
  });

  it('know where rays of a spherical mirror cross its axis', () => {
    const lens = evaluationOf([{ r: -200, t: -100, n: 'mirror' }], { pupil: 40, field: 1 });
    const [panel] = run(lens, 'longitudinal').panels as [CurvePanel];
    const [{ x, y }] = panel.curves;
    y.forEach((height, k) => {
      // R − (R/2)/cos θ from the centre, sin θ = h/R: the image surface lies at R/2.
      const crossing = -200 + 100 / Math.cos(Math.asin((20 * height) / 200));
      expect(x[k]).to.be.closeTo(crossing + 100, 1e-6);
    });
  });

  it('say which part of a surface is met, how steeply, and what is left of the pupil', () => {
    const lens = evaluationOf([{ t: 10, n: 1.5 }, { t: 10 }, { r: 60, t: 5, n: 1.6 }, { r: -60, t: 50 }], {
      pupil: 6,
      field: 10,
    });
    const bars = run(lens, 'incidence').panels[0] as BarPanel;
    expect(bars.series[1].values[0]).to.be.closeTo(10, 1e-9);
    expect(bars.series[1].values[1]).to.be.closeTo((Math.asin(Math.sin(Math.PI / 18) / 1.5) * 180) / Math.PI, 1e-9);
    expect(figure(run(lens, 'footprint'), 'farthest ray')).to.be.closeTo(3, 1e-9);
    const other = run(lens, 'footprint', { surface: 's2' }).panels[0] as DotPanel;
    const shift = 10 * Math.tan(Math.asin(Math.sin(Math.PI / 18) / 1.5));
    expect(Math.max(...other.groups[1].y)).to.be.closeTo(3 + shift, 1e-6);
    expect(figure(run(lens, 'vignetting_field'), 'at the largest field')).to.equal(100);
    // Rays aimed at an entrance pupil that is the first surface meet it there.
    for (const { y } of (run(lens, 'pupil_aberration').panels as CurvePanel[])[0].curves)
      for (const value of y) expect(value).to.be.closeTo(0, 1e-9);
  });

  it('draw a grid of an ideal lens without distortion, and mirror images alike', () => {
    const lens = evaluationOf([], { pupil: 4, field: 20, ideal: 50 });
    expect(figure(run(lens, 'distortion_grid'), 'largest distortion')).to.be.closeTo(0, 1e-9);
    const map = run(evaluationOf(TWO_ELEMENTS, { pupil: 5, field: 5, focused: true }), 'quality_map')
      .panels[0] as MapPanel;
    for (let row = 0; row < map.rows; row++)
      for (let column = 0; column < map.columns; column++) {
        const at = (r: number, c: number) => map.values[r * map.columns + c];
        if (!Number.isNaN(at(row, column)))
          expect(at(row, column)).to.be.closeTo(at(column, row), 1e-6 + 1e-3 * at(row, column));
      }
  });

  it('name a lens without a field beside the axis, or with one colour, as the reason', () => {
    const lens = mirror();
    const fails = (id: string) => {
      const found = atOnce(analyse(lens, ofLens(id), {}, 'draft'));
      return found.ok ? '' : found.reason;
    };
    expect(fails('quality_colour')).to.match(/single wavelength/);
    expect(fails('focal_shift')).to.match(/single wavelength/);
  });
});

function lampOf(name: string): Evaluation {
  const read = readProjectText(readFileSync(`samples/${name}.ulvex.json`, 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  return new Evaluation(read.project);
}

describe('Analyses of a scene', () => {
  for (const name of ['sector-lantern', 'signal-lamp']) {
    const evaluation = lampOf(name);
    const scene = evaluation.project.scenes![0];
    for (const { id } of OF_SCENES)
      it(`${id} answers for ${name}, or says what it needs`, () => {
        const found = atOnce(runAnalysis(evaluation, { analysis: id, lens: '', settings: {}, detail: 'draft' }));
        const far = scene.detectors.some(({ on }) => on.kind === 'far');
        if (id === 'intensity' && !far) {
          expect(!found.ok && found.reason).to.match(/has no far-field detector. Add one/);
          return;
        }
        if (!found.ok) throw new Error(found.reason);
        expect(found.value.about.join()).to.match(/rays, seed 1/);
        found.value.panels.forEach((panel) => checkPanel(panel, id));
      });
  }

  it('say what is missing: a detector, a source, a scene', () => {
    const { evaluation } = sample('tide-camera');
    const ask = (settings: object, of: Evaluation, scene?: string) => {
      const found = atOnce(runAnalysis(of, { analysis: 'detector_map', lens: '', scene, settings, detail: 'draft' }));
      return found.ok ? '' : found.reason;
    };
    expect(ask({}, evaluation)).to.match(/There is no scene/);
    const lamp = lampOf('signal-lamp');
    expect(ask({ detector: 'none' }, lamp)).to.match(/There is no detector “none”; there are /);
    expect(ask({ source: 'moon' }, lamp)).to.match(/There is no source “moon” that shines/);
    expect(ask({ light: 'lux' }, lamp)).to.match(/light must be one of/);
  });
});
