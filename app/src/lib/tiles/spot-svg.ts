import type { SpotDiagram } from '@ulvex/core';
import { svgText } from '../svg-text.ts';

export interface SpotSvgStyle {
  readonly ground: string;
  readonly ink: string;
  readonly muted: string;
  readonly line: string;
  /** CSS colour of a wavelength. */
  readonly wave: (nm: number) => string;
}

const SIDE = 240;
const GAP = 16;

/**
 * The spot diagram as an SVG document: one box a field to a common scale, the Airy ring, RMS figures, and a line that says
 * how it was made.
 *
 * @param half - half the side of a box, µm
 * @param labels - what fields are called, by id
 */
export function spotSvg(
  diagram: SpotDiagram,
  half: number,
  labels: ReadonlyMap<string, string>,
  about: string,
  style: SpotSvgStyle,
): string {
  const count = diagram.pictures.length;
  const width = GAP + count * (SIDE + GAP);
  const height = SIDE + 74;
  const scale = SIDE / 2 / half;
  const boxes = diagram.pictures.map(({ field, spot }, i) => {
    const left = GAP + i * (SIDE + GAP);
    const middle = SIDE / 2;
    const dots = !spot.ok
      ? `<text x="8" y="20" fill="${style.ink}">${svgText(spot.reason)}</text>`
      : spot.value.colours
          .map(({ nm, x, y }) => {
            const d = Array.from(x, (value, k) => {
              const at = [middle + value * scale - 0.9, middle - y[k] * scale - 0.9].map((part) => part.toFixed(2));
              return `M${at[0]} ${at[1]}h1.8v1.8h-1.8z`;
            }).join('');
            return `<path d="${d}" fill="${style.wave(nm)}"/>`;
          })
          .join('');
    const ring = spot.ok ? spot.value.airy : null;
    const airy = ring
      ? `<ellipse cx="${middle}" cy="${middle}" rx="${(ring[0] * scale).toFixed(2)}" ry="${(ring[1] * scale).toFixed(2)}" ` +
        `fill="none" stroke="${style.ink}"/>`
      : '';
    const rms = spot.ok ? `RMS ${spot.value.rms.toPrecision(4)} ${diagram.unit}` : '';
    return `<g transform="translate(${left} ${GAP})"><svg width="${SIDE}" height="${SIDE}" overflow="hidden">${dots}${airy}</svg>
<rect width="${SIDE}" height="${SIDE}" fill="none" stroke="${style.line}"/>
<text y="${SIDE + 18}" fill="${style.muted}">${svgText(labels.get(field) ?? field)}</text>
<text x="${SIDE}" y="${SIDE + 18}" text-anchor="end" fill="${style.ink}" font-weight="600">${rms}</text></g>`;
  });
  const size = `width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size} font-family="IBM Plex Sans, sans-serif" font-size="13">
<rect width="100%" height="100%" fill="${style.ground}"/>${boxes.join('')}
<text x="${GAP}" y="${height - 14}" fill="${style.muted}" font-size="11">${svgText(about)}</text></svg>`;
}
