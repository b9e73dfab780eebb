import type { CompiledScatter } from './laws/law.ts';
import { compileScatter, type Scatter } from './laws/registry.ts';
import type { CompiledOptics } from './optics/optics.ts';
import { compileOptics, type FaceOptics } from './optics/registry.ts';

/** A finish: what faces that carry it do with light. */
export interface Finish {
  readonly id: string;
  readonly name: string;
  readonly optics: FaceOptics;
  /** How a part of what is reflected, and of what is let through, is spread. */
  readonly reflected?: Scatter;
  readonly transmitted?: Scatter;
  readonly note?: string;
}

/** A finish made ready for one wavelength. */
export interface CompiledFinish extends CompiledOptics {
  /** Its optics in the document: what tables of its shares are kept by. */
  readonly record: FaceOptics;
  readonly nm: number;
  readonly reflected: CompiledScatter | null;
  readonly transmitted: CompiledScatter | null;
}

const SPREADS = new WeakMap<Scatter, CompiledScatter>();

function spread(scatter: Scatter | undefined): CompiledScatter | null {
  if (!scatter) return null;
  let known = SPREADS.get(scatter);
  if (!known) SPREADS.set(scatter, (known = compileScatter(scatter)));
  return known;
}

const EVEN: CompiledScatter = compileScatter({ kind: 'lambertian', share: 1 });

/** Makes a finish ready for a wavelength. */
export function compileFinish(
  finish: Pick<Finish, 'optics' | 'reflected' | 'transmitted'>,
  nm: number,
): CompiledFinish {
  const optics = compileOptics(finish.optics, nm);
  return {
    ...optics,
    record: finish.optics,
    nm,
    reflected: optics.even ? EVEN : spread(finish.reflected),
    transmitted: optics.opaque ? null : spread(finish.transmitted),
  };
}
