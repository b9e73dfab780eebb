import { searchMaterials } from '../materials/catalogue.ts';
import { isGas, type Material } from '../materials/material.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { parseQuantity } from '../math/quantity.ts';
import type { Edit } from './edit.ts';
import { embedMaterial } from './embed-material.ts';
import { freshElementName, surfaceTitle, type Gesture } from './lens-edits.ts';
import type { Lens, Medium, Project, Surface } from './model.ts';

const pathOf = (lens: Lens, surface: Surface) => `lenses.${lens.id}.surfaces.${surface.id}`;

function find(lens: Lens, id: string): { index: number; surface: Surface } {
  const index = lens.surfaces.findIndex((surface) => surface.id === id);
  if (index < 0) throw new Error(`the lens ${lens.id} has no surface ${id}`);
  return { index, surface: lens.surfaces[index] };
}

/** Materials that a typed text may mean, best first: those of the project, then the rest of the catalogue. */
export function suggestMaterials(project: Project, text: string): Material[] {
  const own = searchMaterials(text, project.materials);
  const known = new Set(project.materials.map((material) => material.id));
  return [...own, ...searchMaterials(text).filter((material) => !known.has(material.id))];
}

/**
 * Edits that fill the medium after a surface with what was typed: a glass code, a name, an index such as `1.6`, a model glass as nd/Vd
 * (`1.62/36.4`), `air`, or `mirror`, which makes the surface reflect. Fails, with what is near, when the text means nothing.
 */
export function setMedium(project: Project, lens: Lens, id: string, text: string): Outcome<Gesture> {
  const { index, surface } = find(lens, id);
  if (!surface.after) return failure('There is no medium after the image surface.');
  const title = surfaceTitle(lens, index);
  const path = pathOf(lens, surface);
  const wanted = text.trim();
  if (wanted.toLowerCase() === 'mirror') {
    const { name: _name, ...rest } = surface.after;
    const edits: Edit[] = [{ kind: 'set', path: `${path}.reflects`, value: true }];
    // Light goes back into the medium in front, so that is what lies behind.
    const before = lens.surfaces[index - 1]?.after?.material ?? 'air';
    edits.push({ kind: 'set', path: `${path}.after`, value: { ...rest, material: before } });
    return success({ edits, label: `Mirror at ${title}`, focus: id });
  }
  const material = meantMaterial(project, wanted);
  return material.ok ? fillMedium(project, lens, id, material.value) : material;
}

/** Edits that fill the medium after a surface with a material, which the project takes in where it does not carry it yet. */
export function fillMedium(project: Project, lens: Lens, id: string, material: Material): Outcome<Gesture> {
  const { index, surface } = find(lens, id);
  if (!surface.after) return failure('There is no medium after the image surface.');
  const path = pathOf(lens, surface);
  const { name, ...rest } = surface.after;
  const after: Medium = {
    ...rest,
    material: material.id,
    ...(!isGas(material) && { name: name ?? freshElementName(lens) }),
  };
  const edits = embedMaterial(project, material);
  edits.push({ kind: 'set', path: `${path}.after`, value: after });
  if (surface.reflects) edits.push({ kind: 'set', path: `${path}.reflects`, value: undefined });
  return success({ edits, label: `${material.label} after ${surfaceTitle(lens, index)}`, focus: id });
}

/**
 * Sets the thickness after a surface from a text as typed: a length with unit or arithmetic, and behind it, if wanted, the material
 * (`2.5`, `1in`, `2.5 648338`). Fails with a sentence; nothing is set by halves.
 */
export function setThickness(project: Project, lens: Lens, id: string, text: string): Outcome<Gesture> {
  const { index, surface } = find(lens, id);
  if (!surface.after) return failure('There is no thickness after the image surface.');
  const title = surface.after.name ?? `the gap after ${surfaceTitle(lens, index)}`;
  const options = { kind: 'length', current: surface.after.thickness } as const;
  const edit = (value: number): Edit => ({
    kind: 'set',
    path: `${pathOf(lens, surface)}.after.thickness`,
    value,
  });
  const alone = parseQuantity(text, options);
  if (alone.ok) return success({ edits: [edit(alone.value)], label: `Thickness of ${title}`, focus: id });
  const parts = /^(.*\S)\s+(\S+)$/.exec(text.trim());
  const length = parts && parseQuantity(parts[1], options);
  if (!parts || !length?.ok) return alone;
  const medium = setMedium(project, lens, id, parts[2]);
  if (!medium.ok) return medium;
  // The material first: it replaces the medium as a whole, with the thickness as it was.
  return success({ ...medium.value, edits: [...medium.value.edits, edit(length.value)] });
}

function meantMaterial(project: Project, text: string): Outcome<Material> {
  if (text === '') return failure('Type a glass code, a name, an index, “air” or “mirror”.');
  const found = suggestMaterials(project, text);
  const exact = found.find((entry) =>
    [entry.label, entry.id].some((word) => word.toLowerCase() === text.toLowerCase()),
  );
  if (exact) return success(exact);
  if (/^\d*\.\d+$|^[1-9]$/.test(text)) return constantIndex(Number(text));
  const model = /^(\d\.\d+)\s*[/ ]\s*(\d+(?:\.\d+)?)$/.exec(text);
  if (model) return modelGlass(Number(model[1]), Number(model[2]));
  if (found.length === 1) return success(found[0]);
  if (found.length > 1) {
    const names = found.slice(0, 4).map((entry) => `${entry.label} ${entry.family}`);
    return failure(`“${text}” may be ${names.join(', ')}: type more of it.`);
  }
  return failure(
    `No material is called “${text}”. Type a six-digit code, a name, an index such as 1.6, nd/Vd such as 1.62/36.4, “air” or “mirror”.`,
  );
}

/** A glass of which only nd and Vd are asked for; 1.62/36.4 as it is typed. */
function modelGlass(nd: number, vd: number): Outcome<Material> {
  if (!(nd >= 1.3 && nd <= 2.2)) return failure('A model glass has an index nd between 1.3 and 2.2.');
  if (!(vd >= 10 && vd <= 120)) return failure('A model glass has an Abbe number Vd between 10 and 120.');
  const label = `${nd}/${vd}`;
  return success({
    id: `model_${label.replace(/[./]/g, '_')}`,
    label,
    family: 'model glass',
    dispersion: { kind: 'model', nd, vd },
    range: [380, 1100],
    trust: 'constructed',
    note: 'Constructed from nd and Vd along the normal line; not a measurement.',
  });
}

function constantIndex(index: number): Outcome<Material> {
  if (!(index >= 1 && index <= 10)) return failure('An index lies between 1 and 10.');
  return success({
    id: `n${String(index).replace('.', '_')}`,
    label: String(index),
    family: 'constant index',
    dispersion: { kind: 'constant', index },
    range: [100, 20000],
  });
}
