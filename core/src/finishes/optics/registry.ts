import type { ParameterSpec } from '../../math/parameter.ts';
import { bare } from './bare.ts';
import { coatingTable } from './coating-table.ts';
import { coating } from './coating.ts';
import { absorber, metal, mirror, paint } from './opaque.ts';
import type { CompiledOptics, OpticsDefinition } from './optics.ts';
import { split } from './split.ts';

/** Every kind of face optics, in menu order. A new one is a file beside these and a word in this list. */
export const FACE_OPTICS = [bare, coating, coatingTable, mirror, metal, absorber, paint, split] as const;

type RecordOf<D> = D extends OpticsDefinition<infer R> ? R : never;

/** What a face does with light, its spread apart, as the document holds it. */
export type FaceOptics = RecordOf<(typeof FACE_OPTICS)[number]>;

/** The numbers of each kind. */
export const OPTICS_SPECS = Object.fromEntries(
  FACE_OPTICS.map(({ kind, parameters }) => [kind, parameters]),
) as unknown as Readonly<Record<FaceOptics['kind'], readonly ParameterSpec[]>>;

/** Makes face optics ready for a wavelength. Throws for a kind that is not registered: documents are validated before. */
export function compileOptics(optics: FaceOptics, nm: number): CompiledOptics {
  const definition = FACE_OPTICS.find(({ kind }) => kind === optics.kind) as OpticsDefinition<FaceOptics> | undefined;
  if (!definition) throw new Error(`No face optics are called ${String(optics.kind)}`);
  return definition.compile(optics, nm);
}
