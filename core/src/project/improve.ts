/** What Improve is asked for, as the document holds it. */

/** How well things are made: see `WORKSHOP_GRADES`. */
export const WORKSHOP_NAMES = ['precise', 'usual', 'coarse'] as const;
export type WorkshopName = (typeof WORKSHOP_NAMES)[number];

/** What a goal may count a lens by as manufactured: a grade, or the tolerances of the project. */
export const MADE_BY = [...WORKSHOP_NAMES, 'tolerances'] as const;
export type MadeBy = (typeof MADE_BY)[number];

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
  /** Id of the group that it belongs to. */
  readonly group?: string;
}

/** Goals that are weighed, or left out, together. */
export interface GoalGroup {
  readonly id: string;
  readonly name: string;
  /** Factor of the weights of all its goals. */
  readonly weight: number;
  readonly off?: true;
}

/** Goals as they count: with the weight of their group, and off where that is. */
export function countingGoals(goals: readonly Goal[] = [], groups: readonly GoalGroup[] = []): readonly Goal[] {
  if (groups.length === 0) return goals;
  return goals.map((goal) => {
    const group = groups.find(({ id }) => id === goal.group);
    if (!group) return goal;
    return { ...goal, weight: goal.weight * group.weight, ...(group.off && { off: true as const }) };
  });
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
  /** Spots in µm, wavefronts in waves, or the modulation that aberrations take at a frequency. */
  readonly what: 'spot' | 'wavefront' | 'mtf';
  /** Of spots and wavefronts: RMS, when left out, or the largest distance and peak to valley. */
  readonly by?: 'rms' | 'peak';
  /** Cycles per mm, of an MTF. */
  readonly frequency?: number;
  readonly about: 'centroid' | 'chief';
  /** Whether colours count about one point, so that lateral colour is part of it; else each about its own. */
  readonly lateralColour: boolean;
  /**
   * Of RMS spots about the centroid: as they are to be expected after manufacture of this grade, focus set after it; or `tolerances`: as 90
   * % of lenses made within the tolerances of the project are. As drawn when left out.
   */
  readonly workshop?: MadeBy;
  /** Rings of the pupil sampling; by Ulvex's own choice when left out. */
  readonly rings?: number;
}

/** Most plates a list may have. */
export const MOST_PLATES = 20_000;

/** A gauge that spheres of one radius are tested with. */
export interface TestPlate {
  /** mm, without a sign: convex and concave ones come in pairs. */
  readonly radius: number;
  readonly name?: string;
}

/** The test plates of a workshop, by rising radius. */
export interface TestPlateList {
  readonly name: string;
  readonly plates: readonly TestPlate[];
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
  /** Largest thickness of glass, and of a gap between surfaces, at the vertex, mm. */
  readonly glassMost?: number | null;
  readonly airMost?: number | null;
  /** How much further than its rays go every surface is made, %. */
  readonly margin?: number | null;
}

/** What limits are where a project says nothing. */
export const USUAL_LIMITS = {
  glassCentre: 1,
  glassEdge: 0.8,
  glassMost: null,
  airCentre: 0.1,
  airMost: null,
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

/** What a limit may be exceeded by before it counts, as a share of it and in mm or degrees: less than its rounded figure shows. */
const ROUNDING = { share: 5e-4, least: 1e-3 } as const;

/** Whether a limit is exceeded by more than rounding. */
export function isExceeded({
  over,
  min,
  max,
}: {
  readonly over: number;
  readonly min?: number;
  readonly max?: number;
}): boolean {
  return over > Math.max(ROUNDING.least, ROUNDING.share * Math.abs(min ?? max ?? 0));
}

/** Which glasses may be taken; what is left out limits nothing. */
export interface GlassRules {
  readonly minIndex?: number;
  readonly maxIndex?: number;
  readonly minAbbe?: number;
  readonly maxAbbe?: number;
  /** Price over that of 517642, climate and stain class, density in g/cm³: at most. */
  readonly maxCost?: number;
  readonly maxClimate?: number;
  readonly maxStain?: number;
  readonly maxDensity?: number;
  /** Internal transmittance of 10 mm at 400 nm, at least; 0 to 1. */
  readonly minBlue?: number;
  /** Ids of glasses that are taken or left out by hand, whatever the rules say. */
  readonly with?: readonly string[];
  readonly without?: readonly string[];
  /** Whether glasses go of which a value that is asked for is not known of themselves: what is typical of their family does not count. */
  readonly knownOnly?: boolean;
}
