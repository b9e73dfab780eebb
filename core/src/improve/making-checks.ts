import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { CATALOGUE } from '../materials/catalogue.ts';
import { isGas, type Material } from '../materials/material.ts';
import type { Edit } from '../project/edit.ts';
import { embedMaterial } from '../project/embed-material.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import type { ParameterState, Project } from '../project/model.ts';
import { isExceeded } from '../project/improve.ts';
import { makingRows, rimRays } from './making-limits.ts';
import { nearestGlasses } from './nearest-glasses.ts';

/** Something that a workshop would refuse or regret, with what can be done about it in one step. */
export interface MakingCheck {
  readonly kind:
    'nearly symmetric' | 'nearly flat' | 'nearly alike' | 'poor glass' | 'no plate' | 'limit' | 'impossible';
  /** Id of the surface that it is at. */
  readonly surface: string;
  readonly text: string;
  /** What makes it right; the numbers that a run changed are polished again afterwards. */
  readonly remedy?: { readonly label: string; readonly edits: readonly Edit[] };
}

/** Radii of both faces nearer to each other than this share are told apart by nobody who mounts the element. */
const SYMMETRIC = 0.05;
/** A surface that departs from a flat by less than this over its aperture, mm, has no radius that can be measured: some six fringes. */
const FLAT = 0.0018;
/** Classes of resistance from which on a glass wants care: humid climate of 1 to 4, stains of 0 to 5. */
const POOR = { climate: 3, stain: 4 } as const;
/** Radii nearer to each other than this share want one test plate. */
const ALIKE = 0.01;

/**
 * Looks a lens over as a workshop would: elements that are nearly symmetric and will be mounted backwards, radii that are nearly flat and cannot
 * be measured, radii that nearly need the same test plate, and limits of making that are exceeded. What follows by a link already is left alone.
 */
export function makingChecks(project: Project, lens: LensEvaluation): MakingCheck[] {
  const impossible = negativeThicknesses(lens);
  const rim = rimRays(lens);
  if (!rim)
    return [
      ...impossible,
      {
        kind: 'impossible',
        surface: '',
        text: 'Rays at the rim of the pupil do not get through: edges, slopes and radii cannot be judged before they do.',
      },
    ];
  const found = [
    ...impossible,
    ...symmetricElements(project, lens),
    ...flatSurfaces(project, lens, rim.semis),
    ...alikeRadii(project, lens),
    ...poorGlasses(project, lens),
  ];
  const rows = makingRows(lens.model, rim, project.making);
  for (const { title, value, unit, min, max, surface, over } of rows) {
    if (!isExceeded({ over, ...(min !== undefined && { min }), ...(max !== undefined && { max }) })) continue;
    const shown = (one: number) => `${Number(one.toPrecision(4))}${unit === '°' ? '°' : unit === '' ? '' : ` ${unit}`}`;
    const bound = min !== undefined ? `at least ${shown(min)}` : `at most ${shown(max!)}`;
    found.push({ kind: 'limit', surface, text: `${title} is ${shown(value)}, ${bound} is asked for.` });
  }
  return found;
}

/** Glass and gaps through which the light would have to go backward: no workshop makes that. */
function negativeThicknesses({ model }: LensEvaluation): MakingCheck[] {
  let way = 1;
  return model.surfaces.slice(0, -1).flatMap(({ id, gap, reflects }, j): MakingCheck[] => {
    if (reflects) way = -way;
    if (!(way * gap < 0) || model.surfaces[j + 1].entry || model.surfaces[j].entry) return [];
    const material = model.media[j + 1];
    const what =
      material && !isGas(material)
        ? (model.lens.surfaces[j].after?.name ?? 'The glass')
        : `The gap after ${surfaceTitle(model.lens, j)}`;
    return [
      {
        kind: 'impossible',
        surface: id,
        text: `${what} has a negative thickness, ${Number(gap.toPrecision(4))} mm.`,
      },
    ];
  });
}

/** Finite radii of the spheres of a lens by surface; 0 for what is no sphere, or flat. */
function radiiOf({ model }: LensEvaluation): number[] {
  return model.lens.surfaces.map(({ shape }) =>
    shape.kind === 'sphere' && shape.radius !== 'infinity' ? shape.radius : 0,
  );
}

export const radiusAddress = (lens: string, surface: string) => `lenses.${lens}.surfaces.${surface}.radius`;

/** Edits that let one radius follow another, with a factor of 1 or −1. */
function linked(project: Project, lens: string, surface: string, to: string, sign: 1 | -1, value: number): Edit[] {
  const formula = `${sign === -1 ? '-1 * ' : ''}${radiusAddress(lens, to)}`;
  const state: ParameterState = { kind: 'linked', formula };
  return [
    { kind: 'set', path: `lenses.${lens}.surfaces.${surface}.shape.radius`, value },
    {
      kind: 'set',
      path: 'parameters',
      value: { ...project.parameters, [radiusAddress(lens, surface)]: state },
    },
  ];
}

/** Whether a radius follows from others, so that it is not to be touched. */
export function followsOthers(project: Project, lens: string, surface: string): boolean {
  const kind = project.parameters?.[radiusAddress(lens, surface)]?.kind;
  return kind === 'linked' || kind === 'derived';
}

function symmetricElements(project: Project, lens: LensEvaluation): MakingCheck[] {
  const { surfaces, media, lens: record } = lens.model;
  const radii = radiiOf(lens);
  const solid = (j: number) => {
    const material = media[j];
    return material !== undefined && !isGas(material);
  };
  return surfaces.flatMap((surface, j): MakingCheck[] => {
    const [one, other] = [radii[j], radii[j + 1]];
    // A single element in air: cemented ones are mounted as a whole.
    if (!one || !other || surface.reflects || !solid(j + 1) || solid(j) || solid(j + 2)) return [];
    const off = Math.abs(one + other) / Math.abs(one);
    const back = surfaces[j + 1].id;
    if (off > SYMMETRIC || off < 1e-9 || followsOthers(project, record.id, back)) return [];
    const name = record.surfaces[j].after?.name ?? surfaceTitle(record, j);
    return [
      {
        kind: 'nearly symmetric',
        surface: surface.id,
        text: `${name} is nearly symmetric, ${toldRadius(one)} and ${toldRadius(other)} mm: it could be mounted backwards.`,
        remedy: {
          label: `Make ${name} symmetric`,
          edits: linked(project, record.id, back, surface.id, -1, -one),
        },
      },
    ];
  });
}

function flatSurfaces(project: Project, lens: LensEvaluation, semis: Float64Array): MakingCheck[] {
  const { lens: record } = lens.model;
  return radiiOf(lens).flatMap((radius, j): MakingCheck[] => {
    const { id } = record.surfaces[j];
    const sag = Math.abs((semis[j] * semis[j]) / (2 * radius));
    if (!radius || !(sag < FLAT) || followsOthers(project, record.id, id)) return [];
    const title = surfaceTitle(record, j);
    return [
      {
        kind: 'nearly flat',
        surface: id,
        text:
          `${title} is nearly flat: ${(sag * 1000).toPrecision(2)} µm over its aperture at a radius of ` +
          `${toldRadius(radius)} mm, which nobody can measure.`,
        remedy: {
          label: `Make ${title} flat`,
          edits: [
            {
              kind: 'set',
              path: `lenses.${record.id}.surfaces.${id}.shape.radius`,
              value: 'infinity',
            },
            ...withoutState(project, radiusAddress(record.id, id)),
          ],
        },
      },
    ];
  });
}

/** A number that is no longer free: a flat that a run may bend again is none. */
export function withoutState(project: Project, address: string): Edit[] {
  if (!project.parameters?.[address]) return [];
  const { [address]: _gone, ...rest } = project.parameters;
  return [{ kind: 'set', path: 'parameters', value: Object.keys(rest).length > 0 ? rest : undefined }];
}

const isPoor = ({ typical = {} }: Material) =>
  (typical.climate ?? 0) >= POOR.climate || (typical.stain ?? 0) >= POOR.stain;

/** Elements of a glass that weather or stains attack, with the next one in the map of which that is not known. */
function poorGlasses(project: Project, { model: { lens } }: LensEvaluation): MakingCheck[] {
  return lens.surfaces.flatMap(({ id, after, reflects }): MakingCheck[] => {
    const glass = project.materials.find((one) => one.id === after?.material);
    if (!glass || reflects || !isPoor(glass)) return [];
    const name = after!.name ?? glass.label;
    const { climate, stain } = glass.typical!;
    const typically = glass.ofFamily?.some((one) => one === 'climate' || one === 'stain')
      ? ', typical of its family'
      : '';
    const classes = [climate !== undefined && `climate class ${climate}`, stain !== undefined && `stain class ${stain}`]
      .filter(Boolean)
      .join(', ');
    const others = CATALOGUE.filter((one) => /^g\d{6}$/.test(one.id) && one.id !== glass.id && !isPoor(one));
    const [next] = nearestGlasses(glass, others);
    const text =
      `${name} is of ${glass.label}, ${classes}${typically}: weather and finger marks attack it, so that it ` +
      'wants a place inside or a coating.';
    if (!next) return [{ kind: 'poor glass', surface: id, text }];
    const edits: Edit[] = [
      ...embedMaterial(project, next),
      { kind: 'set', path: `lenses.${lens.id}.surfaces.${id}.after.material`, value: next.id },
    ];
    return [{ kind: 'poor glass', surface: id, text, remedy: { label: `Take ${next.label} for ${name}`, edits } }];
  });
}

function alikeRadii(project: Project, lens: LensEvaluation): MakingCheck[] {
  const { lens: record, media } = lens.model;
  const radii = radiiOf(lens);
  const found: MakingCheck[] = [];
  for (let j = 1; j < radii.length; j++) {
    if (!radii[j] || followsOthers(project, record.id, record.surfaces[j].id)) continue;
    for (let i = 0; i < j; i++) {
      const off = Math.abs(Math.abs(radii[j] / radii[i]) - 1);
      if (!radii[i] || off > ALIKE || off < 1e-9) continue;
      // The two faces of one element are told as nearly symmetric.
      const glass = media[j];
      const element = i === j - 1 && glass !== undefined && !isGas(glass) && radii[i] * radii[j] < 0;
      if (element) continue;
      const [one, other] = [surfaceTitle(record, i), surfaceTitle(record, j)];
      const sign = radii[i] * radii[j] < 0 ? -1 : 1;
      found.push({
        kind: 'nearly alike',
        surface: record.surfaces[j].id,
        text: `${other}, ${toldRadius(radii[j])} mm, is nearly the radius of ${one}, ${toldRadius(radii[i])} mm: one test plate would do for both.`,
        remedy: {
          label: `Give ${other} the radius of ${one}`,
          edits: linked(project, record.id, record.surfaces[j].id, record.surfaces[i].id, sign, sign * radii[i]),
        },
      });
      break;
    }
  }
  return found;
}

/** A radius as it is told. */
export const toldRadius = (value: number, digits = 5) => String(Number(value.toPrecision(digits))).replace('-', '−');
