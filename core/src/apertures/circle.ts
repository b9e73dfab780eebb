import { defineArea, size, type AreaPlace } from './area.ts';

export interface CircleRecord extends AreaPlace {
  readonly kind: 'circle';
  readonly semi: number;
  readonly inner?: number;
}

export const circle = defineArea<CircleRecord>({
  kind: 'circle',
  title: 'Circle',
  meaning: 'A disk, or a ring where an inner radius is given.',
  parameters: [
    size('semi', 'Semi-aperture', 'Clear radius of the surface, measured from its axis; a set one clips.'),
    {
      id: 'inner',
      title: 'Inner radius',
      meaning: 'What lies nearer to the centre is left out; 0 for a whole disk.',
      unit: 'mm',
      kind: 'length',
      min: 0,
      fallback: 0,
      transform: 'value',
    },
  ],
  compile({ semi, inner = 0 }) {
    const [outerSq, innerSq] = [semi * semi, inner * inner];
    return {
      contains(x, y) {
        const radiusSq = x * x + y * y;
        return radiusSq <= outerSq && radiusSq >= innerSq;
      },
      reach: semi,
      mirrorX: true,
      ...(inner === 0 && { circle: semi }),
    };
  },
});
