import { RAY_STATUS, type Section, type SectionRay, type SectionSurface } from '@ulvex/core';
import type { ChartFrame } from './chart-frame.ts';

/** To hundredths of a pixel; much faster than `toFixed`, and a drawing that follows the hand has thousands of them. */
const hundredths = (pixels: number) => Math.round(pixels * 100) / 100;

/** z, y, z, y … in mm as an SVG path in a frame. */
export function planePath(points: Float64Array, frame: Pick<ChartFrame, 'x' | 'y'>): string {
  let d = '';
  for (let i = 0; i < points.length; i += 2) {
    d += `${i === 0 ? 'M' : 'L'}${hundredths(frame.x(points[i]))} ${hundredths(frame.y(points[i + 1]))}`;
  }
  return d;
}

/** The rays that arrive as one SVG path a field, in the order in which fields come first. */
export function rayBundles(
  rays: readonly SectionRay[],
  frame: Pick<ChartFrame, 'x' | 'y'>,
): { field: string; d: string }[] {
  const byField = new Map<string, string>();
  for (const { field, status, points } of rays)
    if (status === RAY_STATUS.alive) byField.set(field, (byField.get(field) ?? '') + planePath(points, frame));
  return [...byField].map(([field, d]) => ({ field, d }));
}

/** The sign for a stretch that is left out: two waves across the axis, at a point in pixels. */
export function breakMark(x: number, y: number): string {
  const wave = (at: number) => `M${at} ${y - 11}q4 5.5 0 11q-4 5.5 0 11`;
  return wave(x - 2) + wave(x + 3);
}

/** One half of a stop: from its edge outwards. */
export function stopBlade(line: Float64Array, semi: number, sign: 1 | -1, frame: ChartFrame): string {
  const at = sign > 0 ? line.length - 2 : 0;
  const [z, y] = [line[at], line[at + 1]];
  const out = y + sign * bladeLength(semi, frame);
  return `M${frame.x(z)} ${frame.y(y)}L${frame.x(z)} ${frame.y(out)}`;
}

/** How far the blades of a stop are drawn beyond its edge, mm: in proportion, but never too short to be seen. */
export function bladeLength(semi: number, { scale }: Pick<ChartFrame, 'scale'>): number {
  return Math.max(0.35 * semi, 6 / scale);
}

/** Names over bodies, in pixels; those of cemented ones stand together as `L3·L4`. */
/** About half of the width of a name in the drawing, px. */
const NAME_HALF = 14;

export function bodyNames(section: Section, frame: ChartFrame): { text: string; x: number; y: number }[] {
  const groups: { text: string; x: number; y: number }[] = [];
  let previousBack: string | undefined;
  for (const { front, name, outline } of section.elements) {
    let [from, to, top] = [Infinity, -Infinity, -Infinity];
    for (let i = 0; i < outline.length; i += 2) {
      from = Math.min(from, outline[i]);
      to = Math.max(to, outline[i]);
      top = Math.max(top, outline[i + 1]);
    }
    const at = { text: name, x: frame.x((from + to) / 2), y: frame.y(top) - 7 };
    const last = groups.at(-1);
    if (previousBack === front && last) {
      last.text = [last.text, name].filter(Boolean).join('·');
      last.x = (last.x + at.x) / 2;
      last.y = Math.min(last.y, at.y);
    } else groups.push(at);
    const index = section.surfaces.findIndex((surface) => surface.id === front);
    previousBack = section.surfaces[index + 1]?.id;
  }
  // The blade of a stop reaches up beside its glass: a name that it would cross stands above it.
  for (const surface of section.surfaces) {
    if (!surface.stop) continue;
    const [z, y] = [surface.line.at(-2)!, surface.line.at(-1)!];
    const top = frame.y(y + bladeLength(surface.semi, frame));
    for (const name of groups) if (Math.abs(name.x - frame.x(z)) < NAME_HALF && name.y > top - 4) name.y = top - 6;
  }
  return groups;
}

/** How far a surface reaches up and down from its vertex in the drawing, mm: its semi-aperture, less where it is tilted. */
export function reachUp({ semi, ownY }: Pick<SectionSurface, 'semi' | 'ownY'>): number {
  return semi * Math.abs(ownY[1]);
}
