import { defineBody, length } from './body.ts';
import { drawnOut } from './flat.ts';

/** A rod whose section is a regular polygon: what mixes light on its way. */
export interface MixingRod {
  readonly kind: 'mixing_rod';
  readonly sides: number;
  /** Of the circle within the section. */
  readonly radius: number;
  readonly length: number;
}

export const mixingRod = defineBody<MixingRod>({
  kind: 'mixing_rod',
  title: 'Mixing rod',
  meaning:
    'A rod along z from z = 0 on whose section is a regular polygon, wall_1 toward −y. Faces: front, back, wall_1 … counted from +x toward +y.',
  parameters: [
    {
      id: 'sides',
      title: 'Sides',
      meaning: 'Walls of the section: 4 and 6 fill the plane with its images, and mix best.',
      unit: '',
      kind: 'number',
      whole: true,
      min: 3,
      most: 24,
      transform: 'value',
    },
    length('radius', 'Inner radius', 'Of the circle that touches all walls: half the width across flats.'),
    length('length', 'Length', 'Along z.'),
  ],
  first: { kind: 'mixing_rod', sides: 6, radius: 3, length: 30 },
  sketch: 'M2 5l2 -2h14v8h-14l-2 -2z M4 3v8 M2 5h16 M2 9h16',
  solid: true,
  build({ sides, radius, length: z }) {
    const outer = radius / Math.cos(Math.PI / sides);
    const corners = Array.from({ length: sides }, (_, i): [number, number] => {
      const turn = -Math.PI / 2 + ((2 * i - 1) * Math.PI) / sides;
      return [outer * Math.cos(turn), outer * Math.sin(turn)];
    });
    return drawnOut(corners, z, (wall) => `wall_${wall}`);
  },
});
