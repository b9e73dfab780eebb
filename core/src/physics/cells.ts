/// <reference path="./numbers.d.ts" />
/** Places on the maps of detectors. TypeScript and AssemblyScript both compile this file: the place of the last call stands in variables. */

/** Kinds of map: plain, the unrolled wall of a cylinder, azimuth and elevation on a ball. */
export const MAP_FLAT: i32 = 0;
export const MAP_CYLINDER: i32 = 1;
export const MAP_SPHERE: i32 = 2;

export let mapX: f64 = 0;
export let mapY: f64 = 0;

/**
 * Writes where a place of a face stands on its map: x and y of a flat one, mm; the way round and along a cylinder, mm; azimuth atan2(x, z)
 * and elevation asin(y/r) on a ball, degrees. A direction is a place on a ball of radius 1.
 */
export function placeOnMap(kind: i32, radius: f64, x: f64, y: f64, z: f64): void {
  if (kind === MAP_FLAT) {
    mapX = x;
    mapY = y;
  } else if (kind === MAP_CYLINDER) {
    mapX = radius * Math.atan2(y, x);
    mapY = z;
  } else {
    const degrees = 180 / Math.PI;
    mapX = Math.atan2(x, z) * degrees;
    mapY = Math.asin(Math.min(1, Math.max(-1, y / radius))) * degrees;
  }
}

/** Index of the cell that holds a place; −1 beside the map. `across` and `up` are cells a unit of x and y. */
export function cellAt(x: f64, y: f64, left: f64, low: f64, across: f64, up: f64, columns: i32, rows: i32): i32 {
  const column = Math.floor((x - left) * across);
  const row = Math.floor((y - low) * up);
  if (!(column >= 0 && column < columns && row >= 0 && row < rows)) return -1;
  return asIndex(row) * columns + asIndex(column);
}

function asIndex(value: f64): i32 {
  return value as i32;
}
