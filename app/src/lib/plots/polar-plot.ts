/** Cuts through a map of directions as curves of intensity by angle. */
import type { Cell, Scale } from './light-map.ts';
import { placeOn } from './light-map.ts';

export interface PolarCut {
  readonly title: string;
  /** In px about the middle of the diagram, 0° upward. */
  readonly path: string;
}

/**
 * The cut of equal elevation and that of equal azimuth through a cell, in a diagram of a radius.
 *
 * Angles are those of the map, positive ones to the right of 0°, so that both cuts fit one picture of up to ±180°.
 */
export function polarCuts(
  values: ArrayLike<number>,
  columns: number,
  rows: number,
  range: { readonly x: readonly [number, number]; readonly y: readonly [number, number] },
  scale: Scale,
  at: Cell,
  radius: number,
): readonly PolarCut[] {
  const curve = (count: number, [from, to]: readonly [number, number], value: (i: number) => number): string => {
    let path = '';
    for (let i = 0; i < count; i++) {
      const angle = ((from + ((i + 0.5) / count) * (to - from)) * Math.PI) / 180;
      const r = radius * placeOn(scale, value(i));
      path += `${i === 0 ? 'M' : 'L'}${(r * Math.sin(angle)).toFixed(1)} ${(-r * Math.cos(angle)).toFixed(1)}`;
    }
    return path;
  };
  return [
    { title: 'azimuth', path: curve(columns, range.x, (i) => values[at.row * columns + i]) },
    { title: 'elevation', path: curve(rows, range.y, (i) => values[i * columns + at.column]) },
  ];
}
