import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import { sceneReport, type SceneReport } from '../scene/report.ts';
import { chunksOf, tracerOf, traceSteps } from '../scene/run.ts';
import type { SceneModel } from '../scene/scene-model.ts';

/** A run through a scene as somebody outside of the page asks for it. */
export interface TraceOrder {
  /** Id of the scene; the first one where left out. */
  readonly scene?: string | undefined;
  /** Rays, and the number that the run is drawn from; as the scene says where left out. */
  readonly rays?: number | undefined;
  readonly seed?: number | undefined;
  /** Ids of the detectors whose maps are wanted. */
  readonly maps?: readonly string[] | undefined;
}

/** An order that can be carried out. */
export interface TraceTask {
  readonly model: SceneModel;
  readonly rays: number;
  readonly maps: readonly string[];
}

const listed = (ids: readonly string[]) => ids.join(', ') || 'none';

/** Looks whether an order can be carried out; fails with what is missing, and where no source shines with the findings of the model, too. */
export function traceTask(project: Project, { scene: wanted, rays, seed, maps = [] }: TraceOrder): Outcome<TraceTask> {
  const scenes = project.scenes ?? [];
  if (scenes.length === 0) return failure('The project has no scene.');
  const scene = wanted === undefined ? scenes[0] : scenes.find(({ id }) => id === wanted);
  if (!scene) return failure(`There is no scene “${wanted}”; there are ${listed(scenes.map(({ id }) => id))}.`);
  const seeded = seed === undefined ? scene : { ...scene, sampling: { ...scene.sampling, seed } };
  const found = new Evaluation({ ...project, scenes: [seeded] }).scene(scene.id);
  if (!found.ok) return found;
  const { model } = found.value;
  const known = model.detectors.map(({ id }) => id);
  const stranger = maps.find((id) => !known.includes(id));
  if (stranger !== undefined) return failure(`There is no detector “${stranger}”; there are ${listed(known)}.`);
  if (model.sources.length === 0) {
    const why = model.findings.map(({ severity, text }) => `${severity}: ${text}`);
    return failure([...why, 'No source shines: there is nothing to trace.'].join('\n'));
  }
  return success({ model, rays: rays ?? scene.sampling.rays, maps });
}

/** Carries it out, a chunk of rays a step; steps tell how many of how many chunks are done. */
export function* traceReport({ model, rays, maps }: TraceTask): Generator<TraceProgress, SceneReport, void> {
  const of = chunksOf(rays).count;
  const work = traceSteps(tracerOf(model), rays, 0, of);
  for (let done = 1; ; done++) {
    const step = work.next();
    if (step.done) return sceneReport(model, step.value, maps);
    yield { done, of };
  }
}

/** How far a run has come, in chunks. */
export interface TraceProgress {
  readonly done: number;
  readonly of: number;
}
