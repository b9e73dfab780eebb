import { RAY_STATUS, statusReason } from '../compute/ray-block.ts';
import { isGas } from '../materials/material.ts';
import type { Finding, TraceSurface } from '../sequence/lens-model.ts';
import { steepestSlope } from './making.ts';
import type { LensEvaluation } from './evaluation.ts';

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
  findings.push(...crossings(lens), ...steepSurfaces(lens));
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
      text: `Here a ray ${statusReason(status)}: ${count} of the traced rays, in ${fields.size === 1 ? 'field' : 'fields'} ${[...fields].join(', ')}.`,
    }));
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

/**
 * Vertices that pass each other: thickness with the wrong sign for the direction of the light. And surfaces on one axis that cross
 * within their semi-apertures, at whatever height, seen along y.
 */
function crossings(lens: LensEvaluation): Finding[] {
  const findings: Finding[] = [];
  let way = 1;
  const { surfaces, media } = lens.model;
  const extents = lens.extents();
  surfaces.forEach((surface, j) => {
    if (surface.reflects) way = -way;
    const solid = media[j + 1] !== undefined && !isGas(media[j + 1]!);
    if (j === surfaces.length - 1) return;
    if (!(surface.gap * way < 0)) {
      const height = crossingHeight(
        surface,
        surfaces[j + 1],
        Math.min(extents[j].semi, extents[j + 1].semi),
        way,
      );
      if (height !== null)
        findings.push({
          severity: solid ? 'error' : 'warning',
          where: surface.id,
          text: `${solid ? 'The glass behind this surface has no edge' : 'This surface crosses the next one'}: they meet ${height.toPrecision(3)} mm from the axis.`,
        });
      return;
    }
    findings.push({
      severity: solid ? 'error' : 'warning',
      where: surface.id,
      text: solid
        ? 'The glass behind this surface has a negative thickness.'
        : 'The gap behind this surface is negative.',
    });
  });
  return findings;
}

const HEIGHTS = 24;

/** The least height, mm, at which a surface lies behind the next one; null where none does, or where they do not share an axis. */
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
