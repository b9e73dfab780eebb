import { findMeasure } from '../measures/registry.ts';
import { requirementStates } from '../measures/requirement.ts';
import type { Project } from '../project/model.ts';
import type { Watched } from './one-by-one.ts';

/** A requirement as studies watch it: once for each state that it counts in. */
export interface WatchedRequirement extends Watched {
  readonly title: string;
  readonly unit: string;
  readonly min?: number;
  readonly max?: number;
}

/**
 * The requirements of a project that studies watch, those of every state one by one, with what is allowed when made. Those of measures that
 * Ulvex does not know are not watched.
 *
 * @param all - also those that are excluded from studies
 */
export function watchedRequirements(project: Project, all = false): WatchedRequirement[] {
  return project.requirements.flatMap((requirement) => {
    const watch = project.tolerancing?.watch?.find((one) => one.requirement === requirement.id);
    const measure = findMeasure(requirement.measure);
    if (!measure || (watch?.off && !all)) return [];
    const { id, label, lens, settings } = requirement;
    const min = watch?.min ?? requirement.min;
    const max = watch?.max ?? requirement.max;
    return requirementStates(project, requirement).map((state) => {
      const name = project.states?.find((one) => one.id === state)?.name;
      return {
        id: name === undefined ? id : `${id}@${state}`,
        measure: measure.id,
        lens,
        settings,
        state,
        title: `${label ?? measure.title}${name === undefined ? '' : `, ${name}`}`,
        unit: measure.unit,
        ...(min !== undefined && { min }),
        ...(max !== undefined && { max }),
      };
    });
  });
}

/** A requirement as studies watch it, excluded ones too: in the first of its states; undefined where there is none. */
export function watchedRequirement(project: Project, requirement: string | undefined): WatchedRequirement | undefined {
  return watchedRequirements(project, true).find(({ id }) => id.split('@')[0] === requirement);
}

/** What is watched, with the units of values as they were found, see `DesignStand`. */
export function inUnits<W extends { readonly unit: string }>(
  watched: readonly W[],
  units: readonly (string | null)[],
): readonly W[] {
  return watched.map((one, k) => ({ ...one, unit: units[k] ?? one.unit }));
}
