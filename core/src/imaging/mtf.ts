import { RAY_STATUS } from '../compute/ray-block.ts';
import { fitNearlyOrthogonal } from '../math/linear-fit.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { rootBetween } from '../math/root.ts';
import { PolynomialBasis, type Polynomial } from '../math/polynomial-basis.ts';
import { zernikeTerms } from '../math/zernike.ts';
import type { FieldPoint } from '../project/model.ts';
import { traceBundle } from '../sequence/bundle.ts';
import { pupilPoints, type PupilSampling } from '../sequence/pupil-sampling.ts';
import type { LensEvaluation } from './evaluation.ts';
import { autocorrelation, type PupilFunction, type Transfer } from './otf.ts';
import { referenceSphere, wavefront } from './wavefront.ts';

/**
 * How a transfer function is computed. `physical`: the pupil in direction cosines of the image space with its true amplitude.
 * `simple`: an even pupil in ray coordinates, faster and off by up to 0.03 where the pupil is distorted. `geometric`: of the
 * spot alone, without diffraction.
 */
export type MtfMethod = 'physical' | 'simple' | 'geometric';

export interface MtfChoice {
  readonly method: MtfMethod;
  /** Cycles per mm. */
  readonly frequencies: readonly number[];
  readonly aim?: 'paraxial' | 'stop';
  /** How closely polynomials and nodes follow the pupil; `full` when left out. */
  readonly detail?: 'draft' | 'full';
  /** Index of the one wavelength to use; all by their weights when left out. */
  readonly wave?: number;
}

/** Transfer along y (tangential) and along x (sagittal), by frequency. */
export interface FieldMtf {
  readonly field: FieldPoint;
  readonly frequencies: readonly number[];
  readonly tangential: readonly Transfer[];
  readonly sagittal: readonly Transfer[];
  /** Largest RMS that fitted polynomials leave of any phase, waves; 0 for the geometric one. */
  readonly residual: number;
}

/** Modulus of a transfer function. */
export const modulation = ({ re, im }: Transfer) => Math.hypot(re, im);

/** What a degree of detail means: rays that polynomials are fitted to, how many of them, and nodes of the overlap integrals. */
interface Detail {
  readonly rays: PupilSampling;
  readonly nodes: number;
  readonly basis: PolynomialBasis;
}

const DEGREES = { draft: 10, full: 16 } as const;
const known = new Map<string, Detail>();

function detailOf(kind: 'draft' | 'full' = 'full'): Detail {
  let detail = known.get(kind);
  if (!detail) {
    const degree = DEGREES[kind];
    const count = ((degree + 1) * (degree + 2)) / 2;
    const basis = new PolynomialBasis(Array.from({ length: count }, (_, k) => zernikeTerms('noll', k + 1)));
    const rings = kind === 'draft' ? 12 : 20;
    detail = { rays: { kind: 'polar', rings, arms: 2 * rings }, nodes: kind === 'draft' ? 16 : 40, basis };
    known.set(kind, detail);
  }
  return detail;
}

/** Rays of a geometric transfer function. */
const SPOT: PupilSampling = { kind: 'polar', rings: 40, arms: 80 };

/** Modulation transfer of a field in the image surface, full pupil; colours by their weights about the primary chief ray's point. */
export function fieldMtf(lens: LensEvaluation, field: FieldPoint, choice: MtfChoice): Outcome<FieldMtf> {
  const { model } = lens;
  const { frequencies, method } = choice;
  const mono = choice.wave !== undefined;
  const waves = mono ? [choice.wave!] : [...model.wavelengths.keys()].filter((w) => model.wavelengths[w].weight > 0);
  const total = waves.reduce((sum, wave) => sum + (mono ? 1 : model.wavelengths[wave].weight), 0);
  const blank = () => frequencies.map(() => ({ re: 0, im: 0 }));
  const [tangential, sagittal] = [blank(), blank()];
  let residual = 0;
  for (const wave of waves) {
    const share = (mono ? 1 : model.wavelengths[wave].weight) / total;
    const one = method === 'geometric' ? geometric(lens, field, wave, choice, mono) : diffracted(lens, field, wave, choice, mono);
    if (!one.ok) return one;
    residual = Math.max(residual, one.value.residual);
    for (const [sum, part] of [[tangential, one.value.tangential], [sagittal, one.value.sagittal]] as const)
      part.forEach(({ re, im }, k) => (sum[k] = { re: sum[k].re + share * re, im: sum[k].im + share * im }));
  }
  return success({ field, frequencies, tangential, sagittal, residual });
} // prettier-ignore

type Part = Pick<FieldMtf, 'tangential' | 'sagittal' | 'residual'>;

function geometric(lens: LensEvaluation, field: FieldPoint, wave: number, { frequencies, aim }: MtfChoice, mono: boolean): Outcome<Part> {
  const bundle = lens.bundle(field, wave, { sampling: SPOT, pupil: 'full', ...(aim && { aim }) });
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
  return success({ tangential: along(rays.y, chief.value.y[0]), sagittal: along(rays.x, chief.value.x[0]), residual: 0 });
} // prettier-ignore

/** Waves from the least to the largest phase above which the pupil is left to the geometric transfer function. */
const MOST_WAVES = 40;
/** Waves that coarse polynomials may leave before finer ones are taken. */
const ROUGH = 0.01;

function diffracted(lens: LensEvaluation, field: FieldPoint, wave: number, choice: MtfChoice, mono: boolean): Outcome<Part> {
  const make = choice.method === 'physical' ? physicalPupil : simplePupil;
  let pupil = make(lens, field, wave, choice, mono);
  if (pupil.ok && choice.detail === 'draft' && pupil.value.residual > ROUGH)
    pupil = make(lens, field, wave, { ...choice, detail: 'full' }, mono);
  if (!pupil.ok) return pupil;
  const { shiftX, shiftY, residual, of, waves } = pupil.value;
  if (waves > MOST_WAVES)
    return failure(`Its wavefront spans ${Math.round(waves)} waves: diffraction no longer shapes the image. Refocus, or look at the geometric one.`, field.id);
  // Nodes for the turns of phase between two points of the pupil.
  const nodes = Math.ceil(detailOf(choice.detail).nodes + 5 * waves);
  return success({
    tangential: autocorrelation(of, 1, choice.frequencies.map((nu) => nu * shiftY), nodes),
    sagittal: autocorrelation(of, 0, choice.frequencies.map((nu) => nu * shiftX), nodes),
    residual,
  });
} // prettier-ignore

interface FittedPupil {
  readonly of: PupilFunction;
  /** Shift of the pupil for one cycle a mm. */
  readonly shiftX: number;
  readonly shiftY: number;
  readonly residual: number;
  /** Largest less least phase, waves. */
  readonly waves: number;
}

const span = (values: Float64Array) => Math.max(...values) - Math.min(...values);

/** Chords of the disk between an obscuration and the rim. */
function discChords(inner: number, at: number): readonly (readonly [number, number])[] {
  const outer = Math.sqrt(Math.max(0, 1 - at * at));
  if (Math.abs(at) >= inner) return [[-outer, outer]];
  const hole = Math.sqrt(inner * inner - at * at);
  return [[-outer, -hole], [hole, outer]]; // prettier-ignore
}

function simplePupil(lens: LensEvaluation, field: FieldPoint, wave: number, { aim, detail }: MtfChoice, mono: boolean): Outcome<FittedPupil> {
  const { model } = lens;
  const { rays: sampling, basis } = detailOf(detail);
  const reference = mono ? 'own' : 'primary';
  const found = wavefront(lens, field, wave, { sampling, pupil: 'full', reference, ...(aim && { aim }) });
  if (!found.ok) return found;
  if (found.value.arrived < found.value.w.length) return failure('Rays are missing: the diffraction pupil is not whole. Look at the geometric one.', field.id);
  const { points: { px, py, weight }, w } = found.value;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const edge = traceBundle(aimer.value, { field, wave, px: Float64Array.of(0, 0, 1, -1), py: Float64Array.of(1, -1, 0, 0), ...(aim && { aim }) }, { clip: false });
  const index = model.indices[wave][model.surfaces.length - 1];
  const [nat, nas] = [(index * Math.abs(edge.m[0] - edge.m[1])) / 2, (index * Math.abs(edge.l[2] - edge.l[3])) / 2];
  const rows = Array.from(px, (_, i) => basis.values(px[i], py[i]).slice());
  const fits = fitNearlyOrthogonal(rows, [w], weight);
  if (!fits) return failure('The wavefront could not be fitted.', field.id);
  const fit = basis.sum(fits[0]);
  const mm = model.wavelengths[wave].nm * 1e-6;
  const inner = model.lens.pupil.obscuration;
  return success({
    of: {
      range: () => [-1, 1],
      open: (_axis, at) => discChords(inner, at),
      value(x, y, out) {
        out[0] = 1;
        out[1] = 2 * Math.PI * fit.at(x, y);
      },
    },
    shiftX: mm / nas,
    shiftY: mm / nat,
    residual: misfit(fit, px, py, w, weight),
    waves: span(w),
  });
} // prettier-ignore

/** RMS of what a polynomial leaves. */
function misfit(fit: Polynomial, x: ArrayLike<number>, y: ArrayLike<number>, values: ArrayLike<number>, weight: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += weight[i] * (fit.at(x[i], y[i]) - values[i]) ** 2;
  return Math.sqrt(sum);
} // prettier-ignore

/** Steps in which a line is searched for the edge of the pupil. */
const SEARCH = 28;

/**
 * The pupil in direction cosines n′(L, M) of the image space: phase is that of each plane wave at the reference point, squared amplitude
 * the energy that comes into dL dM, even over the entrance-pupil plane of a far object or over the direction cosines of a near one
 * (H. H. Hopkins, Japan. J. Appl. Phys. 4, suppl. 1, 31, 1965). Ray coordinates over (L, M) are polynomials fitted to a bundle.
 */
function physicalPupil(lens: LensEvaluation, field: FieldPoint, wave: number, { aim, detail }: MtfChoice, mono: boolean): Outcome<FittedPupil> {
  const { model } = lens;
  const { rays: sampling, basis } = detailOf(detail);
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const centre = referenceSphere(lens, field, wave, { reference: mono ? 'own' : 'primary', ...(aim && { aim }) });
  if (!centre.ok) return centre;
  const own = lens.chief(field, wave, aim);
  if (!own.ok) return own;
  // The whole disk, the obscured part too: polynomials know no holes. The rim is among the rays, so that none of them reaches beyond.
  const inside = pupilPoints(sampling, 0);
  const rim = 48;
  const px = Float64Array.from([...inside.px, ...Array.from({ length: rim }, (_, k) => Math.cos((2 * Math.PI * k) / rim))]);
  const py = Float64Array.from([...inside.py, ...Array.from({ length: rim }, (_, k) => Math.sin((2 * Math.PI * k) / rim))]);
  const weight = Float64Array.from(px, (_, i) => inside.weight[i] ?? 1e-4);
  const far = model.lens.object.distance === 'infinity';
  const [s1, s2] = [new Float64Array(px.length), new Float64Array(px.length)];
  const rays = traceBundle(aimer.value, { field, wave, px, py, ...(aim && { aim }) }, {
    clip: false,
    onLaunch({ x, y, z, l, m, n }) {
      const { z: pupilZ } = aimer.value.pupil;
      for (let i = 0; i < px.length; i++) {
        if (far) {
          const way = (pupilZ - z[i]) / n[i];
          s1[i] = x[i] + way * l[i];
          s2[i] = y[i] + way * m[i];
        } else [s1[i], s2[i]] = [l[i], m[i]];
      }
    },
  });
  if (rays.status.some((status) => status !== RAY_STATUS.alive)) return failure('Rays are missing: the diffraction pupil is not whole. Look at the geometric one.', field.id);
  const index = model.indices[wave][model.surfaces.length - 1];
  const mm = model.wavelengths[wave].nm * 1e-6;
  const point = centre.value.centre;
  const pathAt = (block: typeof rays, i: number) =>
    block.path[i] + index * (block.l[i] * (point[0] - block.x[i]) + block.m[i] * (point[1] - block.y[i]) + block.n[i] * (point[2] - block.z[i]));
  const start = pathAt(own.value, 0);
  const phase = Float64Array.from(px, (_, i) => (start - pathAt(rays, i)) / mm);
  const bounds = (cosines: Float64Array) => {
    const [low, high] = [Math.min(...cosines), Math.max(...cosines)];
    return { middle: ((low + high) / 2) * index, half: ((high - low) / 2) * index * (1 + 1e-9) };
  };
  const [bl, bm] = [bounds(rays.l), bounds(rays.m)];
  const u = Float64Array.from(rays.l, (l) => (l * index - bl.middle) / bl.half);
  const v = Float64Array.from(rays.m, (m) => (m * index - bm.middle) / bm.half);
  const rows = Array.from(u, (_, i) => basis.values(u[i], v[i]).slice());
  const fits = fitNearlyOrthogonal(rows, [px, py, s1, s2, phase], weight);
  if (!fits) return failure('The pupil could not be fitted.', field.id);
  const [fx, fy, f1, f2, fw] = fits.map((fit) => basis.sum(fit));
  // Energy into dL dM: how fast the source coordinates change there.
  const [first, second] = [new Float64Array(2), new Float64Array(2)];
  const amplitudes = Float64Array.from(u, (_, i) => {
    f1.slope(u[i], v[i], first);
    f2.slope(u[i], v[i], second);
    return Math.sqrt(Math.abs(first[0] * second[1] - first[1] * second[0]));
  });
  const amplitude = basis.sum(fitNearlyOrthogonal(rows, [amplitudes], weight)![0]);
  const radius = (x: number, y: number) => Math.hypot(fx.at(x, y), fy.at(x, y));
  const inner = model.lens.pupil.obscuration;
  const of: PupilFunction = {
    range: () => [-1, 1],
    open(axis, at) {
      const r = (along: number) => (axis === 0 ? radius(along, at) : radius(at, along));
      const openAt = (here: number) => here <= 1 && here >= inner;
      /** The place between one that is open and one that is not, where r passes the rim or the obscuration. */
      const edge = (from: number, to: number, atFrom: number, atTo: number) => {
        const shut = openAt(atFrom) ? atTo : atFrom;
        const bound = shut > 1 ? 1 : inner;
        return rootBetween((along) => r(along) - bound, from, to, atFrom - bound, atTo - bound);
      };
      // Chords of a disk that may be shifted a little: a hair beyond it on both sides, then finer where an end is near.
      const reach = Math.sqrt(Math.max(0, 1 - at * at)) * 1.02 + 0.02;
      const intervals: [number, number][] = [];
      let begun: number | null = null;
      let [last, atLast] = [-reach, Infinity];
      for (let k = 0; k <= SEARCH; k++) {
        const along = -reach + (2 * reach * k) / SEARCH;
        const here = r(along);
        const [before, now] = [k > 0 && openAt(atLast), openAt(here)];
        if (now && !before) begun = k === 0 ? along : edge(last, along, atLast, here);
        if (!now && before && begun !== null) intervals.push([begun, edge(last, along, atLast, here)]);
        if (now && k === SEARCH && begun !== null) intervals.push([begun, along]);
        [last, atLast] = [along, here];
      }
      return intervals;
    },
    value(x, y, out) {
      out[0] = amplitude.at(x, y);
      out[1] = 2 * Math.PI * fw.at(x, y);
    },
  };
  return success({ of, shiftX: mm / bl.half, shiftY: mm / bm.half, residual: misfit(fw, u, v, phase, weight),
    waves: span(phase), });
} // prettier-ignore
