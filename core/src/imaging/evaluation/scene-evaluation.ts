import { chunksOf, traceAll, tracerOf, traceSteps } from '../../scene/run.ts';
import type { SceneModel } from '../../scene/scene-model.ts';
import { encircledRadius } from '../../scene/encircled.ts';
import { detectorNumbers, type DetectorNumbers, type Estimate } from '../../scene/statistics.ts';
import type { Tally } from '../../scene/tally.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';

/** Everything that is computed of one scene of one project version, each run once for all that ask for it. */
export class SceneEvaluation {
  readonly model: SceneModel;
  readonly #runs = new Map<number, Tally>();

  constructor(model: SceneModel) {
    this.model = model;
  }

  /** A run of this many rays. */
  run(rays: number): Tally {
    let tally = this.#runs.get(rays);
    if (!tally) this.#runs.set(rays, (tally = traceAll(this.model, rays)));
    return tally;
  }

  /** `run`, giving way now and then. */
  *traced(rays: number): Generator<void, Tally, void> {
    let tally = this.#runs.get(rays);
    if (!tally) {
      tally = yield* traceSteps(tracerOf(this.model), rays, 0, chunksOf(rays).count);
      this.#runs.set(rays, tally);
    }
    return tally;
  }

  /** Radius that holds a share of a detector's flux in a run; see `encircledRadius`. Fails as `numbers` does. */
  encircled(detector: string, rays: number, share: number): Outcome<Estimate> {
    const numbers = this.numbers(detector, rays);
    if (!numbers.ok) return numbers;
    const { detectors } = this.model;
    const index = detector === '' ? 0 : detectors.findIndex(({ id }) => id === detector);
    const tally = this.run(rays);
    return success(encircledRadius(detectors[index], tally.detectors[index], tally.chunks, numbers.value, share));
  }

  /** What a detector has counted in a run; the first one for an empty id. Fails, naming the known ones, when there is none. */
  numbers(detector: string, rays: number): Outcome<DetectorNumbers> {
    const { detectors, sources, findings } = this.model;
    const wrong = findings.find(({ severity }) => severity === 'error');
    if (wrong) return failure(wrong.text, wrong.where);
    const index = detector === '' ? 0 : detectors.findIndex(({ id }) => id === detector);
    if (!detectors[index])
      return failure(
        detectors.length === 0
          ? 'The scene has no detector.'
          : `There is no detector “${detector}”; there are ${detectors.map(({ id }) => id).join(', ')}.`,
      );
    if (sources.length === 0) return failure('The scene has no source that emits.');
    const tally = this.run(rays);
    return success(detectorNumbers(detectors[index], tally.detectors[index], tally.chunks));
  }
}
