import { Kinds } from '../../math/kinds.ts';
import { abg } from './abg.ts';
import { cosinePower } from './cosine-power.ts';
import { lambertian } from './even.ts';
import { exponential } from './exponential.ts';
import { gaussian } from './gaussian.ts';
import type { CompiledScatter, ScatterDefinition } from './law.ts';
import { shoulder } from './shoulder.ts';
import { table } from './table.ts';

/** Every law of scatter, in menu order. A new one is a file beside these and a word in this list. */
export const SCATTER_LAWS = [lambertian, gaussian, cosinePower, abg, shoulder, exponential, table] as const;

type RecordOf<D> = D extends ScatterDefinition<infer R> ? R : never;

/** How a part of the light that a face sends on is spread, as the document holds it. Angles in degrees. */
export type Scatter = RecordOf<(typeof SCATTER_LAWS)[number]>;

/** Laws by kind. */
export const SCATTER_KINDS = new Kinds<ScatterDefinition<Scatter>>('law of scatter', SCATTER_LAWS);

/** Makes a law ready for a wavelength in nm. */
export function compileScatter(scatter: Scatter, nm: number): CompiledScatter {
  return SCATTER_KINDS.of(scatter.kind).compile(scatter, nm);
}
