import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { isGas } from '../materials/material.ts';
import { limitsOf, type LimitName } from '../project/improve.ts';
import type { MakingLimits } from '../project/improve.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import { traceBundle } from '../sequence/bundle.ts';
import type { LensModel } from '../sequence/lens-model.ts';

/** One limit of making at one place of a lens. */
export interface MakingRow {
  readonly limit: LimitName;
  /** Id of the surface that it is at, or that it lies behind. */
  readonly surface: string;
  readonly title: string;
  readonly unit: string;
  readonly value: number;
  readonly min?: number;
  readonly max?: number;
  /** By how much it is exceeded, mm or degrees; negative where it is kept. */
  readonly over: number;
}

/** How far out rays pass each surface, and how steeply they come. */
export interface RimRays {
  /** Largest distance from the axis, mm. */
  readonly semis: Float64Array;
  /** Largest angle of incidence, degrees. */
  readonly incidence: Float64Array;
}

const RIM = [0, 1, 2, 3, 4, 5, 6, 7].map((k) => (k * Math.PI) / 4);
const PX = Float64Array.from(RIM, (angle) => Math.sin(angle));
const PY = Float64Array.from(RIM, (angle) => Math.cos(angle));
/** The rim in the half where px ≥ 0, for lenses that are their own mirror image. */
const HALF = { px: PX.slice(0, 5), py: PY.slice(0, 5) };

/** Rays through the rim of the pupil, of all fields, in the primary colour; null where one of them cannot be traced. */
export function rimRays(lens: LensEvaluation): RimRays | null {
  const { model } = lens;
  const aimer = lens.aimer();
  if (!aimer.ok) return null;
  const semis = new Float64Array(model.surfaces.length);
  const incidence = new Float64Array(model.surfaces.length);
  let whole = true;
  for (const field of model.lens.fields.points) {
    const { px, py } = model.mirrorX && field.x === 0 ? HALF : { px: PX, py: PY };
    const indices = model.indices[model.primary];
    traceBundle(
      aimer.value,
      { field, wave: model.primary, px, py },
      {
        clip: false,
        visit(j, part, _from, size) {
          const [before, behind] = [indices[j], indices[j + 1]];
          for (let i = 0; i < size; i++) {
            if (part.status[i] !== 0) {
              whole = false;
              continue;
            }
            semis[j] = Math.max(semis[j], Math.hypot(part.x[i], part.y[i]));
            // sin I = n′ sin I′ / n, from the direction behind.
            const cos = Math.abs(part.l[i] * part.nx[i] + part.m[i] * part.ny[i] + part.n[i] * part.nz[i]);
            const sin = Math.min(
              1,
              (Math.sqrt(Math.max(0, 1 - cos * cos)) * (model.surfaces[j].reflects ? before : behind)) / before,
            );
            incidence[j] = Math.max(incidence[j], (Math.asin(sin) * 180) / Math.PI);
          }
        },
      },
    );
  }
  if (!whole) return null;
  const { stopSemi } = aimer.value.pupil;
  if (model.stop >= 0) semis[model.stop] = Math.max(semis[model.stop], stopSemi);
  for (const [j, { open }] of model.surfaces.entries()) if (open !== null) semis[j] = open;
  return { semis, incidence };
}

/** Every limit of making that a lens has, with how it stands. Media between cemented faces and behind mirrors have none of air. */
export function makingRows(model: LensModel, rim: RimRays, given: MakingLimits | undefined): MakingRow[] {
  const limits = limitsOf(given);
  const grown = 1 + (limits.margin ?? 0) / 100;
  const { surfaces, lens } = model;
  const last = surfaces.length - 1;
  const rows: MakingRow[] = [];
  const add = (j: number, { limit, what, unit, value, side, over }: Checked) => {
    const bound = limits[limit];
    if (bound === null || Number.isNaN(value)) return;
    rows.push({
      limit,
      surface: surfaces[j].id,
      title: `${what} ${titleOf(lens, j, limit)}`.trim(),
      unit,
      value,
      [side]: bound,
      over: over ? over(bound) : side === 'min' ? bound - value : value - bound,
    });
  };
  let way = 1;
  for (let j = 0; j < last; j++) {
    if (surfaces[j].reflects) way = -way;
    for (const checked of gapChecks(model, j, way, [rim.semis[j] * grown, rim.semis[j + 1] * grown])) add(j, checked);
    add(j, {
      limit: 'slope',
      what: 'slope of',
      unit: '°',
      value: slopeAt(surfaces[j].shape, rim.semis[j] * grown),
      side: 'max',
    });
    add(j, { limit: 'incidence', what: 'incidence on', unit: '°', value: rim.incidence[j], side: 'max' });
  }
  const length = surfaces.slice(0, last).reduce((sum, { gap }) => sum + gap, 0);
  if (limits.length !== null)
    rows.push({
      limit: 'length',
      surface: surfaces[last].id,
      title: 'length',
      unit: 'mm',
      value: length,
      max: limits.length,
      over: length - limits.length,
    });
  return rows;
}

/** A figure that a limit is for. */
interface Checked {
  readonly limit: LimitName;
  readonly what: string;
  readonly unit: string;
  readonly value: number;
  readonly side: 'min' | 'max';
  /** By how much it is beyond a bound; the difference by default. */
  readonly over?: (bound: number) => number;
}

/** What is limited of the medium after a surface: `way` is −1 where light goes back, `semis` are the edges of its two faces. */
function gapChecks(
  { surfaces, media }: LensModel,
  j: number,
  way: number,
  [own, other]: readonly [number, number],
): Checked[] {
  const { shape, gap, reflects } = surfaces[j];
  const next = surfaces[j + 1];
  const medium = media[j + 1];
  const solid = medium && !isGas(medium) && !reflects;
  const height = solid ? Math.max(own, other) : Math.min(own, other);
  const centre = way * gap;
  const ideal = next.entry || next.shape.ideal || shape.ideal;
  const edge = ideal ? NaN : way * (gap + sagAt(next.shape, height) - sagAt(shape, height));
  if (solid) {
    const diameter = 2 * Math.max(own, other);
    const ratio = { what: 'diameter over thickness of', unit: '', value: diameter / centre } as const;
    return [
      { limit: 'glassCentre', what: 'centre of', unit: 'mm', value: centre, side: 'min' },
      { limit: 'glassEdge', what: 'edge of', unit: 'mm', value: edge, side: 'min' },
      { limit: 'glassMost', what: 'centre of', unit: 'mm', value: centre, side: 'max' },
      // In mm of thickness, which go through 0 as the ratio does not.
      { ...ratio, limit: 'slender', side: 'max', over: (bound) => diameter / bound - centre },
      { ...ratio, limit: 'stout', side: 'min', over: (bound) => (bound > 0 ? centre - diameter / bound : -Infinity) },
    ];
  }
  if (j + 1 === surfaces.length - 1)
    return [{ limit: 'back', what: 'distance to the image', unit: 'mm', value: centre, side: 'min' }];
  if (reflects) return [];
  return [
    { limit: 'airCentre', what: 'gap', unit: 'mm', value: centre, side: 'min' },
    { limit: 'airEdge', what: 'edge of the gap', unit: 'mm', value: edge, side: 'min' },
    { limit: 'airMost', what: 'gap', unit: 'mm', value: centre, side: 'max' },
  ];
}

function titleOf(lens: LensModel['lens'], j: number, limit: LimitName): string {
  const name = lens.surfaces[j].after?.name;
  const own =
    limit === 'glassCentre' ||
    limit === 'glassEdge' ||
    limit === 'glassMost' ||
    limit === 'slender' ||
    limit === 'stout';
  if (own && name !== undefined) return name;
  const title = surfaceTitle(lens, j);
  return limit === 'slope' || limit === 'incidence' || own ? title : limit === 'back' ? '' : `after ${title}`;
}

type Shape = LensModel['surfaces'][number]['shape'];

/** The sag at a height, and beyond where the surface ends that of its tangent there: an edge that is not to be had is a bad one. */
function sagAt(shape: Shape, height: number): number {
  if (height < shape.reach) return shape.sag(0, height);
  const end = shape.reach * (1 - 1e-6);
  const jet = new Float64Array(6);
  shape.derivatives.jet(0, end, jet);
  return jet[0] + Math.sign(jet[2]) * 10 * (height - end);
}

function slopeAt(shape: Shape, height: number): number {
  if (height >= shape.reach) return 90 + (height / shape.reach - 1) * 90;
  const jet = new Float64Array(6);
  (shape.facets ?? shape.derivatives).jet(0, height, jet);
  return (Math.atan(Math.hypot(jet[1], jet[2])) * 180) / Math.PI;
}
