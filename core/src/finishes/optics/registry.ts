import { Kinds } from '../../math/kinds.ts';
import { bare } from './bare.ts';
import { coatingTable } from './coating-table.ts';
import { coating } from './coating.ts';
import { absorber, metal, mirror, paint } from './opaque.ts';
import type { CompiledOptics, FilmMedia, OpticsDefinition } from './optics.ts';
import { split } from './split.ts';

/** Every kind of face optics, in menu order. A new one is a file beside these and a word in this list. */
export const FACE_OPTICS = [bare, coating, coatingTable, mirror, metal, absorber, paint, split] as const;

type RecordOf<D> = D extends OpticsDefinition<infer R> ? R : never;

/** What a face does with light, its spread apart, as the document holds it. */
export type FaceOptics = RecordOf<(typeof FACE_OPTICS)[number]>;

/** Face optics by kind. */
export const OPTICS_KINDS = new Kinds<OpticsDefinition<FaceOptics>>('kind of face optics', FACE_OPTICS);

/** Makes face optics ready for a wavelength. */
export function compileOptics(optics: FaceOptics, nm: number, media: FilmMedia): CompiledOptics {
  return OPTICS_KINDS.of(optics.kind).compile(optics, nm, media);
}
