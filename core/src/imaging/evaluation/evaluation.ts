import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { Project } from '../../project/model.ts';
import { inState } from '../../project/states.ts';
import { lensBodies } from '../../scene/lens-bodies.ts';
import { compileScene } from '../../scene/scene-model.ts';
import { evaluateLens, type LensEvaluation } from './lens-evaluation.ts';
import { SceneEvaluation } from './scene-evaluation.ts';

/** Evaluations of the lenses and scenes of one project version. */
export class Evaluation {
  readonly project: Project;
  readonly #lenses = new Map<string, LensEvaluation>();
  readonly #scenes = new Map<string, SceneEvaluation>();
  readonly #states = new Map<string, Evaluation>();
  readonly #near: Evaluation | null;

  /** @param near - of a version of the project that differs a little: what was found for it is where this one begins */
  constructor(project: Project, near: Evaluation | null = null) {
    this.project = project;
    this.#near = near;
  }

  /** The evaluation of the project in a state; itself for none and for `designed`. Fails when the project has no such state. */
  inState(id: string | undefined): Outcome<Evaluation> {
    if (id === undefined || id === 'designed') return success(this);
    const known = this.#states.get(id);
    if (known) return success(known);
    const project = inState(this.project, id);
    if (!project.ok) return project;
    const near = this.#near?.inState(id);
    const evaluation = new Evaluation(project.value, near?.ok ? near.value : null);
    this.#states.set(id, evaluation);
    return success(evaluation);
  }

  /** The evaluation of the lens with an id. Fails when the project has no such lens, or one that is too large. */
  lens(id: string): Outcome<LensEvaluation> {
    const known = this.#lenses.get(id);
    if (known) return success(known);
    const near = this.#near?.lens(id);
    const evaluation = evaluateLens(this.project, id, near?.ok ? near.value : null);
    if (evaluation.ok) this.#lenses.set(id, evaluation.value);
    return evaluation;
  }

  /** The evaluation of the scene with an id. Fails when the project has no such scene. */
  scene(id: string): Outcome<SceneEvaluation> {
    const known = this.#scenes.get(id);
    if (known) return success(known);
    const scene = this.project.scenes?.find((entry) => entry.id === id);
    if (!scene) return failure(`There is no scene “${id}”.`);
    const model = compileScene(this.project, scene, (lensId) => {
      const lens = this.lens(lensId);
      return lens.ok ? lensBodies(lens.value.model, lens.value.extents()) : lens.reason;
    });
    const evaluation = new SceneEvaluation(model);
    this.#scenes.set(id, evaluation);
    return success(evaluation);
  }
}
