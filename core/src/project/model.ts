/**
 * The document: plain, readonly JSON data. docs/file-format.md describes it for readers of files.
 * Lengths mm, angles degrees, wavelengths nm. Objects in lists carry ids; settings name each other by id, never by position.
 */
import type { ApertureArea, ObscurationArea } from '../apertures/registry.ts';
import type { Extent } from '../math/parameter.ts';
import type { Surroundings } from '../materials/air.ts';
import type { Gradient } from '../materials/gradient.ts';
import type { Material } from '../materials/material.ts';
import type { Phase } from '../phases/registry.ts';
import type { MeshRecord } from '../bodies/mesh-record.ts';
import type { Finish } from '../finishes/finish.ts';
import type { Shape } from '../shapes/registry.ts';
import type { Goal, GoalGroup, GlassRules, MakingLimits, TestPlateList } from './improve.ts';
import type { Scene } from './scene.ts';
import type { Tolerancing } from './tolerances.ts';

export const PROJECT_FORMAT = 'ulvex-project';
export const PROJECT_VERSION = 3;

export interface Project {
  readonly format: typeof PROJECT_FORMAT;
  readonly version: typeof PROJECT_VERSION;
  readonly name: string;
  readonly notes: string;
  readonly lenses: readonly Lens[];
  /** The records of all materials in use, so that the project opens the same everywhere. */
  readonly materials: readonly Material[];
  readonly requirements: readonly Requirement[];
  /** Temperature in °C and air pressure in Pa everywhere; 20 and 101325 when left out. They change indices, not lengths. */
  readonly surroundings?: Partial<Surroundings>;
  /** What stands in space, and what light does there. */
  readonly scenes?: readonly Scene[];
  /** The records of finishes in use. */
  readonly finishes?: readonly Finish[];
  /** Meshes that bodies of scenes are made of. */
  readonly meshes?: readonly MeshRecord[];
  /** The user's arrangements of analyses. */
  readonly boards?: readonly Board[];
  /** What makes numbers more than fixed ones, by address; values stay where they are. */
  readonly parameters?: ParameterStates;
  /** Named sets of values that some numbers and glasses take instead: focused near, zoomed in, hot. */
  readonly states?: readonly ModelState[];
  /** What Improve is to reach, and what it must not make. */
  readonly goals?: readonly Goal[];
  readonly goalGroups?: readonly GoalGroup[];
  readonly making?: MakingLimits;
  /** Which glasses Improve may choose from. */
  readonly glassRules?: GlassRules;
  /** What its radii can be tested with. */
  readonly testPlates?: TestPlateList;
  /** What is not made exactly, and what is set after making. */
  readonly tolerancing?: Tolerancing;
}

/** A state of the one model: what is different in it. All else is as designed. */
export interface ModelState {
  readonly id: string;
  readonly name: string;
  readonly overrides: readonly Override[];
}

/** What one number or glass is in a state. */
export interface Override {
  readonly id: string;
  /** Of a parameter, or of the medium after a surface: `lenses.tide.surfaces.l1_front.material`. */
  readonly address: string;
  /** In the parameter's unit; id of a material of the project for a medium. */
  readonly value: Extent | string;
  /** It was not chosen: a linked or derived number has this value in the state, see `settle`. */
  readonly follows?: true;
}

export type ParameterStates = Readonly<Record<string, ParameterState>>;

/** What a number is, where it is not fixed. */
export type ParameterState =
  /** Improve may change it, within bounds in its unit. */
  | { readonly kind: 'free'; readonly min?: number; readonly max?: number }
  /** It follows from other parameters: a formula that names them by address. */
  | { readonly kind: 'linked'; readonly formula: string }
  /** It is chosen so that a measure has a value: a formula of parameters and measures. */
  | {
      readonly kind: 'derived';
      readonly measure: string;
      /** Id of the lens, or of the scene, that is measured. */
      readonly of: string;
      readonly settings: Readonly<Record<string, unknown>>;
      readonly equals: string;
    };

/** An arrangement of tiles, filled row by row into twelve columns. */
export interface Board {
  readonly id: string;
  readonly name: string;
  readonly tiles: readonly BoardTile[];
}

/** One analysis on a board. */
export interface BoardTile {
  readonly id: string;
  /** What it is called on its board, where that is not its title. */
  readonly name?: string | undefined;
  /** Which analysis; a kind that this program does not know is kept and shown as such. */
  readonly kind: string;
  /** Width in columns of twelve, and height in rows. */
  readonly columns: number;
  readonly rows: number;
  /** Id of the state that it shows, `designed` or `every`; the state at hand when left out. */
  readonly state?: string | undefined;
  /** Choices of the analysis; left out ones take their defaults. */
  readonly settings: Readonly<Record<string, unknown>>;
}

export interface Lens {
  readonly id: string;
  readonly name: string;
  readonly object: { readonly distance: Extent };
  readonly aperture: SystemAperture;
  readonly pupil: PupilChoice;
  readonly fields: FieldSet;
  /** `afocal`: the image lies at infinity, results are angles; `focal` when left out. */
  readonly imageSpace?: 'focal' | 'afocal';
  readonly wavelengths: readonly Wavelength[];
  /** Id of the wavelength that first-order pupils and single-colour results use; null while there is none. */
  readonly primary: string | null;
  /** Id of the stop surface; null while there is none. */
  readonly stop: string | null;
  /** In the order light meets them; the last is the image surface. */
  readonly surfaces: readonly Surface[];
  /** Single rays that stay with the project. */
  readonly rays?: readonly KeptRay[];
}

export interface KeptRay {
  readonly id: string;
  readonly name?: string;
  /** Id of a wavelength of the lens; the primary one for null. */
  readonly wavelength: string | null;
  readonly source: RaySource;
  /** Whether it is drawn in the section. */
  readonly drawn?: boolean;
}

/** Where a single ray comes from. */
export type RaySource =
  /** From a field through a point of the unvignetted pupil, px and py in the unit disk. */
  | { readonly kind: 'pupil'; readonly field: string; readonly px: number; readonly py: number }
  /** From a point, mm in the frame of the first vertex, with slopes tan tx and tan ty (degrees). */
  | {
      readonly kind: 'launched';
      readonly x: number;
      readonly y: number;
      readonly z: number;
      readonly tx: number;
      readonly ty: number;
    }
  /** From a field through the point x, y (mm, its own frame) of a surface. */
  | {
      readonly kind: 'aimed';
      readonly field: string;
      readonly surface: string;
      readonly x: number;
      readonly y: number;
    };

/** What limits the bundle on the axis, at the primary wavelength; paraxial where not said otherwise. */
export interface SystemAperture {
  /**
   * `image_f_number`: focal length over entrance-pupil diameter. `object_na`: n·sin U of the marginal ray at a finite
   * object. `working_f_number`: 1/(2 n′ u′) at the image, for the object distance that is set; `real_working_f_number`:
   * 1/(2 n′ sin U′) of real rays.
   */
  readonly kind:
    | 'entrance_pupil_diameter'
    | 'stop_semi_aperture'
    | 'image_f_number'
    | 'working_f_number'
    | 'real_working_f_number'
    | 'object_na';
  /** Positive; mm for the two sizes, a pure number for the others. */
  readonly value: number;
}

export interface PupilChoice {
  /** `paraxial`: rays aim at the paraxial entrance pupil; `stop`: each ray meets the stop surface where asked. */
  readonly aim: 'paraxial' | 'stop';
  /** Rays with √(px² + py²) below this ratio are left out (annular pupil); 0 for none. */
  readonly obscuration: number;
}

/** What the numbers of a field point are. */
export type FieldKind = 'angle' | 'object_height' | 'image_height' | 'real_image_height';

export interface FieldSet {
  /**
   * `angle`: degrees, the ray climbs toward +y for positive y. `object_height`: mm, the object point itself.
   * `image_height`: mm, where the paraxial image of the field lies; `real_image_height`: where its real chief ray of the primary
   * wavelength meets the image surface.
   */
  readonly kind: FieldKind;
  readonly points: readonly FieldPoint[];
}

export interface FieldPoint {
  readonly id: string;
  readonly x: number;
  readonly y: number;
  readonly weight: number;
}

export interface Wavelength {
  readonly id: string;
  readonly nm: number;
  readonly weight: number;
}

export interface Surface {
  readonly id: string;
  readonly name?: string;
  readonly comment?: string;
  readonly shape: Shape;
  /** What diffracts on it: a grating or rings, on any shape. */
  readonly phase?: Phase;
  /** A mirror: light goes on in the medium it came from, and following thicknesses change sign. */
  readonly reflects?: boolean;
  /** Id of the finish that it carries, such as a coating; bare, or a perfect mirror, when left out. */
  readonly finish?: string;
  readonly aperture: SurfaceAperture;
  readonly obscurations?: readonly Obscuration[];
  /** Shift and tilt of this surface from the axis that comes to it. */
  readonly frame?: SurfaceFrame;
  /** How the axis goes on behind it, where its frame alone does not say. */
  readonly behind?: AxisBehind;
  /** The medium after the surface; null behind the image surface. */
  readonly after: Medium | null;
}

/** `automatic` is drawn from the rays and never clips; a set one clips wherever an analysis says “clipped”. */
export type SurfaceAperture = { readonly kind: 'automatic' } | ApertureArea;

/** Something that stands in the way on a surface; it clips as a set aperture does. */
export type Obscuration = ObscurationArea & { readonly id: string };

/** p = (dx, dy, dz) + Rx(tx)·Ry(ty)·Rz(tz)·p_local, mm and degrees, right-handed. */
export interface Frame {
  readonly dx?: number;
  readonly dy?: number;
  readonly dz?: number;
  readonly tx?: number;
  readonly ty?: number;
  readonly tz?: number;
}

export interface SurfaceFrame extends Frame {
  /**
   * The axis after the surface: `return` (taken when left out): as if the surface were not moved; `carry`: it goes along with the
   * surface, and so does all that follows; `reflect`: as a tilted mirror reflects it.
   */
  readonly axis?: 'return' | 'carry' | 'reflect';
}

export interface AxisBehind extends Frame {
  /** Id of this or an earlier surface: the axis returns to where it would be had nothing been moved from that surface on. */
  readonly returnTo?: string;
}

export interface Medium {
  /** Vertex to vertex along z, mm; negative after an odd number of mirrors. */
  readonly thickness: number;
  /** Id of a material of the project. */
  readonly material: string;
  /** Name of the element, for solid media. */
  readonly name?: string;
  /** How its index changes inside it. */
  readonly gradient?: Gradient;
  /** The element is left out, as if what surrounds it were in its place, without being deleted. */
  readonly excluded?: true;
}

export interface Requirement {
  readonly id: string;
  /** Id of a measure. */
  readonly measure: string;
  /** Id of the lens, or of the scene, that is measured. */
  readonly lens: string;
  /** Settings of the measure; left out ones take their defaults. */
  readonly settings: Readonly<Record<string, unknown>>;
  /** Id of the state that it is measured in, or `every`; as designed when left out. */
  readonly state?: string;
  readonly label?: string;
  /** Limits in the measure's unit; at least one of them makes it a requirement. */
  readonly min?: number;
  readonly max?: number;
}

/** What ids look like; it keeps them usable as words in formulas and addresses. */
export const ID_PATTERN = /^[a-z][a-z0-9_]*$/;
