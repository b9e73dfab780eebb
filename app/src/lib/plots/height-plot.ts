/** A map seen as a landscape: lines of cells from back to front, each hiding what lies after it. */
import { placeOn, type Scale } from './light-map.ts';

/** Most lines and places along each that are drawn. */
const MOST = 72;

export interface HeightLine {
  /** The line closed at its foot, to be filled, and the line alone, in px. */
  readonly area: string;
  readonly line: string;
  /** Mean place of its values on the scale, 0 to 1. */
  readonly level: number;
}

/**
 * Lines of a map as a landscape in a frame, the row of the largest y at the back.
 *
 * @param skew - how far the back is shifted to the right and upward, as shares of the frame
 */
export function heightLines(
  values: ArrayLike<number>,
  columns: number,
  rows: number,
  scale: Scale,
  { width, height }: { readonly width: number; readonly height: number },
  skew = { x: 0.28, y: 0.42 },
): HeightLine[] {
  const across = Math.min(columns, MOST);
  const deep = Math.min(rows, MOST);
  // Of the cells that fall on one place the largest counts: no peak is lost.
  const merged = new Float64Array(across * deep).fill(NaN);
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const value = values[row * columns + column];
      if (Number.isNaN(value)) continue;
      const at = Math.floor((row * deep) / rows) * across + Math.floor((column * across) / columns);
      const share = placeOn(scale, value);
      if (!(merged[at] >= share)) merged[at] = share;
    }
  const span = width * (1 - skew.x);
  const rise = height * (1 - skew.y);
  const lines: HeightLine[] = [];
  for (let k = deep - 1; k >= 0; k--) {
    const back = deep > 1 ? k / (deep - 1) : 0;
    const left = back * skew.x * width;
    const foot = height - back * skew.y * height;
    let [line, area, sum, count] = ['', '', 0, 0];
    let start: string | null = null;
    let end = '';
    // Where there is no value the land ends: it has no cliffs there.
    const close = () => {
      if (start !== null) area += `L${end} ${foot.toFixed(1)}L${start} ${foot.toFixed(1)}Z`;
      start = null;
    };
    for (let i = 0; i < across; i++) {
      const share = merged[k * across + i];
      if (Number.isNaN(share)) {
        close();
        continue;
      }
      sum += share;
      count++;
      end = (left + (across > 1 ? i / (across - 1) : 0.5) * span).toFixed(1);
      const point = `${start === null ? 'M' : 'L'}${end} ${(foot - share * rise).toFixed(1)}`;
      start ??= end;
      line += point;
      area += point;
    }
    close();
    if (count > 0) lines.push({ area, line, level: sum / count });
  }
  return lines;
}
