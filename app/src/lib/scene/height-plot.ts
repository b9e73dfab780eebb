/** A map seen as a landscape: lines of cells from back to front, each hiding what lies behind it. */
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
  const merged = new Float64Array(across * deep);
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const at = Math.floor((row * deep) / rows) * across + Math.floor((column * across) / columns);
      merged[at] = Math.max(merged[at], placeOn(scale, values[row * columns + column]));
    }
  const span = width * (1 - skew.x);
  const rise = height * (1 - skew.y);
  const lines: HeightLine[] = [];
  for (let k = deep - 1; k >= 0; k--) {
    const back = deep > 1 ? k / (deep - 1) : 0;
    const left = back * skew.x * width;
    const foot = height - back * skew.y * height;
    let line = '';
    let sum = 0;
    for (let i = 0; i < across; i++) {
      const share = merged[k * across + i];
      sum += share;
      const x = left + (across > 1 ? i / (across - 1) : 0.5) * span;
      line += `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${(foot - share * rise).toFixed(1)}`;
    }
    const area = `${line}L${(left + span).toFixed(1)} ${foot.toFixed(1)}L${left.toFixed(1)} ${foot.toFixed(1)}Z`;
    lines.push({ area, line, level: sum / across });
  }
  return lines;
}
