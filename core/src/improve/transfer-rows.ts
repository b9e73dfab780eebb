import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { diffractionPupil, type DiffractionPupil, type PhaseFit } from '../imaging/wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { autocorrelation } from '../imaging/wavefront/otf.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { ImageGoal } from '../project/improve.ts';
import type { FieldPoint } from '../project/model.ts';
import { BundleGradients } from '../sequence/bundle-gradients.ts';
import { pupilPoints } from '../sequence/pupil-sampling.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';
import type { ImageRows, RowsStand } from './image-rows.ts';
import { pupilChanges, type PupilChanges } from './pupil-changes.ts';

/** Modulation lost to aberrations that counts as one unit of the square of the merit. */
const LOST_PER_UNIT = 0.01;
/** Nodes of the overlap integrals, and more for every wave that the phase spans. */
const NODES = 20;
const NODES_PER_WAVE = 4;
/** Pairs of places at which a difference of phases is looked at. */
const PAIRS = pupilPoints({ kind: 'polar', rings: 4, arms: 8 }, 0);
const AXES = [1, 0] as const;
const TURN = 2 * Math.PI;

/** One colour of a field: its pupil, and by axis what it adds to the transfer. */
interface Colour {
  readonly wave: number;
  readonly share: number;
  readonly pupil: DiffractionPupil;
  readonly along: readonly [ColourTransfer, ColourTransfer];
}

interface ColourTransfer {
  readonly re: number;
  readonly im: number;
  /** The same with no phase at all. */
  readonly perfect: number;
  /** For each pair of places, the difference of phases by each coefficient, radians per wave. */
  readonly pairs: readonly Float64Array[];
}

/** Derivatives of a colour's transfer by the coefficients of its phase, per wave, and by the logarithm of the frequency. */
interface TransferSlope {
  readonly byRe: Float64Array;
  readonly byIm: Float64Array;
  readonly byFrequency: {
    readonly re: number;
    readonly im: number;
    readonly perfect: number;
    readonly pairs: readonly number[];
  };
}

/** A direction of a field: modulation, what is lost, and differences of phases with their weights. */
interface Line {
  readonly share: number;
  readonly modulation: number;
  readonly lost: number;
  readonly differences: Float64Array;
  readonly roots: Float64Array;
  readonly length: number;
}

/**
 * Rows by the modulation that aberrations take at a frequency. Their squares sum to the loss against the same pupil without aberrations,
 * averaged over fields and both directions; each direction's rows are its differences of phase between places a shift apart, all scaled alike: near
 * the limit the loss is their variance (H. H. Hopkins, Opt. Acta 13, 343, 1966; W. B. King, J. Opt. Soc. Am. 59,
 * 1155, 1969), so that a solver of least squares sees its curvature, and the scale makes the sum the true loss
 * anywhere. Derivatives hold the pupil's outline but for its extent: see `pupilChanges`.
 */
export class TransferRows implements ImageRows {
  readonly #lens: LensEvaluation;
  readonly #frequency: number;
  readonly #fields: readonly FieldPoint[];
  readonly #waves: readonly number[];
  #made: Outcome<readonly (readonly Colour[])[]> | null = null;

  private constructor(
    lens: LensEvaluation,
    frequency: number,
    fields: readonly FieldPoint[],
    waves: readonly number[],
  ) {
    this.#lens = lens;
    this.#frequency = frequency;
    this.#fields = fields;
    this.#waves = waves;
  }

  /** Fails where there is nothing that counts, or no image to have a transfer. */
  static of(goal: ImageGoal, lens: LensEvaluation, only?: readonly FieldPoint[]): Outcome<TransferRows> {
    const { model } = lens;
    if (isAfocal(model.lens)) return failure('The MTF of an image at infinity is not a goal yet: ask for spots.');
    const fields = (only ?? model.lens.fields.points).filter(({ weight }) => weight > 0);
    const waves = [...model.wavelengths.keys()].filter((wave) => model.wavelengths[wave].weight > 0);
    if (fields.length === 0) return failure('No field point has a weight.');
    if (waves.length === 0) return failure('No wavelength has a weight.');
    if (!(goal.frequency! > 0)) return failure('A goal of MTF needs a frequency above 0.');
    return success(new TransferRows(lens, goal.frequency!, fields, waves));
  }

  get count(): number {
    return this.#fields.length * AXES.length * this.#waves.length * PAIRS.px.length;
  }

  missing(): string | null {
    const colours = this.#colours();
    return colours.ok ? null : colours.reason;
  }

  values(out: Float64Array, at: number): boolean {
    const colours = this.#colours();
    if (!colours.ok) return false;
    let row = at;
    for (const { share, lost, differences, roots, length } of this.#lines(colours.value)) {
      const scale = Math.sqrt((share * lost) / LOST_PER_UNIT) / length;
      for (let i = 0; i < differences.length; i++) out[row++] = scale * roots[i] * differences[i];
    }
    return true;
  }

  columns(variables: readonly SolverVariable[]): Float64Array[] | null {
    const aimer = this.#lens.aimer();
    const colours = this.#colours();
    const gradients = aimer.ok ? BundleGradients.of(aimer.value, variables) : aimer;
    if (!gradients.ok || !colours.ok) return null;
    const columns = variables.map(() => new Float64Array(this.count));
    const lines = this.#lines(colours.value);
    let row = 0;
    for (const [f, field] of this.#fields.entries()) {
      const byWave = colours.value[f].map(({ wave, pupil }) =>
        pupilChanges(this.#lens, gradients.value, field, wave, pupil),
      );
      if (byWave.includes(null)) return null;
      for (const [k, axis] of AXES.entries()) {
        const line = lines[AXES.length * f + k];
        const slopes = colours.value[f].map(({ pupil }) => transferSlope(pupil, axis, this.#frequency));
        columns.forEach((column, v) =>
          lineColumn(
            line,
            colours.value[f],
            k,
            slopes,
            byWave.map((one) => one![v]),
            column,
            row,
          ),
        );
        row += line.differences.length;
      }
    }
    return columns;
  }

  /** The weighted mean of all modulations, and each of them. */
  stand(): RowsStand | null {
    const colours = this.#colours();
    if (!colours.ok) return null;
    const lines = this.#lines(colours.value);
    return {
      value: lines.reduce((sum, { share, modulation }) => sum + share * modulation, 0),
      square: lines.reduce((sum, { share, lost }) => sum + (share * lost) / LOST_PER_UNIT, 0),
      parts: lines.map(({ modulation }, i) => ({
        field: this.#fields[Math.floor(i / AXES.length)].id,
        of: AXES[i % AXES.length] === 1 ? 'tangential' : 'sagittal',
        value: modulation,
      })),
    };
  }

  /** By field, what its colours make of it. */
  #colours(): Outcome<readonly (readonly Colour[])[]> {
    return (this.#made ??= this.#makeColours());
  }

  #makeColours(): Outcome<readonly (readonly Colour[])[]> {
    const { wavelengths } = this.#lens.model;
    const all = this.#waves.reduce((sum, wave) => sum + wavelengths[wave].weight, 0);
    const found: (readonly Colour[])[] = [];
    for (const field of this.#fields) {
      const colours: Colour[] = [];
      for (const wave of this.#waves) {
        const pupil = diffractionPupil(this.#lens, field, {
          method: 'physical',
          wave,
          reference: 'primary',
          detail: 'close',
        });
        if (!pupil.ok)
          return failure(
            `the field ${field.id} at ${wavelengths[wave].nm} nm has no MTF yet: ${pupil.reason} Polish image quality by spots first`,
          );
        const { half, mm } = pupil.value;
        if (AXES.some((axis) => this.#frequency * mm >= 2 * half[axis]))
          return failure(`${this.#frequency} cycles/mm is beyond the limit of diffraction at the field ${field.id}`);
        const along = AXES.map((axis) => colourTransfer(pupil.value, axis, this.#frequency));
        colours.push({ wave, share: wavelengths[wave].weight / all, pupil: pupil.value, along: [along[0], along[1]] });
      }
      found.push(colours);
    }
    return success(found);
  }

  /** All directions of all fields, tangential first. */
  #lines(colours: readonly (readonly Colour[])[]): Line[] {
    const all = this.#fields.reduce((sum, { weight }) => sum + weight, 0);
    return this.#fields.flatMap(({ weight }, f) =>
      AXES.map((_, k) => lineOf(colours[f], k, weight / all / AXES.length)),
    );
  }
}

const nodesFor = (waves: number) => Math.ceil(NODES + NODES_PER_WAVE * waves);

/** What a colour adds to the transfer along an axis. */
function colourTransfer(
  { of, half, mm, waves, phase }: DiffractionPupil,
  axis: 0 | 1,
  frequency: number,
): ColourTransfer {
  const shift = (frequency * mm) / half[axis];
  const [{ re, im, limit: perfect }] = autocorrelation(of, axis, [shift], nodesFor(waves));
  const differ = differences(phase, axis);
  const pairs = Array.from(PAIRS.px, (a, i) => {
    const b = PAIRS.py[i];
    const across = b * Math.sqrt(1 - (shift * shift) / 4);
    const along = (a / Math.sqrt(1 - b * b)) * (Math.sqrt(1 - across * across) - shift / 2);
    return differ(along + shift / 2, along - shift / 2, across).map((value) => TURN * value);
  });
  return { re, im, perfect, pairs };
}

/** How it changes with the coefficients of the phase, over the same nodes: by the moments of their weights, line by line. */
function transferSlope(pupil: DiffractionPupil, axis: 0 | 1, frequency: number): TransferSlope {
  const { of, half, mm, waves, phase } = pupil;
  const { basis } = phase;
  const size = basis.powers;
  const [re, im] = [new Moments(size, axis), new Moments(size, axis)];
  autocorrelation(
    of,
    axis,
    [(frequency * mm) / half[axis]],
    nodesFor(waves),
    (ahead, behind, across, weight, turned) => {
      const [c, s] = [TURN * weight * Math.cos(turned), TURN * weight * Math.sin(turned)];
      re.add(ahead, behind, across, -s);
      im.add(ahead, behind, across, c);
    },
  );
  return {
    byRe: basis.ofMoments(re.sums()),
    byIm: basis.ofMoments(im.sums()),
    byFrequency: frequencySlope(pupil, axis, frequency),
  };
}

/** Step of the logarithm of the frequency in differences by it. */
const FREQUENCY_STEP = 1e-4;

/** How a colour's transfer and the differences of its phases change with the logarithm of the frequency, by central differences. */
function frequencySlope(pupil: DiffractionPupil, axis: 0 | 1, frequency: number): TransferSlope['byFrequency'] {
  const [up, down] = [1, -1].map((sign) => colourTransfer(pupil, axis, frequency * Math.exp(sign * FREQUENCY_STEP)));
  const slope = (a: number, b: number) => (a - b) / (2 * FREQUENCY_STEP);
  const { coefficients } = pupil.phase;
  return {
    re: slope(up.re, down.re),
    im: slope(up.im, down.im),
    perfect: slope(up.perfect, down.perfect),
    pairs: up.pairs.map((pair, i) => slope(dot(pair, coefficients), dot(down.pairs[i], coefficients))),
  };
}

/** Moments of pairs of places on lines along an axis, of which the one counts with its weight and the other against it. */
class Moments {
  readonly #size: number;
  readonly #axis: 0 | 1;
  readonly #all: Float64Array;
  readonly #line: Float64Array;
  #at = NaN;

  constructor(size: number, axis: 0 | 1) {
    this.#size = size;
    this.#axis = axis;
    this.#all = new Float64Array(size * size);
    this.#line = new Float64Array(size);
  }

  add(ahead: number, behind: number, across: number, weight: number): void {
    if (across !== this.#at) this.#close(across);
    let [a, b] = [weight, weight];
    for (let k = 0; k < this.#size; k++) {
      this.#line[k] += a - b;
      a *= ahead;
      b *= behind;
    }
  }

  sums(): Float64Array {
    this.#close(NaN);
    return this.#all;
  }

  #close(next: number): void {
    let power = 1;
    for (let j = 0; j < this.#size && !Number.isNaN(this.#at); j++, power *= this.#at)
      for (let i = 0; i < this.#size; i++)
        this.#all[this.#axis === 0 ? j * this.#size + i : i * this.#size + j] += power * this.#line[i];
    this.#line.fill(0);
    this.#at = next;
  }
}

/** Values of all polynomials of a phase at a place less those at another, along an axis; the list is filled anew by the next call. */
function differences({ basis }: PhaseFit, axis: 0 | 1) {
  const difference = new Float64Array(basis.count);
  return (ahead: number, behind: number, across: number): Float64Array => {
    difference.set(axis === 0 ? basis.values(ahead, across) : basis.values(across, ahead));
    const there = axis === 0 ? basis.values(behind, across) : basis.values(across, behind);
    for (let k = 0; k < difference.length; k++) difference[k] -= there[k];
    return difference;
  };
}

/** A direction over all colours. */
function lineOf(colours: readonly Colour[], k: number, share: number): Line {
  let [re, im, perfect] = [0, 0, 0];
  for (const { share: part, along } of colours) {
    re += part * along[k].re;
    im += part * along[k].im;
    perfect += part * along[k].perfect;
  }
  const modulation = Math.hypot(re, im);
  const roots = Float64Array.from(
    colours.flatMap(({ share: part }) => Array.from(PAIRS.weight, (weight) => Math.sqrt(part * weight))),
  );
  const differences = Float64Array.from(
    colours.flatMap(({ along, pupil }) => along[k].pairs.map((pair) => dot(pair, pupil.phase.coefficients))),
  );
  withoutMean(differences, roots);
  const length = Math.hypot(...differences.map((value, i) => roots[i] * value)) || 1;
  return { share, modulation, lost: Math.max(perfect - modulation, 1e-12), differences, roots, length };
}

/** Derivatives of a direction's rows, from those of the coefficients of each colour's phase. */
function lineColumn(
  { share, modulation, lost, differences, roots, length }: Line,
  colours: readonly Colour[],
  k: number,
  slopes: readonly TransferSlope[],
  changes: readonly PupilChanges[],
  column: Float64Array,
  row: number,
): void {
  let [re, im, byRe, byIm, byPerfect] = [0, 0, 0, 0, 0];
  // A wider pupil is crossed by the frequency in fewer shares of itself.
  const less = changes.map(({ widths }) => -widths[AXES[k]]);
  colours.forEach(({ share: part, along }, c) => {
    const { byFrequency } = slopes[c];
    re += part * along[k].re;
    im += part * along[k].im;
    byRe += part * (dot(slopes[c].byRe, changes[c].coefficients) + less[c] * byFrequency.re);
    byIm += part * (dot(slopes[c].byIm, changes[c].coefficients) + less[c] * byFrequency.im);
    byPerfect += part * less[c] * byFrequency.perfect;
  });
  const lostChange = byPerfect - (modulation > 0 ? (re * byRe + im * byIm) / modulation : 0);
  const moved = Float64Array.from(
    colours.flatMap(({ along }, c) =>
      along[k].pairs.map((pair, i) => dot(pair, changes[c].coefficients) + less[c] * slopes[c].byFrequency.pairs[i]),
    ),
  );
  withoutMean(moved, roots);
  let lengthChange = 0;
  for (let i = 0; i < moved.length; i++) lengthChange += (roots[i] * roots[i] * differences[i] * moved[i]) / length;
  const root = Math.sqrt(share / LOST_PER_UNIT);
  const amount = Math.sqrt(lost);
  for (let i = 0; i < moved.length; i++)
    column[row + i] =
      ((root * roots[i]) / length) *
      (amount * moved[i] + differences[i] * (lostChange / (2 * amount) - (amount * lengthChange) / length));
}

/** Takes the mean by the squares of the roots away: a phase that all have alike is no aberration. */
function withoutMean(values: Float64Array, roots: Float64Array): void {
  let [sum, all] = [0, 0];
  for (let i = 0; i < values.length; i++) {
    sum += roots[i] * roots[i] * values[i];
    all += roots[i] * roots[i];
  }
  for (let i = 0; i < values.length; i++) values[i] -= sum / all;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}
