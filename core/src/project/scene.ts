/** The scene: what stands in space, what shines and what counts. Part of the document. */
import type { Spectral } from '../light/spectral.ts';
import type { Extent } from '../math/parameter.ts';
import type { OwnBody } from '../bodies/registry.ts';
import type { Combination } from '../bodies/trimmed-face.ts';
import type { DetectorPlace } from '../detectors/registry.ts';
import type { Law } from '../emission/laws/registry.ts';
import type { StartOrder } from '../emission/order.ts';
import type { Region } from '../emission/regions/registry.ts';
import type { Frame } from './model.ts';

/** Bodies that light goes through, is reflected by and ends in. */
export interface Scene {
  readonly id: string;
  readonly name: string;
  /** Id of the material around all parts. */
  readonly medium: string;
  readonly parts: readonly Part[];
  readonly sources: readonly Source[];
  readonly detectors: readonly Detector[];
  readonly sampling: Sampling;
}

export interface Sampling {
  /** Rays launched from all sources together. */
  readonly rays: number;
  readonly seed: number;
  /** `split`: reflected, refracted and scattered light all go on; `one`: one of them, drawn by its share, carries all. */
  readonly splitting: 'split' | 'one';
  /** Share of its first flux below which a ray ends (`split`) or is ended or strengthened by lot (`one`). */
  readonly threshold: number;
  /** Faces that a ray meets before it ends. */
  readonly events: number;
  /** Ids of parts and free detectors that scattered light is also sent straight to, with the flux that goes there. */
  readonly aims?: readonly string[];
}

/** Where something stands: its own frame, within that of another part where one is named. */
export interface Placed {
  readonly frame?: Frame;
  /** Id of a part whose frame this one is counted in. */
  readonly within?: string;
  /** Left out of everything without being deleted. */
  readonly excluded?: boolean;
}

export interface Part extends Placed {
  readonly id: string;
  readonly name?: string;
  readonly comment?: string;
  readonly body: Body;
  /** Id of the material inside; a body without one lets no light in. */
  readonly material?: string;
  readonly volume?: Volume;
  /** Id of the finish of all faces that have none of their own. */
  readonly finish?: string;
  /** By the names of faces. */
  readonly faces?: Readonly<Record<string, { readonly finish?: string }>>;
  /** The body many times over. */
  readonly pattern?: Pattern;
}

export type Body =
  | OwnBody
  /** A lens of the project: its elements become bodies, its mirrors and its image sheets. */
  | { readonly kind: 'lens'; readonly lens: string }
  /** A mesh of the project, `scale` times its size. */
  | { readonly kind: 'mesh'; readonly mesh: string; readonly scale?: number }
  /** The body of another part, with its finishes and material, mirrored where wanted. */
  | { readonly kind: 'copy'; readonly of: string; readonly mirrored?: 'x' | 'y' | 'z' }
  /** Two other parts as one body, where they stand; they are not there for themselves then. */
  | {
      readonly kind: 'combined';
      readonly operation: Combination;
      readonly first: string;
      readonly second: string;
    }
  /** Nothing but a frame that other parts stand in. */
  | { readonly kind: 'group' };

/** What happens inside a body beside its index and the absorption of its material. */
export interface Volume {
  /** Absorption beside that of the material, 1/mm. */
  readonly absorption?: Spectral;
  /** Mean way between two scattering events, mm. */
  readonly freePath?: Extent;
  /** Mean cosine of the scattering angle, −1 to 1. */
  readonly asymmetry?: number;
}

export type Pattern =
  /** Evenly round the z axis of the part's frame, `radius` away from it and turned along. */
  | { readonly kind: 'ring'; readonly count: number; readonly radius: number }
  /** In columns and rows about the origin of the part's frame. */
  | {
      readonly kind: 'grid';
      readonly columns: number;
      readonly rows: number;
      readonly dx: number;
      readonly dy: number;
    }
  /** A grid laid on a conic surface of revolution about z with its vertex at the origin: each copy stands on it, z along its normal. */
  | {
      readonly kind: 'facets';
      readonly columns: number;
      readonly rows: number;
      readonly dx: number;
      readonly dy: number;
      /** Radius of the surface at its vertex, mm; positive when its centre lies toward +z. */
      readonly radius: number;
      readonly conic?: number;
    };

export interface Source extends Placed {
  readonly id: string;
  readonly name?: string;
  readonly flux: number;
  readonly unit: 'W' | 'lm';
  /** Lines of its spectrum with their shares of the radiant flux. */
  readonly light: readonly { readonly nm: number; readonly weight: number }[];
  readonly region: Region;
  readonly law: Law;
  /** A point in the coordinates of its frame's surroundings that its z axis looks at, in place of tilts. */
  readonly towards?: { readonly x: number; readonly y: number; readonly z: number };
  /** Id of a part or free detector: only light that goes into the ball about it is launched. */
  readonly aim?: string;
  /** Rays start on places of a regular order in place of drawn ones. */
  readonly order?: StartOrder;
}

export interface Detector extends Placed {
  readonly id: string;
  readonly name?: string;
  readonly on: DetectorPlace;
  readonly columns: number;
  readonly rows: number;
  /** What of the light at a face it counts; a free one counts what passes. */
  readonly counts: 'incident' | 'absorbed' | 'leaving';
  readonly light: 'radiometric' | 'photometric';
  /** The least that it tells from nothing, in the unit of its map. */
  readonly floor?: number;
}

/** Most aims of scattered light. */
export const MOST_AIMS = 8;

/** How a new scene is sampled. */
export const SAMPLING: Sampling = {
  rays: 32_768,
  seed: 1,
  splitting: 'split',
  threshold: 1e-3,
  events: 100,
};
