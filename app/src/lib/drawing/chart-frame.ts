import { niceStep } from '../format.ts';

/** Where a drawing in mm lies in a picture in pixels, the same scale both ways, with a graduated frame around it. */
export interface ChartFrame {
  /** Pixels per mm. */
  readonly scale: number;
  /** The inside of the frame in pixels. */
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** Model coordinates at the left edge and at the bottom edge. */
  readonly z0: number;
  readonly y0: number;
  /** Length of one block of the frame, mm. */
  readonly step: number;
  x(z: number): number;
  y(y: number): number;
}

/** A part of the model, mm. */
export interface Span {
  readonly z: readonly [number, number];
  readonly y: readonly [number, number];
}

const FRAME = 12;
const BOTTOM = 26;
const MARGIN = 0.06;

/**
 * Fits a span of the model into a picture of `width` × `height` pixels, centred.
 *
 * @param margin - share of the picture that stays free; 0 for a view that was zoomed
 */
export function fitFrame(bounds: Span, width: number, height: number, margin = MARGIN): ChartFrame {
  const inner = { width: Math.max(40, width - 2 * FRAME), height: Math.max(40, height - FRAME - BOTTOM) };
  const spanZ = Math.max(bounds.z[1] - bounds.z[0], 1e-6);
  const spanY = Math.max(bounds.y[1] - bounds.y[0], 1e-6);
  const scale = Math.min((inner.width * (1 - margin)) / spanZ, (inner.height * (1 - 2.5 * margin)) / spanY);
  const z0 = (bounds.z[0] + bounds.z[1]) / 2 - inner.width / scale / 2;
  const y0 = (bounds.y[0] + bounds.y[1]) / 2 - inner.height / scale / 2;
  const bottom = FRAME + inner.height;
  return {
    scale,
    left: FRAME,
    top: FRAME,
    width: inner.width,
    height: inner.height,
    z0,
    y0,
    step: niceStep(inner.width / scale, Math.max(3, inner.width / 60)),
    x: (z) => FRAME + (z - z0) * scale,
    y: (y) => bottom - (y - y0) * scale,
  };
}

/** What a frame shows, mm. */
export function shownSpan({ z0, y0, width, height, scale }: ChartFrame): Span {
  return { z: [z0, z0 + width / scale], y: [y0, y0 + height / scale] };
}

/** A span zoomed by a factor about a point that stays where it is. */
export function zoomed({ z, y }: Span, factor: number, atZ: number, atY: number): Span {
  const about = ([from, to]: readonly [number, number], at: number) =>
    [at + (from - at) / factor, at + (to - at) / factor] as const;
  return { z: about(z, atZ), y: about(y, atY) };
}

/** A span shifted by mm. */
export function panned({ z, y }: Span, dz: number, dy: number): Span {
  return { z: [z[0] + dz, z[1] + dz], y: [y[0] + dy, y[1] + dy] };
}

/** A block of the graduated edge: pixels along it, and whether it is a filled one. */
export interface Block {
  readonly from: number;
  readonly to: number;
  readonly filled: boolean;
}

/** Alternating blocks of one step from `start` (mm) over `length` pixels; filled where the count from 0 is odd. */
export function blocks(start: number, length: number, { scale, step }: Pick<ChartFrame, 'scale' | 'step'>): Block[] {
  const result: Block[] = [];
  for (let k = Math.floor(start / step); ; k++) {
    const from = (k * step - start) * scale;
    if (from >= length) return result;
    const to = Math.min(length, from + step * scale);
    if (to > 0) result.push({ from: Math.max(0, from), to, filled: k % 2 !== 0 });
  }
}

/** Graduations in mm within `length` pixels from `start`, at whole steps. */
export function graduations(
  start: number,
  length: number,
  { scale, step }: Pick<ChartFrame, 'scale' | 'step'>,
): number[] {
  const end = start + length / scale;
  const marks: number[] = [];
  for (let k = Math.ceil(start / step); k * step <= end; k++) marks.push(k * step);
  return marks;
}
