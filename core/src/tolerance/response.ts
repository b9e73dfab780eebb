import { FORM_BLOCK, formBlocks, type FormBlocks } from '../compute/quadratic-forms.ts';
import type { Outcome } from '../math/outcome.ts';
import { packedForm, type QuadraticResponse } from '../math/quadratic-response.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { composed, type Components } from './components.ts';
import { quadraticThrough, type Sampled } from './influence.ts';
import { departuresOf } from './one-by-one.ts';

/** Watched measures as functions of all departures at once. */
export interface Response extends Components {
  readonly tolerances: readonly Tolerance[];
  /** Values of the design, compensated, by watched measure. */
  readonly design: readonly Outcome<number>[];
  /** By component, in departures from the design in the order of the tolerances; null where none is known. */
  readonly quadratics: readonly (QuadraticResponse | null)[];
  /** Why it knows nothing of some lens, each reason once. */
  readonly reasons?: readonly string[];
}

/** Whether a response knows a watched measure, by its number. */
export function isKnown({ compositions, quadratics }: Response, k: number): boolean {
  return compositions[k].of.length > 0 && compositions[k].of.every((at) => quadratics[at] !== null);
}

/** Values of watched measures at any departures, again and again without making anything anew. */
export class ResponseValues {
  readonly #response: Response;
  readonly #blocks: FormBlocks;
  /** By component: its number among the forms; −1 where it is not known. */
  readonly #forms: readonly number[];
  readonly #known: readonly boolean[];
  readonly #one: Float64Array;

  constructor(response: Response) {
    this.#response = response;
    const forms = response.quadratics.flatMap((one) => (one ? [packedForm(one)] : []));
    let next = 0;
    this.#forms = response.quadratics.map((one) => (one ? next++ : -1));
    this.#blocks = formBlocks(forms, response.tolerances.length);
    this.#known = response.compositions.map((_, k) => isKnown(response, k));
    this.#one = new Float64Array(response.quadratics.length);
  }

  /** A row of `FORM_BLOCK` trials for each tolerance, in their order: their departures, to be filled. */
  get departures(): readonly Float64Array[] {
    return this.#blocks.x;
  }

  /** Writes the values of the first trials of the block, NaN where they are not known: `out[k][at + b]` of watched measure k in trial b. */
  write(count: number, out: readonly Float64Array[], at: number): void {
    this.#blocks.evaluate();
    const { compositions } = this.#response;
    const { values } = this.#blocks;
    for (let b = 0; b < count; b++) {
      for (let c = 0; c < this.#forms.length; c++) if (this.#forms[c] >= 0) this.#one[c] = values[this.#forms[c]][b];
      for (let k = 0; k < compositions.length; k++)
        out[k][at + b] = this.#known[k] ? composed(compositions[k], this.#one) : NaN;
    }
  }
}

/** Each tolerance over its range by the response alone: curves as `sampleEach` finds them by trials. Measures that it does not know have none. */
export function curvesOf(response: Response, points = 5): Sampled[] {
  const values = new ResponseValues(response);
  const out = response.compositions.map(() => new Float64Array(FORM_BLOCK));
  return response.tolerances.map((tolerance, t) => {
    const at = departuresOf(tolerance, Math.min(points, FORM_BLOCK - 1));
    values.departures[t].set(at);
    values.write(at.length, out, 0);
    values.departures[t].fill(0);
    const curves = out.map((column) => {
      const found = [...column.subarray(0, at.length)].map((value) => (Number.isNaN(value) ? null : value));
      return { at, values: found, fit: quadraticThrough(at, found) };
    });
    return { tolerance: tolerance.id, curves };
  });
}
