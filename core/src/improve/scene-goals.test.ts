import { expect } from 'chai';
import { IMAGE, leastRadius, measured, mirrorScene } from './fixtures.ts';
import { polish, warnings } from './polish.ts';
import { MeritProblem } from './problem.ts';

describe('goals in a scene', () => {
  it('bring a tilted mirror and its screen to the wanted place and the least spot, within three standard errors', () => {
    const start = mirrorScene(0.6, -0.45, 165);
    const off = Math.hypot(measured(start, 'detector_centroid_x').value, measured(start, 'detector_centroid_y').value);
    expect(off).to.be.within(3.5, 4.5);
    const run = polish(start, null);
    let step = run.next();
    while (!step.done) step = run.next();
    if (!step.value.ok) throw new Error(step.value.reason);
    const { method, reason, project, evaluations } = step.value.value;
    expect(method).to.equal('values');
    expect(reason).to.equal('noise');
    expect(evaluations).to.be.below(1000);
    // Looked at with other rays than those of the run.
    const seen = {
      ...project,
      scenes: project.scenes!.map((scene) => ({ ...scene, sampling: { ...scene.sampling, seed: 77 } })),
    };
    for (const measure of ['detector_centroid_x', 'detector_centroid_y']) {
      const { value, standardError } = measured(seen, measure);
      expect(Math.abs(value), measure).to.be.below(3 * Math.SQRT2 * standardError);
    }
    const radius = measured(seen, 'detector_rms_radius');
    expect(Math.abs(radius.value - leastRadius())).to.be.below(3 * Math.SQRT2 * radius.standardError);
  }).timeout(120_000);

  it('are asked about where nothing bounds what may move', () => {
    const bounded = warnings(mirrorScene(0, 0, IMAGE), null);
    expect(bounded).to.deep.equal({ ok: true, value: [] });
    const anywhere = mirrorScene(0, 0, IMAGE);
    const parameters = Object.fromEntries(
      Object.keys(anywhere.parameters!).map((address) => [address, { kind: 'free' as const }]),
    );
    const asked = warnings({ ...anywhere, parameters }, null);
    if (!asked.ok) throw new Error(asked.reason);
    expect(asked.value.map(({ asks }) => asks)).to.deep.equal([true]);
    expect(asked.value[0].text).to.match(/No free number has a bound/);
  }).timeout(30_000);

  it('tell the standard errors that other random numbers show', () => {
    const rows = (seed: number) => {
      const made = MeritProblem.of(mirrorScene(0.2, 0.1, IMAGE, seed), null);
      if (!made.ok) throw new Error(made.reason);
      const { value: problem } = made;
      return {
        sampled: problem.sampled,
        values: problem.values(problem.start)!,
        errors: problem.errors(problem.start),
      };
    };
    const all = Array.from({ length: 24 }, (_, k) => rows(100 + k));
    expect(all.every(({ sampled }) => sampled)).to.equal(true);
    for (let i = 0; i < 3; i++) {
      const mean = all.reduce((sum, { values }) => sum + values[i], 0) / all.length;
      const spread = Math.sqrt(all.reduce((sum, { values }) => sum + (values[i] - mean) ** 2, 0) / (all.length - 1));
      expect(all[0].errors[i] / spread, `row ${i}`).to.be.within(0.5, 2);
    }
  }).timeout(60_000);
});
