import type { Lens, Project } from '@ulvex/core';

/** The lens of a project that has that id, or its first one; undefined for a project without a lens. */
export function lensOf(project: Project, id: string | null = null): Lens | undefined {
  return project.lenses.find((lens) => lens.id === id) ?? project.lenses[0];
}
