import { isSpectralTable } from '../light/spectral.ts';
import type { CompiledScatter } from './laws/law.ts';
import { compileScatter, type Scatter } from './laws/registry.ts';
import { NO_MEDIA, type CompiledOptics, type FilmMedia } from './optics/optics.ts';
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

const SPREADS = new WeakMap<Scatter, Map<number, CompiledScatter>>();

/** A law made ready; once for all wavelengths if none of its numbers differs between them. */
function spread(scatter: Scatter | undefined, nm: number): CompiledScatter | null {
  if (!scatter) return null;
  const at = Object.values(scatter).some(isSpectralTable) ? nm : 0;
  let known = SPREADS.get(scatter);
  if (!known) SPREADS.set(scatter, (known = new Map()));
  let made = known.get(at);
  if (!made) known.set(at, (made = compileScatter(scatter, nm)));
  return made;
}

const EVEN: CompiledScatter = compileScatter({ kind: 'lambertian', share: 1 }, 0);

/**
 * Makes a finish ready for a wavelength.
 *
 * @param media - what its films can be made of
 */
export function compileFinish(
  finish: Pick<Finish, 'optics' | 'reflected' | 'transmitted'>,
  nm: number,
  media: FilmMedia = NO_MEDIA,
): CompiledFinish {
  const optics = compileOptics(finish.optics, nm, media);
  return {
    ...optics,
    record: finish.optics,
    nm,
    reflected: optics.even ? EVEN : spread(finish.reflected, nm),
    transmitted: optics.opaque ? null : spread(finish.transmitted, nm),
  };
}
