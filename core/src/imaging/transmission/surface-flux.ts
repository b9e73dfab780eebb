import { compileFinish, type CompiledFinish } from '../../finishes/finish.ts';
import { bareShares, type FaceShares } from '../../finishes/fresnel.ts';
import { internalTransmittance, isGas } from '../../materials/material.ts';
import { filmMedia } from '../../project/film-media.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { carriesFinish, finishOfSurface, solidBefore } from '../evaluation/surface-finish.ts';

/** What the surfaces and media of a lens leave of the flux of a ray. */
export interface LensFlux {
  /**
   * Share of unpolarised light that goes on from a surface: through it, or reflected by a mirror. A surface without a finish is bare, a
   * mirror without one reflects all; at the image nothing is lost.
   *
   * @param j - index of the surface
   * @param wave - index of the wavelength
   * @param n - index in front, at the ray
   * @param next - index behind
   * @param cosine - of the angle of incidence, not negative
   */
  surface(j: number, wave: number, n: number, next: number, cosine: number): number;
  /** Share that is left after a way, mm, through the medium in front of surface `j`; null where its material has no record of it. */
  medium(j: number, wave: number, way: number): number | null;
}

/** Makes it ready; once for all that ask of one lens. */
export function lensFlux(lens: LensEvaluation): LensFlux {
  return lens.shared('flux', () => compiled(lens));
}

function compiled(lens: LensEvaluation): LensFlux {
  const { surfaces, media, wavelengths } = lens.model;
  const finishes = surfaces.map((_, j) => (carriesFinish(lens, j) ? (finishOfSurface(lens, j) ?? null) : null));
  const films = filmMedia(lens.project);
  const ready = finishes.map(() => [] as CompiledFinish[]);
  // Films are listed from the outside in: a surface belongs to the glass behind it, or else to that in front.
  const fromInside = surfaces.map(
    ({ reflects }, j) => (reflects || !solidBefore(lens.model, j + 1)) && solidBefore(lens.model, j),
  );
  const absorption = media.map((medium) =>
    wavelengths.map(({ nm }) => {
      const clear = medium && !isGas(medium) ? internalTransmittance(medium, nm, 1) : 1;
      return clear === null ? NaN : -Math.log(clear);
    }),
  );
  const out: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
  return {
    surface(j, wave, n, next, cosine) {
      const { reflects } = surfaces[j];
      const finish = finishes[j];
      if (finish) {
        const face = (ready[j][wave] ??= compileFinish(finish, wavelengths[wave].nm, films));
        face.shares(n, next, cosine, fromInside[j], out);
      } else if (reflects || n === next) return 1;
      else bareShares(n, next, cosine, out);
      return reflects ? (out.rs + out.rp) / 2 : (out.ts + out.tp) / 2;
    },
    medium(j, wave, way) {
      const alpha = absorption[j][wave];
      return Number.isNaN(alpha) ? null : Math.exp(-alpha * Math.abs(way));
    },
  };
}

/** Cosine of the angle of incidence that leads to one behind a surface, by Snell's law: for rays that come on curved ways. */
export function cosineInFront(n: number, next: number, behind: number): number {
  const sine = (next / n) ** 2 * (1 - behind * behind);
  return Math.sqrt(Math.max(0, 1 - sine));
}
