import type { DotPanel } from '@ulvex/core';
import { svgText } from '../svg-text.ts';
import { colourOf, type PanelStyle } from './panel-option.ts';

export interface DotsSvgStyle extends PanelStyle {
  readonly ground: string;
}

const SIDE = 240;
const GAP = 16;
const CAPTION = 26;

/** A picture of dots with the lines that stand below it. */
export interface NamedDots {
  readonly panel: DotPanel;
  readonly name: string;
  readonly figures: string;
}

/** Pictures of dots as an SVG document: one box each to its own range, outlines over the dots, name and figures below. */
export function dotsSvg(pictures: readonly NamedDots[], columns: number, style: DotsSvgStyle): string {
  const width = GAP + columns * (SIDE + GAP);
  const height = GAP + Math.ceil(pictures.length / columns) * (SIDE + CAPTION + GAP);
  const boxes = pictures.map(({ panel, name, figures }, i) => {
    const left = GAP + (i % columns) * (SIDE + GAP);
    const top = GAP + Math.floor(i / columns) * (SIDE + CAPTION + GAP);
    return `<g transform="translate(${left} ${top})"><svg width="${SIDE}" height="${SIDE}" overflow="hidden">${dots(panel, style)}</svg>
<rect width="${SIDE}" height="${SIDE}" fill="none" stroke="${style.grid}"/>
<text y="${SIDE + 18}" fill="${style.muted}">${svgText(name)}</text>
<text x="${SIDE}" y="${SIDE + 18}" text-anchor="end" fill="${style.ink}" font-weight="600">${svgText(figures)}</text></g>`;
  });
  const size = `width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size} font-family="IBM Plex Sans, sans-serif" font-size="13">
<rect width="100%" height="100%" fill="${style.ground}"/>${boxes.join('')}</svg>`;
}

function dots({ groups, outlines, x: across }: DotPanel, style: DotsSvgStyle): string {
  const half = across.range?.[1] ?? 1;
  const scale = SIDE / 2 / half;
  const place = (x: number, y: number) => [SIDE / 2 + x * scale, SIDE / 2 - y * scale] as const;
  const squares = groups.map(({ tint, x, y }) => {
    const d = x.map((value, k) => {
      const [px, py] = place(value, y[k]).map((part) => (part - 0.9).toFixed(2));
      return `M${px} ${py}h1.8v1.8h-1.8z`;
    });
    return `<path d="${d.join('')}" fill="${colourOf(tint, style)}"/>`;
  });
  const lines = outlines.map(({ x, y }) => {
    const points = x.map((value, k) =>
      place(value, y[k])
        .map((part) => part.toFixed(2))
        .join(' '),
    );
    return `<path d="M${points.join('L')}" fill="none" stroke="${style.ink}"/>`;
  });
  return [...squares, ...lines].join('');
}
