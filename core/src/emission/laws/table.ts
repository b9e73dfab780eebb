import { radians } from '../../math/length-specs.ts';
import { byCosine, defineLaw } from './law.ts';

/** Intensity by the angle to the axis, straight between its entries. */
export interface IntensityTable {
  readonly kind: 'table';
  readonly degrees: readonly number[];
  readonly intensity: readonly number[];
}

const STEPS = 2048;

/** Drawn by intensity × sin θ, from its integral in small steps. */
export const table = defineLaw<IntensityTable>({
  kind: 'table',
  title: 'Table by angle',
  meaning: 'Intensity by the angle to the axis, straight between its entries.',
  parameters: [],
  table: {
    columns: [
      { id: 'degrees', title: 'Angle', unit: '°', min: 0, most: 180, rises: true },
      { id: 'intensity', title: 'Intensity', unit: '', min: 0 },
    ],
    least: 2,
  },
  first: { kind: 'table', degrees: [0, 30, 60, 90], intensity: [1, 0.9, 0.4, 0] },
  compile({ degrees, intensity }) {
    const last = degrees.length - 1;
    const from = Math.cos(radians(degrees[0]));
    const to = Math.cos(radians(degrees[last]));
    const at = (theta: number) => {
      let i = 1;
      while (i < last && degrees[i] < theta) i++;
      const part = (theta - degrees[i - 1]) / (degrees[i] - degrees[i - 1]);
      return intensity[i - 1] + part * (intensity[i] - intensity[i - 1]);
    };
    const below = new Float64Array(STEPS + 1);
    for (let i = 1; i <= STEPS; i++) {
      const cosine = from + ((to - from) * (i - 0.5)) / STEPS;
      below[i] = below[i - 1] + at((Math.acos(cosine) * 180) / Math.PI);
    }
    const drawn = (u: number) => {
      const wanted = u * below[STEPS];
      let [low, high] = [0, STEPS];
      while (high - low > 1) {
        const middle = (low + high) >> 1;
        if (below[middle] <= wanted) low = middle;
        else high = middle;
      }
      const span = below[high] - below[low];
      return from + ((to - from) * (low + (span > 0 ? (wanted - below[low]) / span : 0))) / STEPS;
    };
    const solid = 2 * Math.PI * (from - to);
    return byCosine(drawn, (cosine) => {
      const step = Math.floor(((from - cosine) / (from - to)) * STEPS);
      if (step < 0 || step >= STEPS) return 0;
      return ((below[step + 1] - below[step]) / below[STEPS]) * (STEPS / solid);
    });
  },
});
