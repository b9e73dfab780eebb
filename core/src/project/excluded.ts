import { isSolid, surfaceTitle, type Gesture } from './lens-edits.ts';
import type { Lens, Medium, Project, Surface } from './model.ts';

/**
 * A lens without the elements that are left out: what surrounds the element they belong to stands in their place, and nothing diffracts on
 * faces that have the same medium on both sides. Places, apertures and names stay. The lens itself where nothing is left out.
 */
export function withoutExcluded(project: Pick<Project, 'materials'>, lens: Lens): Lens {
  if (!lens.surfaces.some(({ after }) => after?.excluded)) return lens;
  let around = 'air';
  let before = 'air';
  const surfaces = lens.surfaces.map((surface): Surface => {
    const { after } = surface;
    if (!after || surface.reflects) return surface;
    if (!isSolid(project, after)) around = after.material;
    const stands: Medium = after.excluded ? standIn(after, around) : after;
    const same = stands.material === before;
    before = stands.material;
    const { phase: _phase, ...bare } = surface;
    return same && surface.phase && touchesExcluded(lens, surface)
      ? { ...bare, after: stands }
      : { ...surface, after: stands };
  });
  return { ...lens, surfaces };
}

function standIn({ name: _name, gradient: _gradient, ...rest }: Medium, material: string): Medium {
  return { ...rest, material };
}

function touchesExcluded({ surfaces }: Lens, surface: Surface): boolean {
  const index = surfaces.indexOf(surface);
  return Boolean(surface.after?.excluded ?? surfaces[index - 1]?.after?.excluded);
}

/** Leaves the element after a surface out, or takes it in again; nothing of it is lost. */
export function toggleExcluded(lens: Lens, id: string): Gesture {
  const index = lens.surfaces.findIndex((surface) => surface.id === id);
  const { after } = lens.surfaces[index];
  const name = after?.name ?? surfaceTitle(lens, index);
  const path = `lenses.${lens.id}.surfaces.${id}.after.excluded`;
  return {
    edits: [{ kind: 'set', path, value: after?.excluded ? undefined : true }],
    label: after?.excluded ? `Take ${name} in again` : `Leave ${name} out`,
    focus: id,
  };
}
