import { catalogueMaterial } from '../materials/catalogue.ts';
import { abbeNumber } from '../materials/material.ts';
import { indexIn, type Material } from '../materials/material.ts';
import { STANDARD } from '../materials/air.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { numberToExtent, extentToNumber } from '../math/parameter.ts';
import { embedMaterial } from '../project/embed-material.ts';
import { freshElementName, freshSurfaceId, isSolid, surfaceTitle } from '../project/lens-edits.ts';
import type { Lens, Surface } from '../project/model.ts';
import { shapeNumbers } from '../shapes/registry.ts';
import { defineOperation, type OperationSubject } from './operation.ts';
import { OPERATION_TITLES } from './titles.ts';

const sphere = (curvature: number): Surface['shape'] =>
  ({ kind: 'sphere', radius: numberToExtent(1 / curvature) }) as const;
const AUTOMATIC = { kind: 'automatic' } as const;
const told = (value: number) => Number(value.toPrecision(6));

/** The single element whose front is the chosen surface, in air on both sides. */
function singleElement({
  project,
  lens,
  first,
}: OperationSubject): Outcome<{ front: Surface; back: Surface; index: number }> {
  const index = isSolid(project, lens.surfaces[first].after) ? first : first - 1;
  const [front, back] = [lens.surfaces[index], lens.surfaces[index + 1]];
  const before = lens.surfaces[index - 1]?.after ?? null;
  if (!front || !isSolid(project, front.after)) return failure('Choose a surface of an element.');
  if (isSolid(project, before) || isSolid(project, back.after))
    return failure('The element is cemented to another: take a single one.');
  for (const surface of [front, back])
    if (!['plane', 'sphere'].includes(surface.shape.kind))
      return failure(
        `${surfaceTitle(lens, lens.surfaces.indexOf(surface))} is no sphere: only spherical elements are split.`,
      );
  return success({ front, back, index });
}

const curvatureOf = ({ shape }: Surface) => 1 / shapeNumbers(shape).radius;

export const splitElement = defineOperation({
  id: 'split_element',
  title: OPERATION_TITLES.split_element,
  meaning:
    'Makes two elements of one, each with half of its power and of the same bend, one behind the other: ' +
    'rays are bent in smaller steps, which lessens spherical aberration. What lies behind stays where it ' +
    'is where the gap is long enough.',
  on: 'surface',
  settings: { gap: { kind: 'number', title: 'Gap between them', unit: 'mm', min: 0, max: 1e4, fallback: 0.5 } },
  run(subject, { gap }) {
    const { lens } = subject;
    const single = singleElement(subject);
    if (!single.ok) return single;
    const { front, back, index } = single.value;
    const [c1, c2] = [curvatureOf(front) / 2, curvatureOf(back) / 2];
    const middle = freshSurfaceId(lens);
    const second = freshSurfaceId(lens, [middle]);
    const glass = front.after!;
    const gas = back.after!;
    const sign = Math.sign(glass.thickness) || 1;
    const room = gas.thickness - sign * gap - glass.thickness;
    const behind = sign * room > 0 ? room : gas.thickness;
    const name = freshElementName(lens);
    const path = `lenses.${lens.id}.surfaces`;
    return success({
      edits: [
        { kind: 'set', path: `${path}.${front.id}.shape`, value: sphere(c1) },
        {
          kind: 'insert',
          list: path,
          after: front.id,
          item: {
            id: middle,
            shape: sphere(c2),
            aperture: AUTOMATIC,
            after: { thickness: sign * gap, material: gas.material },
          },
        },
        {
          kind: 'insert',
          list: path,
          after: middle,
          item: {
            id: second,
            shape: sphere(c1),
            aperture: AUTOMATIC,
            after: { thickness: glass.thickness, material: glass.material, name },
          },
        },
        { kind: 'set', path: `${path}.${back.id}.shape`, value: sphere(c2) },
        { kind: 'set', path: `${path}.${back.id}.after.thickness`, value: behind },
      ],
      label: `Split ${glass.name ?? surfaceTitle(lens, index)}`,
      notes: [`two elements of radii ${told(1 / c1)} and ${told(1 / c2)} mm, ${told(gap)} mm apart`],
    });
  },
});

export const bendElement = defineOperation({
  id: 'bend_element',
  title: OPERATION_TITLES.bend_element,
  meaning:
    'Gives a single element another shape with the same power: (c₁ + c₂)/(c₁ − c₂) is 0 for equal ' +
    'curvatures, 1 with a flat back, −1 with a flat front, beyond for a meniscus. Spherical aberration ' +
    'and coma change, colour hardly does. The focal length of the element, thickness included, is kept at ' +
    '588 nm.',
  on: 'surface',
  settings: { shape: { kind: 'number', title: 'Shape', unit: '', min: -50, max: 50, fallback: 0 } },
  run(subject, { shape }) {
    const { lens, project } = subject;
    const single = singleElement(subject);
    if (!single.ok) return single;
    const { front, back, index } = single.value;
    const { n } = glassNumbers(project.materials.find(({ id }) => id === front.after!.material)!);
    const [c1, c2] = [curvatureOf(front), curvatureOf(back)];
    const thick = (front.after!.thickness * (n - 1)) / n;
    // Power of a thick lens over n − 1: c1 − c2 + c1 c2 d (n − 1)/n.
    const power = c1 - c2 + c1 * c2 * thick;
    if (power === 0) return failure('The element has no power: there is nothing to be kept.');
    // With c1 − c2 = K and c1 c2 = K² (X² − 1)/4 that is quadratic in K; its root near the thin lens.
    const a = (thick * (shape * shape - 1)) / 4;
    const root = 1 + 4 * a * power;
    if (!(root >= 0)) return failure('No element of this thickness has this shape and this power.');
    const k = (2 * power) / (1 + Math.sqrt(root));
    const [front1, back1] = [(k * (shape + 1)) / 2, (k * (shape - 1)) / 2];
    const path = `lenses.${lens.id}.surfaces`;
    return success({
      edits: [
        { kind: 'set', path: `${path}.${front.id}.shape`, value: sphere(front1) },
        { kind: 'set', path: `${path}.${back.id}.shape`, value: sphere(back1) },
      ],
      label: `Bend ${front.after!.name ?? surfaceTitle(lens, index)}`,
      notes: [
        `shape ${told((c1 + c2) / (c1 - c2))} → ${told(shape)}`,
        `radii ${told(1 / c1)}, ${told(1 / c2)} → ${told(1 / front1)}, ${told(1 / back1)} mm`,
      ],
    });
  },
});

/** Index, and dispersion nF − nC over nd − 1, of a glass. */
function glassNumbers(material: Material): { n: number; v: number } {
  const n = indexIn(material, 587.5618, STANDARD);
  return { n, v: abbeNumber(material.dispersion) };
}

/**
 * Thin-lens curvatures of a cemented achromat: Φa = Φ Va/(Va − Vb), Φb = −Φ Vb/(Va − Vb), c1 − c2 = Φa/(na − 1), c2 − c3 = Φb/(nb − 1).
 * W. J. Smith, Modern Optical Engineering, chapter 12.
 *
 * @param c1 - of the first surface, 1/mm; null for an equiconvex first element
 */
export function achromatCurvatures(
  power: number,
  a: Material,
  b: Material,
  c1: number | null,
): Outcome<[number, number, number]> {
  const [first, second] = [glassNumbers(a), glassNumbers(b)];
  const difference = first.v - second.v;
  if (Math.abs(difference) < 1) return failure(`${a.label} and ${b.label} disperse alike: they make no achromat.`);
  const [powerA, powerB] = [(power * first.v) / difference, (-power * second.v) / difference];
  const front = c1 ?? powerA / (2 * (first.n - 1));
  const middle = front - powerA / (first.n - 1);
  return success([front, middle, middle - powerB / (second.n - 1)]);
}

export const achromatise = defineOperation({
  id: 'achromatise',
  title: OPERATION_TITLES.achromatise,
  meaning:
    'Bends a cemented doublet so that F and C come to one focus, by thin-lens powers of its two glasses: its power and its first radius stay.',
  on: 'surface',
  settings: {},
  run(subject) {
    const { project, lens, first } = subject;
    const starts = [first, first - 1, first - 2].find((index) => index >= 0 && cementedPair(subject, index));
    if (starts === undefined) return failure('Choose a surface of a cemented doublet: two elements that touch.');
    const surfaces = [0, 1, 2].map((k) => lens.surfaces[starts + k]);
    const glasses = [0, 1].map((k) => project.materials.find(({ id }) => id === surfaces[k].after!.material)!);
    const [c1, c2, c3] = surfaces.map(curvatureOf);
    const [na, nb] = glasses.map((glass) => glassNumbers(glass).n);
    const power = (na - 1) * (c1 - c2) + (nb - 1) * (c2 - c3);
    const found = achromatCurvatures(power, glasses[0], glasses[1], c1);
    if (!found.ok) return found;
    const path = `lenses.${lens.id}.surfaces`;
    return success({
      edits: [1, 2].map((k) => ({
        kind: 'set' as const,
        path: `${path}.${surfaces[k].id}.shape`,
        value: sphere(found.value[k]),
      })),
      label: 'Achromatise a doublet',
      notes: [
        `radii ${[1, 2].map((k) => `${told(1 / [c1, c2, c3][k])} → ${told(1 / found.value[k])}`).join(', ')} ` +
          `mm; thin-lens focal length ${told(1 / power)} mm as before`,
      ],
    });
  },
});

function cementedPair({ project, lens }: OperationSubject, index: number): boolean {
  const [before, a, b, behind] = [-1, 0, 1, 2].map((k) => lens.surfaces[index + k]?.after);
  return (
    isSolid(project, a) &&
    isSolid(project, b) &&
    !isSolid(project, before) &&
    !isSolid(project, behind) &&
    lens.surfaces[index + 2] !== undefined
  );
}

/** What is put into the gap after the chosen surface: surfaces with the media after them, the last one's distance to what follows. */
function insertBehind({ lens, first }: OperationSubject, items: readonly Omit<Surface, 'id' | 'aperture'>[]) {
  const host = lens.surfaces[Math.min(first, lens.surfaces.length - 2)];
  const gap = host.after!.thickness;
  const thick = items.slice(0, -1).reduce((sum, { after }) => sum + after!.thickness, 0);
  const before = gap > 2 * thick ? thick / 2 : gap / 4;
  const behind = Math.max(gap - before - thick, gap / 4);
  const path = `lenses.${lens.id}.surfaces`;
  const taken: string[] = [];
  const edits = items.map((item, k) => {
    const id = freshSurfaceId(lens, taken);
    taken.push(id);
    const after = k === items.length - 1 ? { ...host.after!, thickness: behind } : item.after;
    return {
      kind: 'insert' as const,
      list: path,
      after: k === 0 ? host.id : taken[k - 1],
      item: { id, aperture: AUTOMATIC, ...item, after },
    };
  });
  return [{ kind: 'set' as const, path: `${path}.${host.id}.after.thickness`, value: before }, ...edits];
}

const CROWN = 'g517642';
const FLINT = 'g648338';

export const insertDoublet = defineOperation({
  id: 'insert_doublet',
  title: OPERATION_TITLES.insert_doublet,
  meaning:
    'Puts a cemented achromat of a borosilicate crown and a dense flint into the gap after the chosen ' +
    'surface: thin-lens powers for F and C, the crown equiconvex.',
  on: 'surface',
  settings: { focal_length: { kind: 'number', title: 'Focal length', unit: 'mm', min: -1e6, max: 1e6, fallback: 100 } },
  run(subject, { focal_length }) {
    if (focal_length === 0) return failure('A focal length is not 0.');
    const { project, lens, first } = subject;
    if (isSolid(project, lens.surfaces[Math.min(first, lens.surfaces.length - 2)].after))
      return failure('Choose a surface with air after it.');
    const [crown, flint] = [catalogueMaterial(CROWN)!, catalogueMaterial(FLINT)!];
    const found = achromatCurvatures(1 / focal_length, crown, flint, null);
    if (!found.ok) return found;
    const thick = thickness(lens);
    const [name, second] = names(lens);
    const [c1, c2, c3] = found.value;
    return success({
      edits: [
        ...embedMaterial(project, crown),
        ...embedMaterial(project, flint),
        ...insertBehind(subject, [
          { shape: sphere(c1), after: { thickness: thick, material: CROWN, name } },
          { shape: sphere(c2), after: { thickness: thick / 2, material: FLINT, name: second } },
          { shape: sphere(c3), after: null },
        ]),
      ],
      label: 'Insert an achromat',
      notes: [`${crown.label} and ${flint.label}, radii ${[c1, c2, c3].map((c) => told(1 / c)).join(', ')} mm`],
    });
  },
});

export const insertFieldLens = defineOperation({
  id: 'insert_field_lens',
  title: OPERATION_TITLES.insert_field_lens,
  meaning:
    'Puts a plano-convex element, its flat toward the image, into the gap after the chosen surface: near ' +
    'an image it turns chief rays and hardly changes the focus.',
  on: 'surface',
  settings: { focal_length: { kind: 'number', title: 'Focal length', unit: 'mm', min: -1e6, max: 1e6, fallback: 50 } },
  run(subject, { focal_length }) {
    if (focal_length === 0) return failure('A focal length is not 0.');
    const { project, lens, first } = subject;
    if (isSolid(project, lens.surfaces[Math.min(first, lens.surfaces.length - 2)].after))
      return failure('Choose a surface with air after it.');
    const glass = catalogueMaterial(CROWN)!;
    const radius = (glassNumbers(glass).n - 1) * focal_length;
    return success({
      edits: [
        ...embedMaterial(project, glass),
        ...insertBehind(subject, [
          { shape: sphere(1 / radius), after: { thickness: thickness(lens), material: CROWN, name: names(lens)[0] } },
          { shape: { kind: 'plane' }, after: null },
        ]),
      ],
      label: 'Insert a field lens',
      notes: [`${glass.label}, radius ${told(radius)} mm`],
    });
  },
});

export const moveStop = defineOperation({
  id: 'move_stop',
  title: OPERATION_TITLES.move_stop,
  meaning:
    'Shifts the stop along the axis between its neighbours, which stay where they are: coma, astigmatism ' +
    'and distortion change, spherical aberration and field curvature do not. It has to stand in air.',
  on: 'lens',
  settings: { by: { kind: 'number', title: 'Toward the image by', unit: 'mm', min: -1e6, max: 1e6, fallback: 0 } },
  run({ project, lens }, { by }) {
    const index = lens.surfaces.findIndex(({ id }) => id === lens.stop);
    const [before, stop] = [lens.surfaces[index - 1], lens.surfaces[index]];
    if (!stop?.after) return failure('No surface is the stop.');
    if (shapeNumbers(stop.shape).radius !== Infinity || isSolid(project, before?.after) || isSolid(project, stop.after))
      return failure('The stop is a surface of glass: insert a flat surface in air and make it the stop first.');
    const front = before ? before.after!.thickness + by : 0;
    const behind = stop.after.thickness - by;
    const free = (value: number, was: number) => value * (Math.sign(was) || 1) >= 0;
    if ((before && !free(front, before.after!.thickness)) || !free(behind, stop.after.thickness))
      return failure(
        `The stop would pass its neighbour: it can go from ${told(-(before?.after!.thickness ?? 0))} to ${told(stop.after.thickness)} mm.`,
      );
    const path = `lenses.${lens.id}.surfaces`;
    const far = extentToNumber(lens.object.distance);
    return success({
      edits: [
        ...(before
          ? [{ kind: 'set' as const, path: `${path}.${before.id}.after.thickness`, value: front }]
          : Number.isFinite(far)
            ? [{ kind: 'set' as const, path: `lenses.${lens.id}.object.distance`, value: far + by }]
            : []),
        { kind: 'set', path: `${path}.${stop.id}.after.thickness`, value: behind },
      ],
      label: 'Move the stop',
      notes: [`${told(Math.abs(by))} mm toward the ${by < 0 ? 'object' : 'image'}`],
    });
  },
});

/** A thickness that an element of this lens may have. */
function thickness(lens: Lens): number {
  return Math.max(1, Math.round(lens.aperture.value / 5));
}

/** Names for two new elements. */
function names(lens: Lens): [string, string] {
  const first = freshElementName(lens);
  return [first, freshElementName(lens, [first])];
}
