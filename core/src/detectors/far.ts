import { degrees } from '../math/length-specs.ts';
import { ballMap } from './cells.ts';
import { definePlace } from './place.ts';

/** All light that leaves the scene, by direction: degrees to both sides of the z axis of its frame. */
export interface FarPlace {
  readonly kind: 'far';
  readonly halfX: number;
  readonly halfY: number;
}

export const far = definePlace<FarPlace>({
  kind: 'far',
  title: 'far away (by direction)',
  meaning: 'All light that leaves the scene, by direction.',
  first: { kind: 'far', halfX: 30, halfY: 30 },
  parameters: [
    degrees('halfX', 'Half-width', 'To both sides in azimuth.', 180),
    degrees('halfY', 'Half-height', 'To both sides in elevation.', 90),
  ],
  map: ({ halfX, halfY }, columns, rows) => ballMap({ kind: 'directions' }, halfX, halfY, columns, rows),
  outline: () => [],
});
