import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { chiefAtImage, type ImageLaw } from '../imaging/field/image-point.ts';
import {
  fieldNear,
  idealPlace,
  imageScale,
  SLOPE_STEPS,
  SLOPE_WEIGHTS,
  smallStep,
  type ImageScale,
} from '../imaging/field/image-scale.ts';
import { alongZ } from '../math/rigid.ts';
import { findMeasure } from '../measures/registry.ts';
import { readSettings } from '../measures/measure.ts';
import type { MeasureGoal } from '../project/improve.ts';
import type { FieldPoint } from '../project/model.ts';
import { BundleGradients, seedOf, type Seed } from '../sequence/bundle-gradients.ts';
import { pupilChange } from '../sequence/pupil-derivatives.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';
import { imageRows } from './image-goal.ts';
import { squareSum, type ImageRows } from './image-rows.ts';

type Settings = Readonly<Record<string, string | number>>;

/** Derivatives of a measure by variables of a lens, in its unit; null where they are not known exactly. */
type Exact = (lens: LensEvaluation, settings: Settings, variables: readonly SolverVariable[]) => Float64Array | null;

/** Rings by which the slope of a spot is sampled: it need not be known as well as the spot. */
const SLOPE_RINGS = 6;

/** How focal length, entrance-pupil radius and pupil of a lens with a far object change with each variable. */
function firstOrderChanges(lens: LensEvaluation, variables: readonly SolverVariable[]) {
  const pupil = lens.pupil();
  if (!pupil.ok || lens.model.lens.object.distance !== 'infinity') return null;
  const changes = [];
  for (const variable of variables) {
    const change = pupilChange(lens.model, pupil.value, variable);
    if (!change.ok) return null;
    changes.push(change.value);
  }
  return { pupil: pupil.value, changes };
}

const focalLength: Exact = (lens, _settings, variables) => {
  const first = firstOrderChanges(lens, variables);
  return first && Float64Array.from(first.changes, ({ imageScale }) => imageScale);
};

const fNumber: Exact = (lens, _settings, variables) => {
  const first = firstOrderChanges(lens, variables);
  if (!first) return null;
  const { semi, imageScale } = first.pupil;
  const sign = Math.sign(imageScale);
  return Float64Array.from(
    first.changes,
    (change) => sign * (change.imageScale / (2 * semi) - (imageScale * change.semi) / (2 * semi * semi)),
  );
};

/**
 * A lens in a row without mirrors, on a straight axis: from its first vertex to its last one, the thicknesses between them and how far both
 * stand beside their places. Tilts change it in second order only.
 */
const totalLength: Exact = ({ model: { surfaces, lens } }, _settings, variables) => {
  const last = surfaces.length - 1;
  if (lens.surfaces.some(({ frame, behind }) => behind || (frame?.axis ?? 'return') !== 'return')) return null;
  if (surfaces.some(({ axis, reflects, gap }, j) => reflects || !alongZ(axis) || (j < last && gap < 0))) return null;
  const zs = surfaces.map(({ pose }) => pose.shift[2]);
  const [first, end] = [zs.indexOf(Math.min(...zs)), zs.lastIndexOf(Math.max(...zs))];
  return Float64Array.from(variables, (one) => {
    if (one.kind === 'thickness') return one.surface >= first && one.surface < end ? 1 : 0;
    if (one.kind !== 'place' || one.part !== 'frame' || one.id !== 'dz') return 0;
    return (one.surface === end ? 1 : 0) - (one.surface === first ? 1 : 0);
  });
};

/** The chief ray of a field in the primary colour at the image, with how what seeds stand for changes with each variable. */
function chiefChanges(
  lens: LensEvaluation,
  field: FieldPoint,
  variables: readonly SolverVariable[],
  seeds: readonly Seed[],
): Float64Array[] | null {
  const aimer = lens.aimer();
  const gradients = aimer.ok ? BundleGradients.of(aimer.value, variables) : aimer;
  if (!gradients.ok) return null;
  const centre = new Float64Array(1);
  const bundle = gradients.value.trace(field, lens.model.primary, centre, centre);
  return bundle.whole ? bundle.back(seeds) : null;
}

function fieldOf(lens: LensEvaluation, settings: Settings): FieldPoint | null {
  const field = lens.field(String(settings.field));
  return field.ok ? field.value : null;
}

/** Where the chief ray meets the image, as a seed for each of its coordinates. */
function places(): [Seed, Seed] {
  const [x, y] = [seedOf(1), seedOf(1)];
  x.x[0] = y.y[0] = 1;
  return [x, y];
}

const imageHeight: Exact = (lens, settings, variables) => {
  const field = fieldOf(lens, settings);
  const chief = field && chiefAtImage(lens, field);
  if (!field || !chief?.ok || isAfocal(lens.model.lens)) return null;
  const changes = chiefChanges(lens, field, variables, places());
  const [x, y] = [chief.value.x[0], chief.value.y[0]];
  const height = Math.hypot(x, y);
  if (!changes || height === 0) return null;
  return Float64Array.from(variables, (_, v) => (x * changes[0][v] + y * changes[1][v]) / height);
};

/** How the chief point of a field moves along y with each variable; null where rays are missing. */
function heightChanges(
  lens: LensEvaluation,
  field: FieldPoint,
  variables: readonly SolverVariable[],
): Float64Array | null {
  return chiefChanges(lens, field, variables, places())?.[1] ?? null;
}

/** Of r₀ = f·tan θ or f·θ by its focal length; of the scale of the image surface by the chief points near the axis that it is made of. */
function idealChanges(
  lens: LensEvaluation,
  ideal: number,
  settings: Settings,
  variables: readonly SolverVariable[],
): Float64Array | null {
  const { kind } = lens.model.lens.fields;
  if (settings.scale === 'paraxial image') {
    const first = kind === 'angle' ? firstOrderChanges(lens, variables) : null;
    return first && Float64Array.from(first.changes, ({ imageScale }) => (ideal / first.pupil.imageScale) * imageScale);
  }
  const scale = imageScale(lens);
  if (settings.scale !== 'image surface' || !scale.ok) return null;
  const step = smallStep(lens);
  const sum = new Float64Array(variables.length);
  for (const [k, steps] of SLOPE_STEPS.entries()) {
    const change = heightChanges(lens, fieldNear(lens, 0, steps * step), variables);
    if (!change) return null;
    change.forEach((value, v) => (sum[v] += ((SLOPE_WEIGHTS[k] * value) / step) * (ideal / scale.value)));
  }
  return sum;
}

/** r along r₀ over r₀, minus 1, both from where the axis is imaged: with y alone for fields in the y–z plane. */
const distortion: Exact = (lens, settings, variables) => {
  const field = fieldOf(lens, settings);
  if (!field || field.x !== 0 || field.y === 0 || !lens.model.mirrorX || isAfocal(lens.model.lens)) return null;
  const about = { scale: settings.scale as ImageScale, law: settings.law as ImageLaw };
  const chief = chiefAtImage(lens, field);
  const ideal = idealPlace(lens, field, about);
  if (!chief.ok || !ideal.ok) return null;
  const [y, y0, origin] = [chief.value.y[0], ideal.value.from[1], ideal.value.origin[1]];
  const changes = heightChanges(lens, field, variables);
  const idealMoves = idealChanges(lens, y0, settings, variables);
  const axisMoves = settings.scale === 'paraxial image' ? null : heightChanges(lens, fieldNear(lens, 0, 0), variables);
  if (!changes || !idealMoves) return null;
  return Float64Array.from(
    variables,
    (_, v) => 100 * ((changes[v] - (axisMoves?.[v] ?? 0)) / y0 - ((y - origin) * idealMoves[v]) / (y0 * y0)),
  );
};

/** acos|N| of the chief ray at the image. */
const chiefAngle: Exact = (lens, settings, variables) => {
  const field = fieldOf(lens, settings);
  const chief = field && chiefAtImage(lens, field);
  if (!field || !chief?.ok) return null;
  const seed = seedOf(1);
  const n = chief.value.n[0];
  const sine = Math.sqrt(1 - n * n);
  if (sine < 1e-9) return null;
  seed.n[0] = -Math.sign(n) / sine;
  const changes = chiefChanges(lens, field, variables, [seed]);
  return changes && changes[0].map((change) => (change * 180) / Math.PI);
};

/** RMS = √Σ rows², so that its derivative is Σ rows · d rows / RMS; of the worst field its own. */
const spotRadius: Exact = (lens, settings, variables) => {
  const { model } = lens;
  const clips = model.surfaces.some(({ open, mask }) => open !== null || mask !== null);
  if (isAfocal(model.lens) || (clips && settings.pupil !== 'full')) return null;
  const rings = Math.min(SLOPE_RINGS, Number(settings.rings ?? SLOPE_RINGS));
  const about = settings.reference === 'chief' ? 'chief' : 'centroid';
  const goal = {
    id: 'spot',
    kind: 'image_quality',
    of: model.lens.id,
    weight: 1,
    what: 'spot',
    about,
    lateralColour: true,
    rings,
  } as const;
  const weighted = model.lens.fields.points.filter(({ weight }) => weight > 0);
  const one = settings.field === 'all' || settings.field === 'worst' ? null : fieldOf(lens, settings);
  const choices = one
    ? [[{ ...one, weight: 1 }]]
    : settings.field === 'worst'
      ? weighted.map((field) => [field])
      : [weighted];
  let worst: { readonly rms: number; readonly rows: ImageRows; readonly values: Float64Array } | null = null;
  for (const fields of choices) {
    const rows = imageRows(goal, lens, fields);
    if (!rows.ok) return null;
    const values = new Float64Array(rows.value.count);
    if (!rows.value.values(values, 0)) return null;
    const rms = Math.sqrt(squareSum(values));
    if (!worst || rms > worst.rms) worst = { rms, rows: rows.value, values };
  }
  const columns = worst?.rows.columns(variables);
  if (!worst || !columns || worst.rms === 0) return null;
  const { rms, values } = worst;
  return Float64Array.from(columns, (column) => column.reduce((sum, value, i) => sum + value * values[i], 0) / rms);
};

const EXACT: Readonly<Record<string, Exact>> = {
  effective_focal_length: focalLength,
  image_f_number: fNumber,
  total_length: totalLength,
  image_height: imageHeight,
  distortion,
  chief_ray_angle: chiefAngle,
  rms_spot_radius: spotRadius,
};

/** Whether there are measures of this kind whose derivatives are exact. */
export function hasExactDerivatives(measure: string): boolean {
  return Object.hasOwn(EXACT, measure);
}

/** Exact derivatives of the measure of a goal by variables of its lens, in its unit; null where differences have to do. */
export function exactDerivatives(
  lens: LensEvaluation,
  { measure: id, settings }: Pick<MeasureGoal, 'measure' | 'settings'>,
  variables: readonly SolverVariable[],
): Float64Array | null {
  const exact = EXACT[id];
  const measure = findMeasure(id);
  if (!exact || !measure) return null;
  const read = readSettings(measure, settings);
  return read.ok ? exact(lens, read.value, variables) : null;
}
