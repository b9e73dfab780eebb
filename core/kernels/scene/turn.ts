/** One step of a ray, as `SceneTracer` has it. */
import {
  MARK_FRESH, MISHAP_LEAK, SOLID_ABSORBED, SOLID_ASYMMETRY, SOLID_SCATTERING, SOLID_SIZE,
} from '../../src/scene/kernel-layout.ts';
import { drawTurned } from '../../src/physics/directions.ts';
import { freePath, volumeCosine } from '../../src/physics/scatter-laws.ts';
import { BEST, EVENTS, FIRST, FLUX, FRESH, HIT, innermost, L, M, N, SOURCE, WAVE, X, Y, Z } from './block';
import { byWave } from './bodies';
import { countFar } from './count';
import { meetFace } from './event';
import { BY_LOT, CUT_OFF, ESCAPED, IN_BODIES, ledger, warn } from './ledger';
import { uniform } from './random';
import { absorption, depositForeign, met, mostEvents, PLACE, solids, split, threshold, volumes } from './state';
import { aim } from './waiting';

/** One step of a ray whose nearest face is known; false where it ends. */
export function step(ray: usize): bool {
  const face = load<i32>(ray, HIT);
  const far = load<f64>(ray, BEST);
  const wave = load<i32>(ray, WAVE);
  const solid = innermost(ray);
  let flux = load<f64>(ray, FLUX);
  let way = face < 0 ? Infinity : Math.max(0, far);
  let scattered = false;
  if (solid >= 0) {
    const scattering = load<f64>(solids + usize(solid) * SOLID_SIZE, SOLID_SCATTERING);
    if (scattering > 0) {
      const free = freePath(scattering, uniform(ray));
      scattered = free < way;
      if (scattered) way = free;
    }
  }
  const marks = load<i32>(ray, FRESH);
  if ((marks & MARK_FRESH) != 0) {
    store<i32>(ray, marks & ~MARK_FRESH, FRESH);
    if (scattered || face >= 0) {
      const place = met + 8 * usize(load<i32>(ray, SOURCE));
      store<f64>(place, load<f64>(place) + 1);
    }
  }
  const loss = byWave(absorption, solid, wave);
  if (loss > 0 && way < Infinity) {
    const left = flux * Math.exp(-loss * way);
    ledger(IN_BODIES, flux - left);
    if (solid >= 0) {
      const place = solids + usize(solid) * SOLID_SIZE + SOLID_ABSORBED;
      store<f64>(place, load<f64>(place) + (flux - left));
    }
    if (volumes) {
      store<f64>(PLACE, load<f64>(ray, X));
      store<f64>(PLACE, load<f64>(ray, Y), 8);
      store<f64>(PLACE, load<f64>(ray, Z), 16);
      store<f64>(PLACE, load<f64>(ray, L), 24);
      store<f64>(PLACE, load<f64>(ray, M), 32);
      store<f64>(PLACE, load<f64>(ray, N), 40);
      depositForeign(way, flux, loss, load<i32>(ray, SOURCE), wave);
    }
    flux = left;
    store<f64>(ray, flux, FLUX);
  }
  let alive = true;
  if (scattered) {
    move(ray, way);
    diffuse(ray, solid);
    store<i32>(ray, load<i32>(ray, EVENTS) + 1, EVENTS);
  } else if (face < 0) {
    ledger(ESCAPED, flux);
    if (solid >= 0) warn(MISHAP_LEAK, solid, -1, ray);
    countFar(ray, flux);
    return false;
  } else {
    move(ray, far);
    alive = meetFace(ray, face, wave);
  }
  return alive && goOn(ray);
}

/** Whether a ray that had its step is worth another: of too many events, or too weak, it ends here (or by lot). */
export function goOn(ray: usize): bool {
  const flux = load<f64>(ray, FLUX);
  if (load<i32>(ray, EVENTS) >= mostEvents) {
    ledger(CUT_OFF, flux);
    return false;
  }
  const least = threshold * load<f64>(ray, FIRST);
  if (flux < least) {
    if (split) {
      ledger(CUT_OFF, flux);
      return false;
    }
    // Ended by lot, or strengthened so that nothing changes on the whole.
    if (uniform(ray) < flux / least) {
      ledger(BY_LOT, flux - least);
      store<f64>(ray, least, FLUX);
    } else {
      ledger(BY_LOT, flux);
      return false;
    }
  }
  return true;
}

// @ts-ignore: decorator
@inline
function move(ray: usize, way: f64): void {
  store<f64>(ray, load<f64>(ray, X) + way * load<f64>(ray, L), X);
  store<f64>(ray, load<f64>(ray, Y) + way * load<f64>(ray, M), Y);
  store<f64>(ray, load<f64>(ray, Z) + way * load<f64>(ray, N), Z);
}

/** Scattering in a body, after Henyey and Greenstein. */
function diffuse(ray: usize, solid: i32): void {
  const g = load<f64>(solids + usize(solid) * SOLID_SIZE, SOLID_ASYMMETRY);
  const cosine = volumeCosine(g, uniform(ray));
  drawTurned(load<f64>(ray, L), load<f64>(ray, M), load<f64>(ray, N), cosine, uniform(ray));
  aim(ray);
}
