import { defineArea, size, type AreaPlace } from './area.ts';

export interface SpiderRecord extends AreaPlace {
  readonly kind: 'spider';
  readonly arms: number;
  readonly width: number;
}

export const spider = defineArea<SpiderRecord>({
  kind: 'spider',
  title: 'Spider',
  meaning: 'Straight arms of one width from the centre outwards, evenly spaced; the first points along +y.',
  parameters: [
    {
      id: 'arms',
      title: 'Arms',
      meaning: 'How many arms hold what is in the middle.',
      unit: '',
      kind: 'number',
      min: 1,
      transform: 'value',
    },
    size('width', 'Width of an arm', 'Across one arm.'),
  ],
  compile({ arms, width }) {
    const count = Math.max(1, Math.round(arms));
    const ways = Array.from({ length: count }, (_, i) => {
      const angle = (2 * Math.PI * i) / count;
      return [-Math.sin(angle), Math.cos(angle)] as const;
    });
    return {
      contains: (x, y) => ways.some(([ux, uy]) => x * ux + y * uy >= 0 && Math.abs(x * uy - y * ux) <= width / 2),
      reach: Infinity,
      mirrorX: true,
    };
  },
});
