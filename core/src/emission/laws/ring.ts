import { degrees, radians } from '../../math/length-specs.ts';
import { byCosine, defineLaw } from './law.ts';

/** Equal intensity between two angles to the axis: a hollow cone, or a belt where both are about 90°. */
export interface RingLaw {
  readonly kind: 'ring';
  readonly from: number;
  readonly to: number;
}

export const ring = defineLaw<RingLaw>({
  kind: 'ring',
  title: 'Hollow cone',
  meaning: 'Equal intensity between two angles to the axis: of lamps that shine sideways.',
  parameters: [
    degrees('from', 'From angle', 'To the axis; nothing within it.', 179.9, { min: 0 }),
    degrees('to', 'To angle', 'To the axis; nothing outside it.', 180),
  ],
  first: { kind: 'ring', from: 60, to: 80 },
  compile({ from, to }) {
    // The order of the two does not matter.
    const [high, low] = [Math.cos(radians(Math.min(from, to))), Math.cos(radians(Math.max(from, to)))];
    const depth = high - low;
    return byCosine(
      (u) => high - u * depth,
      (cosine) => (cosine <= high && cosine > low ? 1 / (2 * Math.PI * depth) : 0),
      { parallel: depth === 0 },
    );
  },
});
