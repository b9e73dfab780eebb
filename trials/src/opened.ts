import type { Project } from '@ulvex/core';

/** A project with a share of its aperture and of its fields: a way to the full ones on which all rays arrive. */
export function opened(project: Project, share: number): Project {
  const [lens] = project.lenses;
  const points = lens.fields.points.map((point) => ({ ...point, y: point.y * share }));
  return {
    ...project,
    lenses: [
      {
        ...lens,
        aperture: { ...lens.aperture, value: lens.aperture.value * share },
        fields: { ...lens.fields, points },
      },
    ],
  };
}
