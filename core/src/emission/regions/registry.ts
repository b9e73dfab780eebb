import { Kinds } from '../../math/kinds.ts';
import { ball, filament } from './curved.ts';
import { disc, point, rectangle, waist } from './flat.ts';
import type { CompiledRegion, RegionDefinition } from './region.ts';

/** Every region of its own that light can start from, in menu order. A new one is a file beside these and a word in this list. */
export const REGIONS = [point, disc, rectangle, filament, ball, waist] as const;

type RecordOf<D> = D extends RegionDefinition<infer R> ? R : never;

/** A region that needs no face of the scene, as the document holds it. */
export type OwnRegion = RecordOf<(typeof REGIONS)[number]>;

/** Where rays start: about the origin of the source, emitting toward +z, or outward where it is closed. */
export type Region =
  | OwnRegion
  /** A face of a part, from its outside. */
  | { readonly kind: 'face'; readonly part: string; readonly face: string };

/** Regions of their own by kind. */
export const REGION_KINDS = new Kinds<RegionDefinition<OwnRegion>>('region to shine from', REGIONS);

/** Makes a region ready. */
export function compileRegion(region: OwnRegion): CompiledRegion {
  return REGION_KINDS.of(region.kind).compile(region);
}
