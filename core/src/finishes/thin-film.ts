import { addFilm, admittance, beginFilms, endFilms, filmReflected, filmThrough } from '../physics/films.ts';
import type { FaceShares } from './fresnel.ts';

/** A homogeneous film. */
export interface Film {
  /** Index and extinction coefficient, n + ik. */
  readonly n: number;
  readonly k: number;
  /** Thickness, nm. */
  readonly nm: number;
}

/**
 * Shares of the flux that a stack of films between two media reflects and lets through: see `physics/films.ts`.
 *
 * @param nm - wavelength in nm, against the medium that indices count against
 * @param n0 - index of the clear medium that light comes from
 * @param cosine - of the angle of incidence in it, above 0
 * @param films - in the order light meets them
 * @param behind - index n and extinction k of the medium behind
 */
export function filmShares(
  nm: number,
  n0: number,
  cosine: number,
  films: readonly Film[],
  behind: { readonly n: number; readonly k: number },
  out: FaceShares,
): void {
  const along = n0 * Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const stack = (within: boolean) => {
    admittance(behind.n, behind.k, along, within);
    beginFilms();
    for (let layer = films.length - 1; layer >= 0; layer--) {
      const film = films[layer];
      admittance(film.n, film.k, along, within);
      addFilm((2 * Math.PI * film.nm) / nm);
    }
    endFilms(within ? n0 / cosine : n0 * cosine);
  };
  stack(false);
  out.rs = filmReflected;
  out.ts = filmThrough;
  stack(true);
  out.rp = filmReflected;
  out.tp = filmThrough;
}
