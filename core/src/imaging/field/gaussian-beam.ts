import { failure, success, type Outcome } from '../../math/outcome.ts';
import { axisIndices, gapTransfer } from '../../sequence/gap-transfer.ts';
import { surfacePower } from '../../sequence/surface-power.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

/** A Gaussian beam between two surfaces; lengths in mm, radii where the irradiance has fallen to 1/e². */
export interface GaussianBeam {
  /** Radius of the waist, real or not. */
  readonly waist: number;
  /** Where the waist lies, along the light from where the beam is looked at; negative where it has been passed. */
  readonly toWaist: number;
  /** Rayleigh length πnw₀²/(λM²). */
  readonly rayleigh: number;
}

/** The beam of a waist; λ of vacuum in mm, in a medium of an index. */
export function beamOfWaist(waist: number, mm: number, m2 = 1, index = 1, toWaist = 0): GaussianBeam {
  return { waist, toWaist, rayleigh: (Math.PI * index * waist * waist) / (mm * m2) };
}

/**
 * Radius, radius of curvature of the wavefront (positive where it diverges, Infinity in a waist) and Gouy phase at a
 * distance along the light, mm and radians.
 */
export function beamAt(
  { waist, toWaist, rayleigh }: GaussianBeam,
  way: number,
): { readonly radius: number; readonly curvature: number; readonly gouy: number } {
  const z = way - toWaist;
  return {
    radius: waist * Math.hypot(1, z / rayleigh),
    curvature: z === 0 ? Infinity : z * (1 + (rayleigh / z) ** 2),
    gouy: Math.atan(z / rayleigh),
  };
}

/**
 * A beam through a ray-transfer matrix on (y, nu), 1/q̂′ = (C + D/q̂)/(A + B/q̂) with q̂ = q/n: H. Kogelnik and T. Li, Appl. Opt. 5, 1550 (1966).
 * A beam of M² goes as one of λM².
 *
 * @param index - of the media before and behind
 */
export function beamThrough(
  { waist, toWaist, rayleigh }: GaussianBeam,
  { a, b, c, d }: { readonly a: number; readonly b: number; readonly c: number; readonly d: number },
  [before, behind]: readonly [number, number],
): GaussianBeam {
  // q̂ = (z + i zR)/n at the place, z from the waist.
  const [re, im] = [-toWaist / before, rayleigh / before];
  const [numeratorRe, numeratorIm, denominatorRe, denominatorIm] = [a * re + b, a * im, c * re + d, c * im];
  const size = denominatorRe ** 2 + denominatorIm ** 2;
  const q = [
    (numeratorRe * denominatorRe + numeratorIm * denominatorIm) / size,
    (numeratorIm * denominatorRe - numeratorRe * denominatorIm) / size,
  ];
  const length = q[1] * behind;
  // zR = πnw₀²/λM² on both sides, of the same λM².
  const scale = (length * before) / (rayleigh * behind);
  return { waist: waist * Math.sqrt(scale), toWaist: -q[0] * behind, rayleigh: length };
}

/** Share of a beam's power inside of a round hole of radius `hole` about it: 1 − exp(−2a²/w²). */
export const throughHole = (hole: number, radius: number) => 1 - Math.exp(-2 * (hole / radius) ** 2);

/** A beam on its way through a lens. */
export interface BeamStep {
  readonly surface: string;
  /** Radius at the surface. */
  readonly radius: number;
  /** Radius of curvature of the wavefront right after it; positive where it diverges. */
  readonly curvature: number;
  /** Behind the surface: way along the light from it. */
  readonly behind: GaussianBeam;
  /** Place of the vertex along the light, mm from the first; and way to the next vertex. */
  readonly at: number;
  readonly gap: number;
  /** Share of the power inside of the surface's semi-aperture. */
  readonly inside: number;
}

/**
 * A round Gaussian beam along the axis of a lens, paraxial.
 *
 * @param waist - radius of the waist in the object space, mm
 * @param before - how far the waist lies before the first vertex, mm; negative behind it
 */
export function beamThroughLens(
  lens: LensEvaluation,
  wave: number,
  { waist, before, m2 }: { readonly waist: number; readonly before: number; readonly m2: number },
): Outcome<BeamStep[]> {
  const { model } = lens;
  const first = lens.firstOrder(wave);
  if (!first.ok) return first;
  const indices = axisIndices(model, wave);
  const mm = model.wavelengths[wave].nm * 1e-6;
  const extents = lens.extents();
  let beam = beamOfWaist(waist, mm, m2, Math.abs(indices.leave[0]), -before);
  const steps: BeamStep[] = [];
  let at = 0;
  for (let j = 0; j < model.surfaces.length; j++) {
    const surface = model.surfaces[j];
    const { radius } = beamAt(beam, 0);
    const sides = [Math.abs(indices.arrive[j] ?? indices.leave[j]), Math.abs(indices.leave[j + 1])] as const;
    const power = surfacePower(surface, indices.arrive[j], indices.leave[j + 1], mm);
    beam = beamThrough(beam, { a: 1, b: 0, c: -power, d: 1 }, sides);
    if (!(beam.rayleigh > 0)) return failure(`The beam cannot be followed after ${surface.id}.`, surface.id);
    const last = j === model.surfaces.length - 1;
    const gap = last ? 0 : Math.abs(surface.gap) * Math.sign(indices.leave[j + 1] * surface.gap || 1);
    steps.push({
      surface: surface.id,
      radius,
      curvature: beamAt(beam, 0).curvature,
      behind: beam,
      at,
      gap,
      inside: throughHole(extents[j].semi, radius),
    });
    if (last) break;
    const next = Math.abs(indices.arrive[j + 1]);
    beam = beamThrough(beam, gapTransfer(model, indices, wave, j), [sides[1], next]);
    at += gap;
  }
  return success(steps);
}
