import { failure, success, type Outcome } from '../math/outcome.ts';
import { isPlainConic, shapeDefinition, shapeNumbers } from '../shapes/registry.ts';
import { parseQuantity } from '../math/quantity.ts';
import { applyEdits, type Edit } from './edit.ts';
import { setConic, setRadius, setSemiAperture, surfaceTitle, type Gesture } from './lens-edits.ts';
import { setMedium, setThickness } from './medium-edits.ts';
import type { Lens, Project, Surface } from './model.ts';

/** A column of the prescription as a spreadsheet has it: one row a surface, the medium after it in the same row. */
export type TableColumn = 'name' | 'radius' | 'thickness' | 'material' | 'semi_aperture' | 'conic' | 'comment';

const LONGEST_TEXT = 500;

/** A cell as text that `setCell` reads back, every digit; empty where there is nothing. */
export function cellText(
  project: Project,
  { name, comment, shape, after, aperture, reflects }: Surface,
  column: TableColumn,
): string {
  const plainText = (text = '') => text.replace(/[\t\r\n]+/g, ' ');
  switch (column) {
    case 'name':
      return plainText(name);
    case 'comment':
      return plainText(comment);
    case 'radius': {
      const { radius } = shapeNumbers(shape);
      return Number.isFinite(radius) ? String(radius) : 'infinity';
    }
    case 'thickness':
      return after ? String(after.thickness) : '';
    case 'material': {
      const material = project.materials.find((entry) => entry.id === after?.material);
      return reflects ? 'mirror' : after ? (material?.label ?? after.material) : '';
    }
    case 'semi_aperture':
      return aperture.kind === 'circle' ? String(aperture.semi) : '';
    case 'conic': {
      const { conic } = shapeNumbers(shape);
      return conic === 0 ? '' : String(conic);
    }
  }
}

/** Sets one cell from a text as typed or pasted; changes such as `*1.02` start from what is there. Fails with a sentence. */
export function setCell(project: Project, lens: Lens, id: string, column: TableColumn, text: string): Outcome<Gesture> {
  const index = lens.surfaces.findIndex((entry) => entry.id === id);
  const surface = lens.surfaces[index];
  const title = surfaceTitle(lens, index);
  const { shape, aperture } = surface;
  switch (column) {
    case 'name':
    case 'comment': {
      if (text.length > LONGEST_TEXT) return failure(`A ${column} has at most ${LONGEST_TEXT} characters.`);
      const path = `lenses.${lens.id}.surfaces.${id}.${column}`;
      const value = text.trim() === '' ? undefined : text.trim();
      const label = column === 'name' ? 'Rename a surface' : `Comment on ${title}`;
      return success({ edits: [{ kind: 'set', path, value }], label, focus: id });
    }
    case 'radius': {
      if (shape.kind === 'ideal_lens')
        return failure('An ideal thin lens has no radius: its focal length is a number of its shape.');
      const current = shapeNumbers(shape).radius;
      const read = parseQuantity(text, { kind: 'length', current, allowInfinity: true });
      if (!read.ok) return read;
      if (read.value === 0) return failure('A radius is not 0; write “infinity” for a plane.');
      return success(setRadius(lens, id, read.value));
    }
    case 'thickness':
      return setThickness(project, lens, id, text);
    case 'material':
      return setMedium(project, lens, id, text);
    case 'conic': {
      const current = shapeNumbers(shape).conic;
      const takes = isPlainConic(shape) || shapeDefinition(shape.kind)?.parameters.some((spec) => spec.id === 'conic');
      if (!takes) return failure(`${shapeDefinition(shape.kind)!.title} has no conic constant.`);
      const read = parseQuantity(text, { kind: 'number', current });
      return read.ok ? success(setConic(lens, id, read.value)) : read;
    }
    case 'semi_aperture': {
      if (/^\s*(auto|automatic|a)\s*$/i.test(text)) return success(setSemiAperture(lens, id, null));
      const set = aperture.kind === 'circle' ? { current: aperture.semi } : {};
      const read = parseQuantity(text, { kind: 'length', ...set });
      if (!read.ok) return failure(`${read.reason} “auto” takes it from the rays.`);
      if (!(read.value > 0)) return failure('A semi-aperture is above 0; “auto” takes it from the rays.');
      return success(setSemiAperture(lens, id, read.value));
    }
  }
}

/**
 * Sets the same column of several surfaces from one text, as one gesture: `*-1` on radii turns each of them. Surfaces that have no such
 * cell (the image has no medium) are left out. Fails as a whole, naming the surface, where one of them does not take it.
 */
export function setCells(
  project: Project,
  lensId: string,
  ids: readonly string[],
  column: TableColumn,
  text: string,
): Outcome<Gesture> {
  let current = project;
  const edits: Edit[] = [];
  let label = '';
  let count = 0;
  for (const id of ids) {
    const lens = current.lenses.find((entry) => entry.id === lensId)!;
    const surface = lens.surfaces.find((entry) => entry.id === id);
    if (!surface || (!surface.after && (column === 'thickness' || column === 'material'))) continue;
    const set = setCell(current, lens, id, column, text);
    if (!set.ok) return failure(`${surfaceTitle(lens, lens.surfaces.indexOf(surface))}: ${set.reason}`);
    current = applyEdits(current, set.value.edits).project;
    edits.push(...set.value.edits);
    ({ label } = set.value);
    count++;
  }
  if (count > 1) label = `${label} and ${count - 1} more`;
  return success({ edits, label, focus: ids[0] });
}

/** Copies a column of the first surface to the others. An empty cell of the first is copied as what it stands for. */
export function fillDown(
  project: Project,
  lensId: string,
  ids: readonly string[],
  column: TableColumn,
): Outcome<Gesture> {
  const lens = project.lenses.find((entry) => entry.id === lensId)!;
  const first = lens.surfaces.find((entry) => entry.id === ids[0])!;
  const text = cellText(project, first, column) || { conic: '0', semi_aperture: 'auto' }[column as string] || '';
  const filled = setCells(project, lensId, ids.slice(1), column, text);
  return filled.ok ? success({ ...filled.value, label: `Fill down ${column.replace('_', '-')}` }) : filled;
}
