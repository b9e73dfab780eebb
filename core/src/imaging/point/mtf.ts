import { RAY_STATUS } from '../../compute/ray-block.ts';
import { success, type Outcome } from '../../math/outcome.ts';
import { atOnce } from '../../math/steps.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { PupilSampling } from '../../sequence/pupil-sampling.ts';
import { diffractionPupil, type Detail } from '../wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { coneModulation, imageCone } from '../wavefront/image-cone.ts';
import { autocorrelation, type LimitedTransfer, type Transfer } from '../wavefront/otf.ts';
import { gridTransfer, pupilGrid } from '../wavefront/pupil-grid.ts';

/**
 * How a transfer function is computed. `physical`: the pupil on the reference sphere with its true amplitude. `simple`:
 * an even pupil in ray coordinates, faster and off by up to 0.03 if the pupil is distorted, more with long throws. `geometric`: of the
 * spot alone, without diffraction.
 */
export type MtfMethod = 'physical' | 'simple' | 'geometric';

export interface MtfChoice {
  readonly method: MtfMethod;
  /** Cycles per mm. */
  readonly frequencies: readonly number[];
  readonly aim?: 'paraxial' | 'stop';
  /** How closely polynomials and nodes follow the pupil; `full` when left out. */
  readonly detail?: Detail;
  /** Whether set apertures take their part of the pupil away; `full`, when left out, counts none. */
  readonly pupil?: 'full' | 'clipped';
  /** Index of the one wavelength to use; all by their weights when left out. */
  readonly wave?: number;
}

/** Transfer along y (tangential) and along x (sagittal), by frequency. */
export interface FieldMtf {
  readonly field: FieldPoint;
  readonly frequencies: readonly number[];
  readonly tangential: readonly Transfer[];
  readonly sagittal: readonly Transfer[];
  /** What the same pupils would pass without aberration; of a geometric one, an evenly lit pupil of their extent. */
  readonly limits: { readonly tangential: readonly number[]; readonly sagittal: readonly number[] };
  /** Largest RMS that fitted polynomials leave of any phase, waves; 0 for the geometric one. */
  readonly residual: number;
}

/** Modulus of a transfer function. */
export const modulation = ({ re, im }: Transfer) => Math.hypot(re, im);

/** Rays of a geometric transfer function. */
const SPOT: PupilSampling = { kind: 'polar', rings: 40, arms: 80 };

/** Modulation transfer of a field in the image surface; colours by their weights about the primary chief ray's point. */
export function fieldMtf(lens: LensEvaluation, field: FieldPoint, choice: MtfChoice): Outcome<FieldMtf> {
  return atOnce(fieldMtfSteps(lens, field, choice));
}

/** The same, yielding after each colour. */
export function* fieldMtfSteps(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: MtfChoice,
): Generator<void, Outcome<FieldMtf>, void> {
  const { model } = lens;
  const { frequencies, method } = choice;
  const mono = choice.wave !== undefined;
  const waves = mono ? [choice.wave!] : [...model.wavelengths.keys()].filter((w) => model.wavelengths[w].weight > 0);
  const total = waves.reduce((sum, wave) => sum + (mono ? 1 : model.wavelengths[wave].weight), 0);
  const blank = () => frequencies.map(() => ({ re: 0, im: 0 }));
  const [tangential, sagittal] = [blank(), blank()];
  const limits = { tangential: frequencies.map(() => 0), sagittal: frequencies.map(() => 0) };
  let residual = 0;
  for (const wave of waves) {
    const share = (mono ? 1 : model.wavelengths[wave].weight) / total;
    const one =
      method === 'geometric' ? geometric(lens, field, wave, choice, mono) : diffracted(lens, field, wave, choice, mono);
    yield;
    if (!one.ok) return one;
    residual = Math.max(residual, one.value.residual);
    for (const way of ['tangential', 'sagittal'] as const)
      one.value.limits[way].forEach((limit, k) => (limits[way][k] += share * limit));
    for (const [sum, part] of [
      [tangential, one.value.tangential],
      [sagittal, one.value.sagittal],
    ] as const)
      part.forEach(({ re, im }, k) => (sum[k] = { re: sum[k].re + share * re, im: sum[k].im + share * im }));
  }
  return success({ field, frequencies, tangential, sagittal, limits, residual });
}

type Part = Pick<FieldMtf, 'tangential' | 'sagittal' | 'limits' | 'residual'>;

/** Limits of an evenly lit pupil as wide as the cone of a field and colour; NaN if it cannot be measured. */
function evenLimits(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  { frequencies, aim, pupil }: MtfChoice,
  mono: boolean,
): Part['limits'] {
  const cone = imageCone(lens, field, {
    wave,
    reference: mono ? 'own' : 'primary',
    ...(aim && { aim }),
    ...(pupil && { pupil }),
  });
  const { obscuration } = lens.model.lens.pupil;
  const along = (axis: 0 | 1) =>
    frequencies.map((nu) => (cone.ok ? coneModulation(cone.value, axis, nu, obscuration) : NaN));
  return { tangential: along(1), sagittal: along(0) };
}

function geometric(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  choice: MtfChoice,
  mono: boolean,
): Outcome<Part> {
  const { frequencies, aim, pupil = 'full' } = choice;
  const bundle = lens.bundle(field, wave, { sampling: SPOT, pupil, ...(aim && { aim }) });
  if (!bundle.ok) return bundle;
  const chief = lens.chief(field, mono ? wave : lens.model.primary, aim);
  if (!chief.ok) return chief;
  const { rays, points } = bundle.value;
  const along = (places: Float64Array, centre: number) =>
    frequencies.map((nu): Transfer => {
      let [re, im, total] = [0, 0, 0];
      for (let i = 0; i < places.length; i++) {
        if (rays.status[i] !== RAY_STATUS.alive) continue;
        const phase = -2 * Math.PI * nu * (places[i] - centre);
        re += points.weight[i] * Math.cos(phase);
        im += points.weight[i] * Math.sin(phase);
        total += points.weight[i];
      }
      return { re: re / total, im: im / total };
    });
  return success({
    tangential: along(rays.y, chief.value.y[0]),
    sagittal: along(rays.x, chief.value.x[0]),
    limits: evenLimits(lens, field, wave, choice, mono),
    residual: 0,
  });
}

/** Nodes of the overlap integrals. */
const NODES = 30;
/** Cells over half of a pupil while a number is turned. */
const CELLS = 26;

function diffracted(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  choice: MtfChoice,
  mono: boolean,
): Outcome<Part> {
  const { method, detail = 'full', aim, pupil: apertures, frequencies } = choice;
  const pupil = diffractionPupil(lens, field, {
    method: method === 'simple' ? 'simple' : 'physical',
    wave,
    reference: mono ? 'own' : 'primary',
    detail,
    ...(aim && { aim }),
    ...(apertures && { pupil: apertures }),
  });
  if (!pupil.ok) return pupil;
  const { half, mm, residual, of, waves } = pupil.value;
  if (detail === 'draft') {
    const step = Math.max(...half) / Math.max(CELLS, 2 * waves);
    const grid = pupilGrid(pupil.value, step, 'draft');
    const along = (axis: 0 | 1) =>
      gridTransfer(
        grid,
        axis,
        frequencies.map((nu) => (nu * mm) / step),
      );
    return success({
      tangential: along(1),
      sagittal: along(0),
      limits: evenLimits(lens, field, wave, choice, mono),
      residual,
    });
  }
  // Nodes for the turns of phase between two points of the pupil.
  const nodes = Math.ceil(NODES + 5 * waves);
  const along = (axis: 0 | 1) =>
    autocorrelation(
      of,
      axis,
      frequencies.map((nu) => (nu * mm) / half[axis]),
      nodes,
    );
  const [up, across] = [along(1), along(0)];
  const limitOf = (values: readonly LimitedTransfer[]) => values.map(({ limit }) => limit);
  return success({
    tangential: up,
    sagittal: across,
    limits: { tangential: limitOf(up), sagittal: limitOf(across) },
    residual,
  });
}
