import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { applyEdits } from '../project/edit.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { tolerancePlaces } from '../tolerances/edits.ts';
import { perturbed } from '../tolerances/perturb.ts';
import { toleranceTitle } from '../tolerances/titles.ts';
import { summaryOf, type LotTrial } from './lot-summary.ts';
import { makeTrials } from './monte-carlo.ts';
import { sampleEach } from './one-by-one.ts';
import { watchedRequirements } from './watched.ts';

const read = readProjectText(readFileSync('samples/sector-lantern.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('The sample cannot be read.');
const [scene] = read.project.scenes!;
const LANTERN: Project = read.project;
const watched = watchedRequirements(LANTERN)
  .filter(({ id }) => id === 'flux')
  .map((one) => ({ ...one, settings: { ...(one.settings as object), rays: 2048 } }));
const study = (tolerances: readonly Tolerance[]) => ({ project: LANTERN, tolerances, compensators: [], watched });

function lot(tolerances: readonly Tolerance[], count: number) {
  const trials: LotTrial[] = [];
  const work = makeTrials({ ...study(tolerances), seed: 3 }, 0, count);
  let step = work.next();
  for (; !step.done; step = work.next()) trials.push(step.value);
  if (!step.value.ok) throw new Error(step.value.reason);
  const { values: nominal, units } = step.value.value;
  const [design] = nominal;
  const values = trials.map((one) => one.values[0]);
  const errors = trials.map((one) => one.errors?.[0] ?? null);
  return { summary: summaryOf(values, {}, errors)!, design: design.ok ? design.value : NaN, trials, units };
}

describe('tolerances of a scene', () => {
  it('with no effect are found to have none: all of the deviation is noise of rays', () => {
    // A board behind the LEDs, moved across.
    const none: Tolerance = {
      id: 'board',
      kind: 'number',
      address: 'scenes.scene.parts.board.frame.dx',
      lower: -0.1,
      upper: 0.1,
    };
    const { summary, units, design } = lot([none], 120);
    expect(units).to.deep.equal(['lm']); // of this detector; others count W
    expect(summary.mean).to.be.closeTo(design, 5 * summary.deviation);
    const { noise, deviation } = summary;
    expect(noise!.deviation).to.be.above(0);
    expect(deviation / noise!.deviation).to.be.within(0.8, 1.2); // √(1/2·119) = 6.5 %, three times
    expect(noise!.spreadRange[0]).to.equal(0);
  });

  it('that spread a flux in a known way are told apart from the noise', function () {
    this.timeout(240_000); // half a minute of tracing, more beside other work
    // All three LEDs brighter or dimmer by a fifth, each on its own: the shares on the water add up in squares.
    const leds = scene.sources.map(({ id }): Tolerance => {
      const address = `scenes.scene.sources.${id}.flux`;
      return { id, kind: 'share', address, lower: -20, upper: 20, distribution: { kind: 'ends' } };
    });
    const effects: number[] = [];
    const work = sampleEach(study(leds), 3);
    let step = work.next();
    for (; !step.done; step = work.next()) {
      const [{ fit, error }] = step.value.curves;
      expect(error).to.be.above(0);
      effects.push(20 * fit!.slope);
    }
    const { summary, trials } = lot(leds, 200);
    const { spread, spreadRange, deviation } = summary.noise!;
    const wanted = Math.hypot(...effects);
    expect(spreadRange[0]).to.be.above(0);
    expect(wanted).to.be.within(spreadRange[0], spreadRange[1]);
    expect(spread).to.be.closeTo(wanted, 0.15 * wanted);
    expect(deviation).to.be.below(summary.deviation);
    // Rays of its own in each trial; again the same for the same number.
    const errors = trials.map((one) => one.errors![0]);
    expect(new Set(errors).size).to.equal(errors.length);
    expect(lot(leds, 2).trials).to.deep.equal(trials.slice(0, 2));
  });

  it('are given to all places in one step, can be made, and are called by their things', () => {
    const { edits } = tolerancePlaces(LANTERN, scene);
    const project = applyEdits(LANTERN, edits).project;
    const { tolerances } = project.tolerancing!;
    const ids = tolerances.map(({ id }) => id);
    expect(ids).to.include.members(['scene_white_led_dx', 'scene_white_led_flux', 'scene_collimator_tx']);
    for (const tolerance of tolerances)
      expect(perturbed(LANTERN, [{ of: tolerance, by: tolerance.upper }]).ok, tolerance.id).to.equal(true);
    const titles = tolerances.map((one) => toleranceTitle(project, one));
    expect(new Set(titles).size).to.equal(titles.length);
    expect(titles.some((title) => title.includes('scenes.'))).to.equal(false);
    // Again: in their place, not beside them.
    const again = applyEdits(project, tolerancePlaces(project, scene).edits).project;
    expect(again.tolerancing!.tolerances).to.deep.equal(tolerances);
  });
});
