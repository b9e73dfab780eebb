import type { Project, Surface } from './model.ts';
import { findParameter, listParameters, type Parameter } from './parameters.ts';
import { surfaceTitle } from './lens-edits.ts';

/** One thing in which two versions of a project differ. */
export interface Difference {
  /** Address of the number, or the path of what is no number. */
  readonly at: string;
  /** Null where the version has none; Infinity for flats. */
  readonly before: number | string | null;
  readonly after: number | string | null;
  readonly unit: string;
}

/** Every number in which two versions differ, then media, names of surfaces that came or went, and what is set otherwise. */
export function compareProjects(before: Project, after: Project): Difference[] {
  if (before === after) return [];
  const numbers = [before, after].map((project) => new Map(listParameters(project).map((one) => [one.address, one])));
  const differences: Difference[] = [];
  const gone = new Set<string>();
  for (const [index, lens] of before.lenses.entries()) {
    const other = after.lenses.find(({ id }) => id === lens.id);
    if (!other) {
      differences.push({ at: `lenses.${lens.id}`, before: lens.name || lens.id, after: null, unit: '' });
      gone.add(`lenses.${lens.id}.`);
      continue;
    }
    differences.push(...surfaceDifferences(before, after, index, other.surfaces, gone));
  }
  for (const { id, name } of after.lenses)
    if (!before.lenses.some((one) => one.id === id)) {
      differences.push({ at: `lenses.${id}`, before: null, after: name || id, unit: '' });
      gone.add(`lenses.${id}.`);
    }
  const addresses = new Set([...numbers[0].keys(), ...numbers[1].keys()]);
  for (const address of addresses) {
    if ([...gone].some((start) => address.startsWith(start))) continue;
    // What one version leaves out has a value all the same: an unmoved surface, the usual surroundings.
    const [was, is] = [before, after].map((project, k) => numbers[k].get(address) ?? absent(project, address));
    const values = [was, is].map((one) => (one && !Number.isNaN(one.value) ? one.value : null));
    if (values[0] !== values[1])
      differences.push({ at: address, before: values[0], after: values[1], unit: (is ?? was)?.spec.unit ?? '' });
  }
  return differences;
}

function absent(project: Project, address: string): Parameter | undefined {
  const found = findParameter(project, address);
  return found.ok ? found.value : undefined;
}

function surfaceDifferences(
  before: Project,
  after: Project,
  index: number,
  surfaces: readonly Surface[],
  gone: Set<string>,
): Difference[] {
  const lens = before.lenses[index];
  const other = after.lenses.find(({ id }) => id === lens.id)!;
  const path = (id: string) => `lenses.${lens.id}.surfaces.${id}`;
  const found: Difference[] = [];
  lens.surfaces.forEach((surface, k) => {
    const same = surfaces.find(({ id }) => id === surface.id);
    if (!same) {
      found.push({ at: path(surface.id), before: surfaceTitle(lens, k), after: null, unit: '' });
      gone.add(`${path(surface.id)}.`);
      return;
    }
    const media = [labelOf(before, surface), labelOf(after, same)];
    if (media[0] !== media[1])
      found.push({ at: `${path(surface.id)}.material`, before: media[0], after: media[1], unit: '' });
    if (surface.shape.kind !== same.shape.kind)
      found.push({ at: `${path(surface.id)}.shape`, before: surface.shape.kind, after: same.shape.kind, unit: '' });
  });
  surfaces.forEach((surface, k) => {
    if (lens.surfaces.some(({ id }) => id === surface.id)) return;
    found.push({ at: path(surface.id), before: null, after: surfaceTitle(other, k), unit: '' });
    gone.add(`${path(surface.id)}.`);
  });
  for (const key of ['aperture', 'fields', 'pupil'] as const) {
    const words = [lens, other].map((one): string => ('kind' in one[key] ? String(one[key].kind) : one.pupil.aim));
    if (words[0] !== words[1])
      found.push({ at: `lenses.${lens.id}.${key}`, before: words[0], after: words[1], unit: '' });
  }
  if (lens.stop !== other.stop)
    found.push({ at: `lenses.${lens.id}.stop`, before: lens.stop, after: other.stop, unit: '' });
  const order = (list: readonly Surface[]) =>
    list
      .map(({ id }) => id)
      .filter((id) => surfaces.some((one) => one.id === id) && lens.surfaces.some((one) => one.id === id))
      .join(' ');
  if (order(lens.surfaces) !== order(surfaces))
    found.push({ at: `lenses.${lens.id}.surfaces`, before: 'in their order', after: 'in another order', unit: '' });
  return found;
}

function labelOf({ materials }: Project, { after, reflects }: Surface): string | null {
  if (reflects) return 'mirror';
  return after ? (materials.find(({ id }) => id === after.material)?.label ?? after.material) : null;
}
