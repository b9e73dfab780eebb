import type { FaceForm } from '../bodies/face-form.ts';
import { Kinds } from '../math/kinds.ts';
import { block } from './block.ts';
import { far } from './far.ts';
import { disc, rectangle } from './flat.ts';
import type { PlaceDefinition } from './place.ts';
import { cylinder, sphere } from './round.ts';

/** Every place that a detector can have by itself, in menu order. A new one is a file beside these and a word in this list. */
export const DETECTOR_PLACES = [rectangle, disc, cylinder, sphere, block, far] as const;

type RecordOf<D> = D extends PlaceDefinition<infer R> ? R : never;

/** A place of its own, as the document holds it. */
export type OwnPlace = RecordOf<(typeof DETECTOR_PLACES)[number]>;

/** Where a detector counts. */
export type DetectorPlace =
  | OwnPlace
  /** On a face of a part. */
  | { readonly kind: 'face'; readonly part: string; readonly face: string };

/** Places of their own by kind. */
export const PLACE_KINDS = new Kinds<PlaceDefinition<OwnPlace>>('place of a detector', DETECTOR_PLACES);

/** The face in space that light passes unhindered; null for what counts elsewhere. */
export function freeFace(on: DetectorPlace): FaceForm | null {
  return on.kind === 'face' ? null : (PLACE_KINDS.of(on.kind).face?.(on) ?? null);
}
