import type { ParameterSpec } from '../../math/parameter.ts';
import { abg } from './abg.ts';
import { cosinePower } from './cosine-power.ts';
import { lambertian } from './even.ts';
import { gaussian } from './gaussian.ts';
import type { CompiledScatter, ScatterDefinition } from './law.ts';
import { shoulder } from './shoulder.ts';
import { table } from './table.ts';

/** Every law of scatter, in menu order. A new one is a file beside these and a word in this list. */
export const SCATTER_LAWS = [lambertian, gaussian, cosinePower, abg, shoulder, table] as const;

type RecordOf<D> = D extends ScatterDefinition<infer R> ? R : never;

/** How a part of the light that a face sends on is spread, as the document holds it. Angles in degrees. */
export type Scatter = RecordOf<(typeof SCATTER_LAWS)[number]>;

/** The numbers of each law. */
export const SCATTER_SPECS = Object.fromEntries(
  SCATTER_LAWS.map(({ kind, parameters }) => [kind, parameters]),
) as unknown as Readonly<Record<Scatter['kind'], readonly ParameterSpec[]>>;

/** Makes a law ready. Throws for a kind that is not registered: documents are validated before. */
export function compileScatter(scatter: Scatter): CompiledScatter {
  const definition = SCATTER_LAWS.find(({ kind }) => kind === scatter.kind) as ScatterDefinition<Scatter> | undefined;
  if (!definition) throw new Error(`No law of scatter is called ${String(scatter.kind)}`);
  return definition.compile(scatter);
}
