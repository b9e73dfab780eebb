import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { airyRing, imageCone } from '../imaging/wavefront/image-cone.ts';
import { distortion, surfaceScale } from '../imaging/field/image-scale.ts';
import { fieldMtf, modulation, type FieldMtf, type MtfMethod } from '../imaging/point/mtf.ts';
import { pointSpread } from '../imaging/point/point-spread.ts';
import type { Outcome } from '../math/outcome.ts';
import { applyEdits } from '../project/edit.ts';
import type { Lens, Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { turnAround } from './turn-around.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('the sample does not read');
const camera = read.project;

const must = <T>(outcome: Outcome<T>): T => {
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
};
const evaluated = (project: Project) => must(new Evaluation(project).lens('tide'));
const withLens = (change: (lens: Lens) => Lens): Project => ({
  ...camera,
  lenses: [change(camera.lenses[0])],
});

/** The camera turned around for a throw, mm. */
function thrown(distance: number): LensEvaluation {
  const settings = { throw: distance, spacing: 'equal areas', refocus: 'RMS spot' };
  const made = must(turnAround.run({ project: camera, lens: camera.lenses[0] } as never, settings as never));
  return evaluated(applyEdits(camera, made.edits).project);
}

/** The camera with its sensor moved along the axis. */
const moved = (shift: number) =>
  evaluated(
    withLens((lens) => ({
      ...lens,
      surfaces: lens.surfaces.map((one, j) =>
        j === lens.surfaces.length - 2
          ? { ...one, after: { ...one.after!, thickness: one.after!.thickness + shift } }
          : one,
      ),
    })),
  );

const METHODS: readonly MtfMethod[] = ['physical', 'simple', 'geometric'];
const fields = (lens: LensEvaluation) => lens.model.lens.fields.points;
const mtf = (lens: LensEvaluation, k: number, method: MtfMethod, frequency: number): FieldMtf =>
  must(fieldMtf(lens, fields(lens)[k], { method, frequencies: [frequency] }));
/** Modulation along y and along x, and the limits. */
const both = ({ tangential, sagittal, limits }: FieldMtf) => ({
  seen: [modulation(tangential[0]), modulation(sagittal[0])],
  limit: [limits.tangential[0], limits.sagittal[0]],
});

/** Second differences of values at even steps, over the largest value. */
const roughness = (values: readonly number[]) =>
  Math.max(...values.slice(2).map((next, i) => Math.abs(next - 2 * values[i + 1] + values[i]))) /
  Math.max(...values.map(Math.abs));

function belowItsLimit(lens: LensEvaluation, frequency: number): void {
  for (const k of fields(lens).keys())
    for (const method of ['physical', 'simple'] as const) {
      const { seen, limit } = both(mtf(lens, k, method, frequency));
      seen.forEach((value, way) => expect(value, `${method} ${k}`).to.be.below(limit[way] + 1e-6));
    }
}

describe('A lens thrown from near to far', function () {
  this.timeout(120_000);
  const throws = [300, 500, 1000, 2000, 5000, 20_000, 100_000, 1e6];
  const lenses = throws.map(thrown);
  /** A pattern of the same angle at every throw: 0.1 cycles/mm at 5 m. */
  const frequencies = throws.map((distance) => 500 / distance);

  it('has its light below the limit of its own cone at every throw, and about as much in all models', () => {
    lenses.forEach((lens, i) => {
      belowItsLimit(lens, frequencies[i]);
      const [physical, simple, geometric] = METHODS.map((method) => both(mtf(lens, 0, method, frequencies[i])));
      // On the axis the pupil is regular.
      physical.seen.forEach((value, way) => {
        expect(value, `${throws[i]}`).to.be.closeTo(simple.seen[way], 2e-3);
        // Diffraction takes its own part of what the spot passes.
        expect(value).to.be.closeTo(geometric.seen[way] * physical.limit[way], 0.02);
      });
    });
  });

  it('comes smoothly to what it does at infinity', () => {
    const last = (values: readonly number[]) => values.at(-1)!;
    const told = {
      airy: lenses.map((lens, i) => airyRing(lens, fields(lens)[0])![1] / throws[i]),
      edgeAiry: lenses.map((lens, i) => airyRing(lens, fields(lens)[2])![1] / throws[i]),
      scale: lenses.map((lens, i) => Math.abs(must(surfaceScale(lens)).value) / throws[i]),
      distortion: lenses.map((lens) => 1 + must(distortion(lens, fields(lens)[2]))),
      axis: lenses.map((lens, i) => both(mtf(lens, 0, 'physical', frequencies[i])).seen[0]),
      edge: lenses.map((lens, i) => both(mtf(lens, 2, 'physical', frequencies[i])).seen[1]),
    };
    for (const [name, values] of Object.entries(told)) {
      // What is left to infinity goes with one over the throw: straight lines over it, to the last digits for the far ones.
      const over = (i: number) => (values[i] - last(values)) * throws[i];
      expect(Math.abs(values[6] / last(values) - 1), name).to.be.below(2e-3);
      expect(Math.abs(over(4) - over(5)), name).to.be.below(0.1 * Math.abs(over(4)) + 2 * last(values));
    }
    // f/D of the camera is 3.5 and its focal length 36 mm: the angle of the Airy ring is 1.22 λ/D′.
    const diameter = 36.0006 / 3.50006;
    expect(last(told.airy)).to.be.closeTo((1.21967 * 0.5875618) / diameter, 0.05 * last(told.airy));
    // 1/f, but for the object's standing at the best focus, 1 % of f away from the paraxial one.
    expect(last(told.scale)).to.be.closeTo(1 / 36.0006, 0.01 / 36);
  });

  it('has a Strehl ratio below 1 and a point image as wide as its spot or its Airy ring', () => {
    for (const [i, lens] of lenses.entries()) {
      const spread = must(pointSpread(lens, fields(lens)[0], { method: 'transform', detail: 'full' }));
      const peak = spread.values.reduce((a, b) => Math.max(a, b), 0);
      expect(peak / spread.perfect, `${throws[i]}`).to.be.within(0, 1 + 1e-9);
      const light = spread.values.reduce((a, b) => a + b, 0) * spread.pitch ** 2;
      expect(light, `light at ${throws[i]}`).to.be.closeTo(1, 0.02);
      const direct = must(pointSpread(lens, fields(lens)[0], { method: 'direct', detail: 'draft' }));
      const highest = direct.values.reduce((a, b) => Math.max(a, b), 0);
      expect(highest / direct.perfect, `direct at ${throws[i]}`).to.be.closeTo(peak / spread.perfect, 0.03);
    }
  });
});

describe('A lens whose image surface is moved', function () {
  this.timeout(60_000);
  const shifts = Array.from({ length: 9 }, (_, k) => (k - 4) / 4);
  const lenses = shifts.map(moved);

  it('has its light below its limit, and smooth numbers', () => {
    lenses.forEach((lens) => belowItsLimit(lens, 2));
    const cone = (lens: LensEvaluation) => must(imageCone(lens, fields(lens)[2])).half;
    for (const [name, values] of Object.entries({
      airy: lenses.map((lens) => airyRing(lens, fields(lens)[2])![1]),
      tangentialCone: lenses.map((lens) => cone(lens)[1]),
      sagittalCone: lenses.map((lens) => cone(lens)[0]),
      scale: lenses.map((lens) => must(surfaceScale(lens)).value),
      distortion: lenses.map((lens) => 1 + must(distortion(lens, fields(lens)[2]))),
    }))
      expect(roughness(values), name).to.be.below(2e-4);
    for (const method of METHODS)
      for (const k of [0, 2])
        for (const way of [0, 1]) {
          const values = lenses.map((lens) => both(mtf(lens, k, method, 2)).seen[way]);
          expect(roughness(values), `${method} ${k} ${way}`).to.be.below(0.12);
        }
  });

  it('keeps its distortion near the design’s, and its scale with the distance from the exit pupil', () => {
    const [first, , , , design, , , , last] = lenses;
    const bend = (lens: LensEvaluation) => must(distortion(lens, fields(lens)[2]));
    expect(bend(design)).to.be.closeTo(0.0016123, 1e-7);
    expect(bend(first)).to.be.closeTo(bend(last), 1e-3);
    const scale = (lens: LensEvaluation) => must(surfaceScale(lens)).value;
    // The chief ray near the axis leaves the exit pupil, so that heights grow by their share of the way from there.
    const primary = must(design.primary());
    const way = design.model.surfaces.at(-2)!.gap - primary.exitPupil;
    expect(scale(last) / scale(first)).to.be.closeTo((way + 1) / (way - 1), 1e-8);
  });
});
