import { basicFinish } from '../../finishes/basic.ts';
import type { Finish } from '../../finishes/finish.ts';
import { isGas } from '../../materials/material.ts';
import type { LensEvaluation } from './lens-evaluation.ts';

/** The finish of a surface of a lens; null for one that says nothing, undefined for one that names what the project does not have. */
export function finishOfSurface({ model, project }: LensEvaluation, j: number): Finish | null | undefined {
  const { finish } = model.lens.surfaces[j];
  if (finish === undefined) return null;
  return project.finishes?.find(({ id }) => id === finish) ?? basicFinish(finish);
}

/** Whether there is something at a surface for a finish to be on: a mirror, or glass on a side; the image is where light is looked at. */
export function carriesFinish({ model: { surfaces, media } }: LensEvaluation, j: number): boolean {
  const solid = (k: number) => {
    const medium = media[k];
    return medium !== undefined && !isGas(medium);
  };
  return surfaces[j].reflects || (j < surfaces.length - 1 && (solid(j) || solid(j + 1)));
}
