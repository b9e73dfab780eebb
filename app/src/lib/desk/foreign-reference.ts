import type { Lens, Project } from '@ulvex/core';

/**
 * Another project made ready to be laid under this one: its first lens takes the id of the lens that is shown, and its fields take the ids
 * of the fields in the same places, so that questions about the one can be asked of the other. Null where it has no lens.
 */
export function asReference(other: Project, shown: Lens): Project | null {
  const [lens, ...rest] = other.lenses;
  if (!lens) return null;
  const ids = shown.fields.points.map(({ id }) => id);
  const points = lens.fields.points.map((point, i) => ({ ...point, id: ids[i] ?? freeId(point.id, ids) }));
  return {
    ...other,
    lenses: [
      { ...lens, id: shown.id, fields: { ...lens.fields, points } },
      ...rest.filter(({ id }) => id !== shown.id),
    ],
  };
}

function freeId(id: string, taken: readonly string[]): string {
  let free = id;
  for (let k = 2; taken.includes(free); k++) free = `${id}_${k}`;
  return free;
}
