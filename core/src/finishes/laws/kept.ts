import { grazingPlace } from '../../physics/scatter-laws.ts';
import { between } from '../../physics/tables.ts';

/** Steps of the table of `KeptShare`. */
export const KEPT_PLACES = 128;
const DRAWS = 1024;

/** Share of a circle whose azimuth has a cosine above a bound. */
export function arcBelow(bound: number): number {
  return Math.acos(Math.min(1, Math.max(-1, bound))) / Math.PI;
}

/**
 * Share of the draws that come out above the face, over the sine of the specular direction: of a lobe whose rings are drawn by one
 * number u. Tabulated when first asked for, closely where lobes begin to dip below the face.
 */
export class KeptShare {
  readonly #atNormal: number;
  readonly #ring: (u: number, sine: number) => number;
  #table: Float64Array | null = null;

  /**
   * @param atNormal - the share for sine 0
   * @param ring - share of the ring that lies above
   */
  constructor(atNormal: number, ring: (u: number, sine: number) => number) {
    this.#atNormal = atNormal;
    this.#ring = ring;
  }

  /** Its entries, at equal steps of `grazingPlace`. */
  get table(): Float64Array {
    return (this.#table ??= Float64Array.from({ length: KEPT_PLACES + 1 }, (_, i) =>
      i === 0 ? this.#atNormal : this.#mean(1 - (1 - i / KEPT_PLACES) ** 2),
    ));
  }

  at(sine: number): number {
    const place = grazingPlace(sine, KEPT_PLACES);
    const i = Math.min(KEPT_PLACES - 1, Math.floor(place));
    return between(this.table[i], this.table[i + 1], place - i);
  }

  #mean(sine: number): number {
    let sum = 0;
    for (let k = 0; k < DRAWS; k++) sum += this.#ring((k + 0.5) / DRAWS, sine);
    return sum / DRAWS;
  }
}
