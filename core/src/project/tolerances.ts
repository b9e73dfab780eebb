/** What is not made exactly, as the document holds it. */
import type { DistributionKind } from '../math/distribution.ts';

/** How an element moves as a whole in its cell. */
export const MOTIONS = ['shift_x', 'shift_y', 'shift_z', 'tilt_x', 'tilt_y'] as const;
export type Motion = (typeof MOTIONS)[number];

/** Errors of a surface's figure. */
export const FIGURE_ERRORS = ['astigmatism', 'astigmatism_45', 'coma_x', 'coma_y', 'spherical'] as const;
export type FigureError = (typeof FIGURE_ERRORS)[number];

/** What departs from the design. */
export type ToleranceTarget =
  /** A parameter, in its unit: a thickness in mm, a tilt in degrees. */
  | { readonly kind: 'number'; readonly address: string }
  /** A parameter, in percent of its value: a radius. */
  | { readonly kind: 'share'; readonly address: string }
  /** A radius, in fringes against a test plate over the semi-aperture of its surface, at 546.07 nm; positive for more sag. */
  | { readonly kind: 'fringes'; readonly address: string }
  /**
   * A surface that is tilted in its element: the difference of the thickness between opposite ends of its aperture, mm. Positive if the
   * end at +x or +y goes to +z.
   */
  | { readonly kind: 'wedge'; readonly lens: string; readonly surface: string; readonly across: 'x' | 'y' }
  /** A glass, every element of it alike: the index at all wavelengths, or the Abbe number in percent of it. */
  | { readonly kind: 'melt'; readonly material: string; readonly quantity: 'index' | 'abbe' }
  /**
   * The element after a surface, cemented neighbours included, or all surfaces from there up to another one, as a whole: in mm, or in
   * degrees about a point on the axis. One surface alone about its centre of curvature rolls in its cell.
   */
  | {
      readonly kind: 'element';
      readonly lens: string;
      readonly surface: string;
      readonly motion: Motion;
      /** Id of the last surface that moves; that of the element when left out. */
      readonly to?: string;
      /** Where tilts turn about, mm after the vertex of the first surface; 0 when left out. */
      readonly pivot?: number;
    }
  /**
   * The figure of a polished surface, in fringes at 546.07 nm: from the highest to the lowest point of the sag error over its aperture.
   * Astigmatism is given by two components, along x and y and at 45°, so that its orientation is random when both depart.
   */
  | { readonly kind: 'figure'; readonly lens: string; readonly surface: string; readonly error: FigureError }
  /**
   * The index of a piece of glass varies across it, in ppm (1e-6) from its highest to its lowest value over the aperture and alike along the
   * axis: the medium after a surface. It acts on light as a figure of the face that turns as much of its path.
   */
  | { readonly kind: 'homogeneity'; readonly lens: string; readonly surface: string; readonly error: FigureError };

/** Limits of a departure from the design, and how it is distributed between them. */
export type Tolerance = ToleranceTarget & {
  readonly id: string;
  readonly name?: string;
  /** The least departure, 0 or below, and the largest one, 0 or above; in the unit of its kind. */
  readonly lower: number;
  readonly upper: number;
  /** Uniform when left out. */
  readonly distribution?: DistributionKind;
  /** It is excluded from all studies without being deleted. */
  readonly off?: true;
  /** It departs with others of a group, made with one tool or in one setting, rather than on its own. */
  readonly with?: GroupShare;
};

/** How far a departure goes with a group. */
export interface GroupShare {
  /** Name of the group; all that name it belong to it. */
  readonly group: string;
  /**
   * Correlation with what the group has in common, −1 to 1; 1 when left out. The correlation of two members is the product of theirs. It is that
   * of normal variables; departures follow from these by their own distributions.
   */
  readonly correlation?: number;
}

/** The last distance of a lens, set after making for the best image. */
export interface RefocusAfter {
  readonly id: string;
  readonly kind: 'refocus';
  /** Id of the lens whose last distance is set. */
  readonly lens: string;
  /** For the smallest RMS spot about the centroid or the chief ray, or to the paraxial image. */
  readonly criterion: 'centroid' | 'chief' | 'paraxial';
}

/** What an adjustment looks for. */
export const ADJUSTMENT_AIMS = ['spots', 'design', 'least', 'largest'] as const;
export type AdjustmentAim = (typeof ADJUSTMENT_AIMS)[number];

/** A number, or an element or group, that is moved after making within a range about the design. */
export interface Adjustment {
  readonly id: string;
  readonly name?: string;
  readonly kind: 'adjust';
  readonly target: Extract<ToleranceTarget, { kind: 'number' | 'element' }>;
  /** How far it moves at most, 0 or below and 0 or above, in the unit of the target. */
  readonly lower: number;
  readonly upper: number;
  /**
   * `spots`: the least mean square spot over the weighted fields of its lens, together with all others that look for it and with its refocus.
   * Otherwise a requirement has its value of the design again, or the least or largest one; refocused each time.
   */
  readonly aim: AdjustmentAim;
  /** Id of the requirement; none for `spots`. */
  readonly requirement?: string;
}

/** What is set after making. */
export type Compensator = RefocusAfter | Adjustment;

/** How studies watch a requirement. */
export interface WatchedAs {
  /** Id of the requirement. */
  readonly requirement: string;
  /** It is excluded from studies. */
  readonly off?: true;
  /** What is allowed when made, in place of the limit of the design. */
  readonly min?: number;
  readonly max?: number;
}

/** What studies of tolerances work with. */
export interface Tolerancing {
  readonly tolerances: readonly Tolerance[];
  readonly compensators?: readonly Compensator[];
  /** At how many departures each tolerance is looked at, one by one; 5 when left out. */
  readonly steps?: number;
  /** Requirements that studies watch otherwise than the Brief says; they watch all others as they are. */
  readonly watch?: readonly WatchedAs[];
}
