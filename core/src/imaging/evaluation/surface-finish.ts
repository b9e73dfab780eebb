import type { Finish } from '../../finishes/finish.ts';
import { isGas } from '../../materials/material.ts';
import { findFinish } from '../../project/finish-edits.ts';
import type { LensModel } from '../../sequence/lens-model.ts';
import type { LensEvaluation } from './lens-evaluation.ts';

/** The finish of a surface of a lens; null for one that says nothing, undefined for one that names what the project does not have. */
export function finishOfSurface({ model, project }: LensEvaluation, j: number): Finish | null | undefined {
  const { finish } = model.lens.surfaces[j];
  if (finish === undefined) return null;
  return findFinish(project, finish);
}

/** Whether the medium in front of a surface, by its index, is glass or anything else that is no gas. */
export function solidBefore({ media }: LensModel, j: number): boolean {
  const medium = media[j];
  return medium !== undefined && !isGas(medium);
}

/** Whether there is something at a surface for a finish to be on: a mirror, or glass on a side; the image is where light is looked at. */
export function carriesFinish({ model }: LensEvaluation, j: number): boolean {
  const { surfaces } = model;
  return surfaces[j].reflects || (j < surfaces.length - 1 && (solidBefore(model, j) || solidBefore(model, j + 1)));
}
