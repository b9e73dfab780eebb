import { RAY_STATUS, statusReason } from '../../compute/ray-block.ts';
import { isGas } from '../../materials/material.ts';
import type { Finding, TraceSurface } from '../../sequence/lens-model.ts';
import { turnDirection, type Triple } from '../../math/rigid.ts';
import { finishProblems } from '../../finishes/finish-problems.ts';
import { compileFinish } from '../../finishes/finish.ts';
import { filmMedia } from '../../project/film-media.ts';
import { carriesFinish, finishOfSurface } from './surface-finish.ts';
import { beamLimit, fNumberFactor } from './beam-limit.ts';
import { steepestSlope } from './making.ts';
import type { LensEvaluation } from './lens-evaluation.ts';

/** Pupil points that are looked at for trouble: centre and rim. */
const RIM = { kind: 'polar', rings: 3, arms: 8 } as const;

/**
 * Everything the user should know about a lens as it stands: what is missing, where rays end and why, where surfaces cross.
 * Each finding belongs to a surface where there is one.
 */
export function lensFindings(lens: LensEvaluation): Finding[] {
  const findings: Finding[] = [...lens.model.findings];
  const pupil = lens.pupil();
  if (!pupil.ok) {
    if (findings.every((finding) => finding.severity !== 'error')) {
      findings.push({ severity: 'error', text: pupil.reason, ...(pupil.where && { where: pupil.where }) });
    }
  } else {
    findings.push(...rayFindings(lens));
  }
  findings.push(...crossings(lens), ...steepSurfaces(lens), ...limitedElsewhere(lens), ...coatings(lens));
  return findings;
}

/** One finding per surface and reason for which rays of any field end, set apertures apart: those are meant to. */
function rayFindings(lens: LensEvaluation): Finding[] {
  const { model } = lens;
  const ends = new Map<string, { surface: number; status: number; fields: Set<string>; count: number }>();
  for (const field of model.lens.fields.points) {
    for (const wave of model.wavelengths.keys()) {
      const bundle = lens.bundle(field, wave, { sampling: RIM, pupil: 'full' });
      if (!bundle.ok) continue;
      const { status, at, capacity } = bundle.value.rays;
      for (let i = 0; i < capacity; i++) {
        if (status[i] === RAY_STATUS.alive) continue;
        const key = `${at[i]} ${status[i]}`;
        const end = ends.get(key) ?? { surface: at[i], status: status[i], fields: new Set(), count: 0 };
        end.count++;
        end.fields.add(field.id);
        ends.set(key, end);
      }
    }
  }
  return [...ends.values()]
    .sort((a, b) => a.surface - b.surface)
    .map(({ surface, status, fields, count }) => ({
      severity: 'error' as const,
      where: model.surfaces[surface].id,
      text:
        `Here a ray ${statusReason(status)}: ${count} of the traced rays, in ${fields.size === 1 ? 'field' : 'fields'} ` +
        `${[...fields].join(', ')}.`,
    }));
}

/** Finishes of surfaces that the project does not have, and those that let nothing on. */
function coatings(lens: LensEvaluation): Finding[] {
  const { model } = lens;
  return model.surfaces.flatMap(({ id, reflects }, j): Finding[] => {
    const asked = model.lens.surfaces[j].finish;
    const finish = finishOfSurface(lens, j);
    if (finish === undefined)
      return [
        { severity: 'error', where: id, text: `The project has no finish “${asked}”: the surface is taken as bare.` },
      ];
    if (finish === null) return [];
    if (!carriesFinish(lens, j))
      return [
        {
          severity: 'warning',
          where: id,
          text: `“${finish.name}” does nothing here: there is no glass on either side.`,
        },
      ];
    const media = filmMedia(lens.project);
    const found = finishProblems(
      finish,
      model.wavelengths.map(({ nm }) => nm),
      media,
    ).map((problem) => ({ ...problem, where: id }));
    const { opaque } = compileFinish(finish, model.wavelengths[Math.max(0, model.primary)]?.nm ?? 550, media);
    if (opaque && !reflects && found.length === 0)
      found.push({
        severity: 'warning',
        where: id,
        text: `No light goes on here: “${finish.name}” lets nothing through.`,
      });
    return found;
  });
}

/** From this slope on, in degrees, a surface is as good as folded: what is behind its rim cannot be polished or met safely. */
const FOLDED = 75;

/** Surfaces whose numbers bend them up within their semi-apertures. */
function steepSurfaces(lens: LensEvaluation): Finding[] {
  return lens.model.surfaces.slice(0, -1).flatMap(({ id }) => {
    const steepest = steepestSlope(lens, id);
    if (!steepest.ok || !(steepest.value.value > FOLDED)) return [];
    const { value, height } = steepest.value;
    return [
      {
        severity: 'warning' as const,
        where: id,
        text: `The surface folds up: its slope is ${value.toFixed(0)}° at ${height.toPrecision(3)} mm from its axis.`,
      },
    ];
  });
}

/** Cosine between the light and the way to the next vertex within which the two count as going across each other. */
const ACROSS = 0.5;

/**
 * Vertices that pass each other: the next one lies against the light, as the axis takes it. And surfaces on one axis that cross within their
 * semi-apertures, at whatever height, seen along y. A mirror that sends the light across an axis that goes straight on is told as such: no
 * sign of a thickness would be right there.
 */
function crossings(lens: LensEvaluation): Finding[] {
  const findings: Finding[] = [];
  let light: Triple = [0, 0, 1];
  const { surfaces, media } = lens.model;
  const extents = lens.extents();
  surfaces.forEach((surface, j) => {
    if (surface.reflects) light = reflected(light, turnDirection(surface.pose, [0, 0, 1]));
    if (j === surfaces.length - 1) return;
    const solid = media[j + 1] !== undefined && !isGas(media[j + 1]!);
    const along = cosineTo(light, surface, surfaces[j + 1]);
    if (surface.reflects && Math.abs(along) < ACROSS) {
      findings.push({
        severity: 'warning',
        where: surface.id,
        text:
          'This mirror sends the light across the axis, which goes straight on: let the axis follow the ' +
          'reflected one (Place), or shift and tilt what comes next.',
      });
      return;
    }
    if (along > -ACROSS) {
      const way = surface.gap < 0 || (surface.gap === 0 && light[2] < 0) ? -1 : 1;
      const height = crossingHeight(surface, surfaces[j + 1], Math.min(extents[j].semi, extents[j + 1].semi), way);
      if (height !== null)
        findings.push({
          severity: solid ? 'error' : 'warning',
          where: surface.id,
          text:
            `${solid ? 'The glass after this surface has no edge' : 'This surface crosses the next one'}: they ` +
            `meet ${height.toPrecision(3)} mm from the axis.`,
        });
      return;
    }
    findings.push({
      severity: solid ? 'error' : 'warning',
      where: surface.id,
      text: solid
        ? 'The glass after this surface has a negative thickness.'
        : 'The gap after this surface is negative.',
    });
  });
  return findings;
}

function reflected(direction: Triple, normal: Triple): Triple {
  const twice = 2 * direction.reduce((sum, part, k) => sum + part * normal[k], 0);
  return [direction[0] - twice * normal[0], direction[1] - twice * normal[1], direction[2] - twice * normal[2]];
}

/** Cosine between the light and the way from one vertex to the next; 1 for vertices at one place. */
function cosineTo(light: Triple, { pose: from }: TraceSurface, { pose: to }: TraceSurface): number {
  const way = to.shift.map((part, k) => part - from.shift[k]);
  const length = Math.hypot(...way);
  return length === 0 ? 1 : way.reduce((sum, part, k) => sum + part * light[k], 0) / length;
}

/** The aperture that limits the beam of the axis in place of the stop. */
function limitedElsewhere(lens: LensEvaluation): Finding[] {
  const limit = beamLimit(lens);
  if (!limit || limit.surface === lens.model.stop) return [];
  const primary = lens.primary();
  const n = primary.ok ? primary.value.workingFNumber * fNumberFactor(lens) : NaN;
  const passes = Number.isFinite(n) ? ` The light that passes is that of F/${Number(n.toPrecision(3))}.` : '';
  return [
    {
      severity: 'warning',
      where: lens.model.surfaces[limit.surface].id,
      text:
        `The aperture set here cuts ${Number((100 * (1 - limit.passing)).toPrecision(2))} % of the beam of ` +
        `the axis: it limits the light, no longer the stop.${passes}`,
    },
  ];
}

const HEIGHTS = 24;

/** The least height, mm, at which a surface lies after the next one; null where none does, or where they do not share an axis. */
function crossingHeight(surface: TraceSurface, next: TraceSurface, semi: number, way: number): number | null {
  if (next.entry) return null;
  for (let k = 1; k <= HEIGHTS; k++) {
    const height = (semi * k) / HEIGHTS;
    for (const y of [height, -height])
      if ((surface.gap + next.shape.sag(0, y) - surface.shape.sag(0, y)) * way < -NOTHING) return height;
  }
  return null;
}

/** Surfaces that touch at their rims do not cross, mm. */
const NOTHING = 1e-9;
