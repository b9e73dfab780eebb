import { success } from '../math/outcome.ts';
import { defineMeasure } from './measure.ts';

export const totalLength = defineMeasure({
  id: 'total_length',
  title: 'Total length',
  unit: 'mm',
  meaning:
    'From the first vertex to the image surface along z; the extent of all vertices where mirrors fold the light back.',
  settings: {},
  evaluate(lens) {
    const zs = lens.model.surfaces.map((surface) => surface.pose.shift[2]);
    return success({ value: Math.max(...zs) - Math.min(...zs) });
  },
});
