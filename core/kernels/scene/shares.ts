/** Shares of the flux that faces reflect and let through, of unpolarised light. */
import {
  FINISH_ANGLES, FINISH_BARE, FINISH_COUNT, FINISH_FILMS, FINISH_FIRST, FINISH_FIXED, FINISH_KIND, FINISH_METAL, FINISH_SECOND,
  FINISH_TABLES, TABLE_BEFORE, TABLE_BEHIND, TABLE_COUNT, TABLE_LIST, TABLE_OUTWARD, TABLE_SIZE, TABLE_TOTAL_COUNT,
  TABLE_TOTAL_LIST,
} from '../../src/scene/kernel-layout.ts';
import { bareFace, fixedFace, metalFace, reflectedShare, throughShare } from '../../src/physics/fresnel.ts';
import { between, coatedPlace, cubic } from '../../src/physics/tables.ts';
import { RETURNED, sharesForeign } from './state';

export let reflected: f64 = 0;
export let through: f64 = 0;

export function noShares(): void {
  reflected = 0;
  through = 0;
}

/** Finds what face i shares out, at an incidence from a medium of index n1 to one of index n2. */
export function findShares(optics: usize, i: i32, wave: i32, n1: f64, n2: f64, cosine: f64, outward: bool): void {
  const kind = load<i32>(optics, FINISH_KIND);
  if (kind == FINISH_BARE) bareFace(n1, n2, cosine);
  else if (kind == FINISH_FIXED) {
    fixedFace(load<f64>(optics, FINISH_FIRST), load<f64>(optics, FINISH_SECOND), n1, n2, cosine);
  } else if (kind == FINISH_METAL) metalFace(n1, load<f64>(optics, FINISH_FIRST), load<f64>(optics, FINISH_SECOND), cosine);
  else if (kind == FINISH_ANGLES) angles(optics, n1, n2, cosine);
  else {
    if (kind == FINISH_FILMS && films(optics, n1, n2, cosine, outward)) return;
    sharesForeign(i, wave, n1, n2, cosine, outward);
    reflected = load<f64>(RETURNED);
    through = load<f64>(RETURNED, 8);
    return;
  }
  reflected = reflectedShare();
  through = throughShare();
}

/** Reads a table of films: see `share-table.ts`. False where there is none for these media. */
function films(optics: usize, n1: f64, n2: f64, cosine: f64, outward: bool): bool {
  const count = load<i32>(optics, FINISH_COUNT);
  let table: usize = load<u32>(optics, FINISH_TABLES);
  for (let k = 0; k < count; k++, table += TABLE_SIZE) {
    if (load<f64>(table, TABLE_BEFORE) != n1 || load<f64>(table, TABLE_BEHIND) != n2) continue;
    if ((load<i32>(table, TABLE_OUTWARD) != 0) != outward) continue;
    const place = coatedPlace(n1, n2, cosine);
    if (place < -0.5) {
      reflected = read(usize(load<u32>(table, TABLE_TOTAL_LIST)), load<i32>(table, TABLE_TOTAL_COUNT), -1 - place, 0);
      through = 0;
    } else {
      const list: usize = load<u32>(table, TABLE_LIST);
      const steps = load<i32>(table, TABLE_COUNT);
      reflected = read(list, steps, place, 0);
      through = read(list, steps, place, 8);
    }
    return true;
  }
  return false;
}

// @ts-ignore: decorator
@inline
function read(list: usize, steps: i32, place: f64, which: usize): f64 {
  const at = place * f64(steps);
  const i = min(steps - 3, max(0, i32(Math.floor(at)) - 1));
  const from = list + 16 * usize(i) + which;
  return cubic(load<f64>(from), load<f64>(from, 16), load<f64>(from, 32), load<f64>(from, 48), at - f64(i));
}

/** Reads a table over degrees: all of them, then shares reflected, then shares let through. */
function angles(optics: usize, n1: f64, n2: f64, cosine: f64): void {
  const last = load<i32>(optics, FINISH_COUNT) - 1;
  const list: usize = load<u32>(optics, FINISH_TABLES);
  const degrees = (Math.acos(Math.min(1, cosine)) * 180) / Math.PI;
  const row = 8 * usize(last + 1);
  let low = 0;
  let part: f64 = 0;
  if (degrees >= load<f64>(list + 8 * usize(last))) low = last;
  else if (last > 0 && degrees > load<f64>(list)) {
    let high = last;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (load<f64>(list + 8 * usize(middle)) < degrees) low = middle;
      else high = middle;
    }
    const from = load<f64>(list + 8 * usize(low));
    part = (degrees - from) / (load<f64>(list + 8 * usize(high)) - from);
  }
  const r = list + row + 8 * usize(low);
  const t = r + row;
  const reflectance = part == 0 ? load<f64>(r) : between(load<f64>(r), load<f64>(r, 8), part);
  const transmittance = part == 0 ? load<f64>(t) : between(load<f64>(t), load<f64>(t, 8), part);
  fixedFace(reflectance, transmittance, n1, n2, cosine);
}
