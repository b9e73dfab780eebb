import { Kinds } from '../../math/kinds.ts';
import { isotropic, lambertian, parallel } from './cone.ts';
import { cosinePower } from './cosine-power.ts';
import { gaussian } from './gaussian.ts';
import type { CompiledLaw, LawDefinition } from './law.ts';
import { ring } from './ring.ts';
import { table } from './table.ts';

/** Every law that a source can send light by, in menu order. A new one is a file beside these and a word in this list. */
export const LAWS = [lambertian, isotropic, cosinePower, parallel, gaussian, ring, table] as const;

type RecordOf<D> = D extends LawDefinition<infer R> ? R : never;

/** Where rays go, about the normal of the place where they start, as the document holds it. Angles in degrees. */
export type Law = RecordOf<(typeof LAWS)[number]>;

/** Laws by kind. */
export const LAW_KINDS = new Kinds<LawDefinition<Law>>('law of directions', LAWS);

/** Makes a law ready. */
export function compileLaw(law: Law): CompiledLaw {
  return LAW_KINDS.of(law.kind).compile(law);
}
