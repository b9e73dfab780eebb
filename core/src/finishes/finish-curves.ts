import type { FaceShares } from './fresnel.ts';
import type { FilmMedia } from './optics/optics.ts';
import { compileOptics, type FaceOptics } from './optics/registry.ts';

/** Shares of light that meets a face, by polarisation. What is neither reflected nor let through is absorbed. */
export interface FaceCurve {
  /** Where along the curve: wavelengths in nm, or angles of incidence in degrees. */
  readonly at: readonly number[];
  readonly rs: readonly number[];
  readonly rp: readonly number[];
  readonly ts: readonly number[];
  readonly tp: readonly number[];
}

/** The media at a face, by their index at a wavelength in nm. */
export interface FaceMedia {
  readonly front: (nm: number) => number;
  readonly behind: (nm: number) => number;
  readonly films: FilmMedia;
}

function curve(at: readonly number[], sharesAt: (value: number, out: FaceShares) => void): FaceCurve {
  const out: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
  const found = at.map((value) => {
    sharesAt(value, out);
    return { ...out };
  });
  const of = (key: keyof FaceShares) => found.map((shares) => shares[key]);
  return { at, rs: of('rs'), rp: of('rp'), ts: of('ts'), tp: of('tp') };
}

/**
 * Shares over the wavelength at an angle of incidence, for light from the front.
 *
 * @param degrees - in front, from 0 to below 90
 * @param nms - nm
 */
export function sharesOverWavelength(
  optics: FaceOptics,
  { front, behind, films }: FaceMedia,
  degrees: number,
  nms: readonly number[],
): FaceCurve {
  const cosine = Math.cos((degrees * Math.PI) / 180);
  return curve(nms, (nm, out) => compileOptics(optics, nm, films).shares(front(nm), behind(nm), cosine, false, out));
}

/** Shares over the angle of incidence, in degrees, at a wavelength. */
export function sharesOverAngle(
  optics: FaceOptics,
  { front, behind, films }: FaceMedia,
  nm: number,
  degrees: readonly number[],
): FaceCurve {
  const { shares } = compileOptics(optics, nm, films);
  const [n1, n2] = [front(nm), behind(nm)];
  return curve(degrees, (angle, out) => shares(n1, n2, Math.cos((angle * Math.PI) / 180), false, out));
}
