import type { RayBlock } from '../../compute/ray-block.ts';
import type { Lens } from '../../project/model.ts';

/** Whether the image lies at infinity, so that places in it are angles. */
export function isAfocal(lens: Lens): boolean {
  return lens.imageSpace === 'afocal';
}

/** Unit of small lengths in the image: µm, or mrad where it lies at infinity. */
export function imageUnit(lens: Lens): 'µm' | 'mrad' {
  return isAfocal(lens) ? 'mrad' : 'µm';
}

/**
 * Puts angles in the place of x and y: θx = atan(L/N), θy = atan(M/N) in radians, as field angles are meant. A thousandth of the unit
 * of places is then a mrad, as it is a µm elsewhere.
 */
export function toAngles({ x, y, l, m, n, capacity }: RayBlock): void {
  for (let i = 0; i < capacity; i++) {
    x[i] = Math.atan(l[i] / n[i]);
    y[i] = Math.atan(m[i] / n[i]);
  }
}
