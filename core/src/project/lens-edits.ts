import { catalogueMaterial } from '../materials/catalogue.ts';
import { isGas } from '../materials/material.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { numberToExtent } from '../math/parameter.ts';
import { isPlainConic, shapeNumbers, type Shape } from '../shapes/registry.ts';
import type { Edit } from './edit.ts';
import { embedMaterial } from './embed-material.ts';
import type { Lens, Medium, Project, Surface } from './model.ts';

/** A gesture on a lens: its edits, what the history calls it, and the surface to look at afterwards. */
export interface Gesture {
  readonly edits: readonly Edit[];
  readonly label: string;
  /** Id of a surface. */
  readonly focus: string;
}

const surfacesOf = (lens: Lens) => `lenses.${lens.id}.surfaces`;
const pathOf = (lens: Lens, surface: Surface) => `${surfacesOf(lens)}.${surface.id}`;

/** How a surface is called on screen: its own name, or what it bounds (`L1 front`, `L3 | L4`), or its number. */
export function surfaceTitle(lens: Lens, index: number): string {
  const surface = lens.surfaces[index];
  if (surface.name) return surface.name;
  const before = index > 0 ? lens.surfaces[index - 1].after?.name : undefined;
  const behind = surface.after?.name;
  if (before && behind) return `${before} | ${behind}`;
  if (behind) return `${behind} front`;
  if (before) return `${before} back`;
  if (index === lens.surfaces.length - 1) return 'Image';
  if (surface.reflects) return `Mirror ${index + 1}`;
  return surface.id === lens.stop ? 'Stop' : `Surface ${index + 1}`;
}

/** A title as it stands in a sentence or at a mark: plain words small (“to sensor”, “stop”), “L1 front” and “LED window” as they are. */
export function titleWithin(title: string): string {
  return /^(\p{Lu}[\p{Ll} ]*|(Surface|Mirror) \d+)$/u.test(title) ? title.toLowerCase() : title;
}

/** Title of a surface by its id; the id itself for one that is not there. */
export function surfaceCalled(lens: Lens, id: string): string {
  const index = lens.surfaces.findIndex((surface) => surface.id === id);
  return index < 0 ? id : surfaceTitle(lens, index);
}

/** Whether a medium is one that bodies are made of. */
export function isSolid(project: Pick<Project, 'materials'>, medium: Medium | null | undefined): boolean {
  const material = medium && project.materials.find((entry) => entry.id === medium.material);
  return material ? !isGas(material) : false;
}

/** An id that no surface of the lens has, nor one of `taken`. */
export function freshSurfaceId(lens: Lens, taken: readonly string[] = []): string {
  for (let n = 1; ; n++) {
    const id = `s${n}`;
    if (!taken.includes(id) && lens.surfaces.every((surface) => surface.id !== id)) return id;
  }
}

/** A name `L1`, `L2` … that no element of the lens has, nor one of `taken`. */
export function freshElementName(lens: Lens, taken: readonly string[] = []): string {
  const names = new Set([...taken, ...lens.surfaces.map((surface) => surface.after?.name)]);
  for (let n = 1; ; n++) if (!names.has(`L${n}`)) return `L${n}`;
}

function find(lens: Lens, id: string): { index: number; surface: Surface } {
  const index = lens.surfaces.findIndex((surface) => surface.id === id);
  if (index < 0) throw new Error(`the lens ${lens.id} has no surface ${id}`);
  return { index, surface: lens.surfaces[index] };
}

function flat(id: string, after: Medium): Surface {
  return { id, shape: { kind: 'sphere', radius: 'infinity' }, aperture: { kind: 'automatic' }, after };
}

/**
 * Inserts a flat surface after another, at the far end of the medium between them: no ray changes until it is given a
 * radius or a medium; only a glass that reaches to the image ends at it. Behind the image surface nothing can be
 * inserted; it goes in front of it then.
 */
export function insertSurface(lens: Lens, afterId: string): Gesture {
  let { index, surface } = find(lens, afterId);
  if (!surface.after) {
    if (index === 0) {
      const item = flat(freshSurfaceId(lens), { thickness: 0, material: 'air' });
      return {
        edits: [{ kind: 'insert', list: surfacesOf(lens), after: null, item }],
        label: 'Insert surface',
        focus: item.id,
      };
    }
    index--;
    surface = lens.surfaces[index];
  }
  const { name, ...medium } = surface.after!;
  // A body that would reach to the image ends at the new surface: that is how a lens grows while it is typed in.
  const material = name !== undefined && index === lens.surfaces.length - 2 ? 'air' : medium.material;
  const item = flat(freshSurfaceId(lens), { ...medium, material, thickness: 0 });
  return {
    edits: [{ kind: 'insert', list: surfacesOf(lens), after: surface.id, item }],
    label: `Insert surface after ${surfaceTitle(lens, index)}`,
    focus: item.id,
  };
}

/** About how wide the beam is: the diameter that is set, 10 mm if the aperture is counted otherwise. */
function beamWidth({ aperture: { kind, value } }: Lens): number {
  if (kind === 'entrance_pupil_diameter') return value;
  return kind === 'stop_semi_aperture' ? 2 * value : 10;
}

/** The gap after an element for which no room was left: to the image at first the diameter of the beam, to a surface half of its thickness. */
function behindKept(lens: Lens, index: number, thickness: number): number {
  return index >= 0 && index === lens.surfaces.length - 2 ? 2 * beamWidth(lens) : thickness / 2;
}

/**
 * Inserts a plane-parallel element of the project's first solid material (or borosilicate crown) into the gap after a
 * surface. A gap narrower than the beam is kept in front of it; in a wider one what follows stays where it is. Inside
 * glass it goes behind the element.
 */
export function insertElement(project: Project, lens: Lens, afterId: string): Gesture {
  let { index } = find(lens, afterId);
  const last = lens.surfaces.length - 1;
  while (index < last && isSolid(project, lens.surfaces[index].after)) index++;
  if (index === last) index = last - 1;
  const host = index >= 0 ? lens.surfaces[index] : null;
  const material = project.materials.find((entry) => !isGas(entry)) ?? catalogueMaterial('g517642')!;
  const thickness = Math.max(1, Math.round(beamWidth(lens) / 5));
  const gap = host?.after?.thickness ?? 0;
  // A gap narrower than the beam was meant as one between elements: it stays. A wide one has room for the element, and what follows stays.
  const kept = gap !== 0 && Math.abs(gap) < beamWidth(lens);
  const roomy = !kept && Math.abs(gap) > 2 * thickness;
  const before = kept ? gap : roomy ? (Math.sign(gap) * thickness) / 2 : thickness / 2;
  const behind = roomy
    ? gap - Math.sign(gap) * 1.5 * thickness
    : Math.sign(gap || 1) * behindKept(lens, index, thickness);
  const front = freshSurfaceId(lens);
  const back = freshSurfaceId(lens, [front]);
  const name = freshElementName(lens);
  const gas = host?.after?.material ?? 'air';
  const list = surfacesOf(lens);
  const edits: Edit[] = [
    ...embedMaterial(project, material),
    ...(host ? [{ kind: 'set', path: `${pathOf(lens, host)}.after.thickness`, value: before } as const] : []),
    {
      kind: 'insert',
      list,
      after: host?.id ?? null,
      item: flat(front, { thickness: Math.sign(gap || 1) * thickness, material: material.id, name }),
    },
    { kind: 'insert', list, after: front, item: flat(back, { thickness: behind, material: gas }) },
  ];
  return { edits, label: `Insert element ${name}`, focus: front };
}

/** Removes a surface; the medium in front of it reaches to the next one, which stays where it is. */
export function removeSurface(lens: Lens, id: string): Outcome<Gesture> {
  const { index, surface } = find(lens, id);
  if (!surface.after) return failure('The image surface stays: a lens always has one.');
  const edits: Edit[] = [{ kind: 'remove', list: surfacesOf(lens), id }];
  const before = lens.surfaces[index - 1];
  if (before) {
    const path = `${pathOf(lens, before)}.after.thickness`;
    edits.push({ kind: 'set', path, value: before.after!.thickness + surface.after.thickness });
  }
  return success({ edits, label: `Remove ${surfaceTitle(lens, index)}`, focus: lens.surfaces[index + 1].id });
}

/** Removes the element after a surface; a neighbour cemented to it stays, and what follows stays where it is. */
export function removeElement(project: Project, lens: Lens, frontId: string): Outcome<Gesture> {
  const { index, surface } = find(lens, frontId);
  if (!isSolid(project, surface.after)) return failure('There is no element after this surface.');
  const back = lens.surfaces[index + 1];
  const label = `Remove element ${surface.after!.name ?? ''}`.trim();
  if (isSolid(project, back.after)) {
    const removed = removeSurface(lens, frontId);
    return removed.ok ? success({ ...removed.value, label }) : removed;
  }
  const beforeIsSolid = index > 0 && isSolid(project, lens.surfaces[index - 1].after);
  const list = surfacesOf(lens);
  if (!back.after) return failure('The image surface bounds this element; insert a surface after it first.');
  const thickness = surface.after!.thickness + back.after.thickness;
  if (beforeIsSolid) {
    const edits: Edit[] = [
      { kind: 'remove', list, id: back.id },
      { kind: 'set', path: `${pathOf(lens, surface)}.after`, value: { ...back.after, thickness } },
    ];
    return success({ edits, label, focus: frontId });
  }
  const edits: Edit[] = [
    { kind: 'remove', list, id: frontId },
    { kind: 'remove', list, id: back.id },
  ];
  const before = lens.surfaces[index - 1];
  if (before) {
    edits.push({
      kind: 'set',
      path: `${pathOf(lens, before)}.after.thickness`,
      value: before.after!.thickness + thickness,
    });
  }
  return success({ edits, label, focus: lens.surfaces[index + 2].id });
}

/** Edits that give a surface a radius, keeping the rest of its shape; Infinity is a flat. */
export function setRadius(lens: Lens, id: string, radius: number): Gesture {
  const { index, surface } = find(lens, id);
  const path = `${pathOf(lens, surface)}.shape`;
  const value = numberToExtent(radius);
  const edit: Edit =
    surface.shape.kind === 'plane'
      ? { kind: 'set', path, value: { kind: 'sphere', radius: value } satisfies Shape }
      : { kind: 'set', path: `${path}.radius`, value };
  return { edits: [edit], label: `Radius of ${surfaceTitle(lens, index)}`, focus: id };
}

/** Edits that give a surface a conic constant: a sphere becomes a conic by it, and a conic of 0 a sphere. */
export function setConic(lens: Lens, id: string, conic: number): Gesture {
  const { index, surface } = find(lens, id);
  const { shape } = surface;
  const path = `${pathOf(lens, surface)}.shape`;
  const label = `Conic constant of ${surfaceTitle(lens, index)}`;
  if (!isPlainConic(shape)) return { edits: [{ kind: 'set', path: `${path}.conic`, value: conic }], label, focus: id };
  const radius = numberToExtent(shapeNumbers(shape).radius);
  const value: Shape = conic === 0 ? { kind: 'sphere', radius } : { kind: 'conic', radius, conic };
  return { edits: [{ kind: 'set', path, value }], label, focus: id };
}

/** Edits that set a clear semi-aperture in mm, or make it automatic again for null. */
export function setSemiAperture(lens: Lens, id: string, semi: number | null): Gesture {
  const { index, surface } = find(lens, id);
  const value = semi === null ? { kind: 'automatic' } : { kind: 'circle', semi };
  const path = `${pathOf(lens, surface)}.aperture`;
  return {
    edits: [{ kind: 'set', path, value }],
    label: `Aperture of ${surfaceTitle(lens, index)}`,
    focus: id,
  };
}

/** Edits that make a surface the stop. */
export function setStop(lens: Lens, id: string): Gesture {
  const { index } = find(lens, id);
  return {
    edits: [{ kind: 'set', path: `lenses.${lens.id}.stop`, value: id }],
    label: `Stop at ${surfaceTitle(lens, index)}`,
    focus: id,
  };
}
