import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { Goal, MeasureGoal } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { eachField } from './each-field.ts';
import { polishToEnd } from './polish.ts';
import { MeritProblem } from './problem.ts';
import { meritStand } from './stand.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const tide = read.project;
const spot = (more: Partial<MeasureGoal>): MeasureGoal => ({
  id: 'spot',
  kind: 'measure',
  measure: 'rms_spot_radius',
  of: 'tide',
  settings: { field: 'worst' },
  weight: 1,
  ...more,
});
const angle = {
  id: 'angle',
  kind: 'measure',
  measure: 'chief_ray_angle',
  of: 'tide',
  settings: { field: 'edge' },
  weight: 1,
  max: 16.4,
} as const;
const names = ['l1_front.radius', 'l4_back.thickness'];
const withGoals = (goals: readonly Goal[]): Project => ({
  ...tide,
  goals,
  parameters: Object.fromEntries(names.map((name) => [`lenses.tide.surfaces.${name}`, { kind: 'free' as const }])),
});

describe('a limit on the worst field', () => {
  it('is a limit on each that counts; targets and lower limits are of the worst itself', () => {
    const fields = (goal: MeasureGoal) => eachField(new Evaluation(tide), goal).map(({ settings }) => settings?.field);
    expect(fields(spot({ max: 5 }))).to.deep.equal(['axis', 'zone', 'edge']);
    for (const more of [{ target: 5 }, { min: 5 }, { min: 1, max: 5 }])
      expect(fields(spot(more))).to.deep.equal(['worst']);
    expect(fields(spot({ max: 5, settings: { field: 'edge' } }))).to.deep.equal(['edge']);
    const points = tide.lenses[0].fields.points.map((point) => ({
      ...point,
      weight: point.id === 'zone' ? 0 : 1,
    }));
    const lens = { ...tide.lenses[0], fields: { ...tide.lenses[0].fields, points } };
    expect(eachField(new Evaluation({ ...tide, lenses: [lens] }), spot({ max: 5 }))).to.have.length(2);
  });

  it('counts in the merit on screen as in that of a run', () => {
    const project = withGoals([spot({ max: 7 }), angle]);
    const made = MeritProblem.of(project, null);
    if (!made.ok) throw new Error(made.reason);
    const values = made.value.values(made.value.start)!;
    const counted = values.map((value, i) => (made.value.oneSided.includes(i) ? Math.max(0, value) : value));
    expect(meritStand(new Evaluation(project)).merit).to.be.closeTo(Math.hypot(...counted), 1e-9);
  });

  it('lets a run come to where the sum has no slope, though fields become equally bad on the way', () => {
    const project = withGoals([spot({ max: 5 })]);
    const run = polishToEnd(project, null, { gain: 1e-10, slow: 0 });
    if (!run.ok) throw new Error(run.reason);
    const made = MeritProblem.of(run.value.project, null);
    if (!made.ok) throw new Error(made.reason);
    const problem = made.value;
    const values = problem.values(problem.start)!;
    const columns = problem.columns(problem.start);
    const counts = values.map((value, i) => (value > 0 || !problem.oneSided.includes(i) ? value : 0));
    for (const column of columns) {
      const active = column.map((slope, i) => (counts[i] === 0 ? 0 : slope));
      const dot = active.reduce((sum, slope, i) => sum + slope * counts[i], 0);
      expect(Math.abs(dot) / (Math.hypot(...active) * Math.hypot(...counts))).to.be.below(1e-3);
    }
    expect(values.filter((value, i) => value > 0 && i < 3).length).to.be.above(1); // several fields at once
  });
});
