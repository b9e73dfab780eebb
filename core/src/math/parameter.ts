import type { QuantityKind } from './quantity.ts';

/** What is known of one number in the model: how it is shown, what it may be, and how solvers see it. */
export interface ParameterSpec {
  /** Last part of its address, and its key in the document. */
  readonly id: string;
  readonly title: string;
  /** What it means and what its sign says, in plain words. */
  readonly meaning: string;
  /** Unit of the stored value; empty for a pure number. */
  readonly unit: string;
  readonly kind: QuantityKind;
  /** Taken where the document has no value; a parameter without one must be there. */
  readonly fallback?: number;
  /** Whether `"infinity"` is a legal value in the document. */
  readonly allowInfinity?: boolean;
  /** Smallest legal value. */
  readonly min?: number;
  /** Largest legal value. */
  readonly most?: number;
  /** Bounds that the value itself must not reach. */
  readonly above?: number;
  readonly below?: number;
  /** Whether only whole numbers are legal. */
  readonly whole?: boolean;
  /** Whether a table over the wavelength may stand in its place (`light/spectral.ts`). */
  readonly spectral?: boolean;
  /** Solvers see 1/value for `reciprocal` (radius as curvature, so that flat is 0), else the value itself. */
  readonly transform: 'value' | 'reciprocal';
  /** Solvers multiply by semi-aperture to this power, so that a coefficient of rᵖ becomes a sag in mm. */
  readonly power?: number;
}

/** A length in the document that may be infinite: JSON has no infinity, so it is spelt. */
export type Extent = number | 'infinity';

export function extentToNumber(extent: Extent): number {
  return extent === 'infinity' ? Infinity : extent;
}

export function numberToExtent(value: number): Extent {
  return Number.isFinite(value) ? value : 'infinity';
}

/** 1/radius in 1/mm; 0 for a flat. A radius of 0 gives NaN: there is no such surface. */
export function curvatureOf(radius: Extent): number {
  if (radius === 'infinity') return 0;
  return radius === 0 ? NaN : 1 / radius;
}

/** What forbids a value for a parameter, in a sentence; null when it is legal. */
export function objection(spec: ParameterSpec, value: number): string | null {
  const wrong = illegal(spec, value);
  return wrong === null ? null : `${spec.title} ${wrong}.`;
}

/**
 * What forbids a value, as the end of a sentence that begins with what the number is called; null when it is legal. These are the limits of cells,
 * pasted tables, operations, scripts and files alike: what one takes the others take.
 */
export function illegal(spec: ParameterSpec, value: number): string | null {
  if (Number.isNaN(value)) return 'must be a number';
  if (!Number.isFinite(value)) return spec.allowInfinity && value > 0 ? null : 'must be finite';
  if (spec.above !== undefined && !(value > spec.above)) return `must be above ${bound(spec, spec.above)}`;
  if (spec.below !== undefined && !(value < spec.below)) return `must be below ${bound(spec, spec.below)}`;
  if (spec.min !== undefined && value < spec.min) return `must be at least ${bound(spec, spec.min)}`;
  if (spec.most !== undefined && value > spec.most) return `must be at most ${bound(spec, spec.most)}`;
  if (spec.whole && !Number.isInteger(value)) return 'must be a whole number';
  if (spec.transform === 'reciprocal' && value === 0) return 'must not be 0; type “flat” for a plane';
  return null;
}

/** A bound as it is read: −273 °C, 90°, 0. */
function bound({ unit }: ParameterSpec, value: number): string {
  const number = String(value).replace('-', '−');
  return value === 0 || unit === '' ? number : `${number}${unit === '°' ? '' : ' '}${unit}`;
}
