/** What Improve is asked for, as the document holds it. */

/** A measure with a target or limits, or the image as a whole; together they are what a run makes small. */
export type Goal = MeasureGoal | ImageGoal;

interface GoalBase {
  readonly id: string;
  readonly label?: string;
  /** Id of the lens or the scene that it is about. */
  readonly of: string;
  /** Id of a state, `designed`, or `every`; as designed when left out. */
  readonly state?: string;
  /** How much it counts; 0 not at all. */
  readonly weight: number;
  /** It is left out of runs without being deleted. */
  readonly off?: true;
}

export interface MeasureGoal extends GoalBase {
  readonly kind: 'measure';
  readonly measure: string;
  readonly settings: Readonly<Record<string, unknown>>;
  /** In the measure's unit: what it should be, or the limits it should keep. */
  readonly target?: number;
  readonly min?: number;
  readonly max?: number;
}

/**
 * One live goal for all fields and wavelengths with their weights: nothing is ever written out for each of them. Ulvex chooses how the pupil
 * is sampled and says why.
 */
export interface ImageGoal extends GoalBase {
  readonly kind: 'image_quality';
  readonly what: 'spot' | 'wavefront';
  readonly about: 'centroid' | 'chief';
  /** Whether colours count about one point, so that lateral colour is part of it; else each about its own. */
  readonly lateralColour: boolean;
  /** Rings of the pupil sampling; by Ulvex's own choice when left out. */
  readonly rings?: number;
}

/** What a workshop can make, in mm and degrees; a number that is null is not limited, one that is left out has its usual value. */
export interface MakingLimits {
  /** Whether runs keep them at all. */
  readonly off?: true;
  /** Thickness of elements and gaps on the axis and at the rim. */
  readonly glassCentre?: number | null;
  readonly glassEdge?: number | null;
  readonly airCentre?: number | null;
  readonly airEdge?: number | null;
  /** Diameter of an element over its thickness: at least, at most. */
  readonly stout?: number | null;
  readonly slender?: number | null;
  /** Steepest slope of a surface, largest angle of incidence, degrees. */
  readonly slope?: number | null;
  readonly incidence?: number | null;
  /** From the first vertex to the image at most; last vertex to the image at least. */
  readonly length?: number | null;
  readonly back?: number | null;
  /** How much further than its rays go every surface is made, %. */
  readonly margin?: number | null;
}

/** What limits are where a project says nothing. */
export const USUAL_LIMITS = {
  glassCentre: 1,
  glassEdge: 0.8,
  airCentre: 0.1,
  airEdge: 0.05,
  stout: 1,
  slender: 15,
  slope: 60,
  incidence: 65,
  length: null,
  back: 1,
  margin: 3,
} as const satisfies Omit<MakingLimits, 'off'>;

export type LimitName = keyof typeof USUAL_LIMITS;

/** Limits with what is left out filled in. */
export function limitsOf(given: MakingLimits | undefined): { readonly [K in LimitName]: number | null } {
  return { ...USUAL_LIMITS, ...given };
}
