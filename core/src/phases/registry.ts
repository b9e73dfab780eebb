import { Kinds } from '../math/kinds.ts';
import { grating } from './grating.ts';
import { kinoform } from './kinoform.ts';
import type { CompiledPhase, PhaseDefinition } from './phase.ts';

/** Every kind of phase that a surface can add, in menu order. A new one is a file beside these and a word in this list. */
export const PHASES = [grating, kinoform] as const;

type RecordOf<D> = D extends PhaseDefinition<infer R> ? R : never;

/** A phase as the document holds it. */
export type Phase = RecordOf<(typeof PHASES)[number]>;

/** Phases by kind. */
export const PHASE_KINDS = new Kinds<PhaseDefinition<Phase>>('phase', PHASES);

/** The definition of a kind, or undefined for a word that is none. */
export const phaseDefinition = (kind: string) => PHASE_KINDS.find(kind);

/** Makes a phase ready for tracing. Throws for a kind that is not registered: documents are validated before. */
export function compilePhase(phase: Phase): CompiledPhase {
  return PHASE_KINDS.of(phase.kind).compile(phase);
}
