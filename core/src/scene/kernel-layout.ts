/**
 * What the compiled tracer (`core/kernels/scene`, AssemblyScript) and `block-tracer.ts` both need to know: where things are in the memory
 * they share (made of `core/kernels/records.mjs`), and what the numbers there mean. Both languages read this file.
 */
export * from './records.generated.ts';

/** Bits of RAY_FRESH: 1 until its first step is done, 2 where it comes from an aimed ray. */
export const MARK_FRESH = 1;
export const MARK_AIMED = 2;
/** Bodies that a ray may be in at once. */
export const DEPTH = 8;

export const FORM_FOREIGN = 0;
export const FORM_QUADRIC = 1;
export const FORM_FLAT = 2;
export const FORM_MESH = 3;

export const FINISH_FOREIGN = 0;
export const FINISH_FIXED = 1;
export const FINISH_BARE = 2;
export const FINISH_METAL = 3;
/** Films, by tables over the cosine for pairs of media. */
export const FINISH_FILMS = 4;
/** A table over degrees. */
export const FINISH_ANGLES = 5;

export const SPREAD_FOREIGN = 0;
export const SPREAD_EVEN = 1;
export const SPREAD_GAUSSIAN = 2;
export const SPREAD_CONE = 3;
/** Lobes over the distance of direction cosines; the BSDF of the last one is known to TypeScript alone. */
export const SPREAD_ABG = 4;
export const SPREAD_SHOULDER = 5;
export const SPREAD_LOBE = 6;

export const COUNTS_INCIDENT = 0;
export const COUNTS_ABSORBED = 1;
export const COUNTS_LEAVING = 2;

export const MISHAP_OVERLAP = 0;
export const MISHAP_LEAK = 1;
export const MISHAP_OPAQUE = 2;

/** Up to so many faces are all tried: boxes about them would cost more. */
export const FEW = 6;
/** Sets the keys of children apart. */
export const CHILD = 0x85ebca6b;
/** Sets the keys of children to different aims apart. */
export const AIMED_CHILD = 0x27d4eb2f;

/** Square of the inner radius, and how much the outer one's is larger. */
export const REGION_DISC = 0;
/** Width and height. */
export const REGION_RECTANGLE = 1;
/** The largest sine, evenly over its square. */
export const LAW_SINE = 0;
/** How far the cosine falls below 1, evenly. */
export const LAW_DEPTH = 1;

/** How far behind a ray a face of a body may lie that it should have met, mm: rounding, and faces that touch. */
export const BEHIND = 1e-7;
/** A free face is left behind when it is this near, mm. */
export const NEAR = 1e-7;
