import { svgText } from './svg-text.ts';

/** What a line, a dash or a colour of a picture stands for. */
export interface LegendEntry {
  readonly name: string;
  readonly colour: string;
  readonly stroke?: 'solid' | 'dashed' | 'dotted';
}

/** What stands around a picture in a report. */
export interface PictureWords {
  readonly title: string;
  /** Project, lens and state. */
  readonly subject: string;
  /** Choices, sampling and limits. */
  readonly about: string;
  readonly legend: readonly LegendEntry[];
  readonly date: string;
}

export interface FrameStyle {
  readonly ink: string;
  readonly muted: string;
  readonly ground: string;
}

const MARGIN = 14;
const SMALL = 11;
const LINE = 15;
/** About how wide a letter of small print is, in its size. */
const LETTER = 0.54;
const DASHES = { solid: '', dashed: ' stroke-dasharray="6 4"', dotted: ' stroke-dasharray="2 3"' } as const;

/** Breaks words into lines of about a width, px. */
export function wrapped(text: string, width: number, size = SMALL): string[] {
  const most = Math.max(12, Math.floor(width / (size * LETTER)));
  const lines: string[] = [];
  for (const word of text.split(' ').filter(Boolean)) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= most) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}

/** Width and height of an SVG document; null if it does not say them. */
export function sizeOf(svg: string): { readonly width: number; readonly height: number } | null {
  const [head] = /<svg[^>]*>/.exec(svg) ?? [];
  const read = (name: string) => Number(head && new RegExp(`\\s${name}="([\\d.]+)(?:px)?"`).exec(head)?.[1]);
  const [width, height] = [read('width'), read('height')];
  if (width > 0 && height > 0) return { width, height };
  const box =
    head &&
    /viewBox="([^"]+)"/
      .exec(head)?.[1]
      .split(/[\s,]+/)
      .map(Number);
  return box && box.length === 4 && box[2] > 0 && box[3] > 0 ? { width: box[2], height: box[3] } : null;
}

/** Entries of a legend in rows that fit a width: x and row of each. */
function laidOut(legend: readonly LegendEntry[], width: number): { x: number; row: number }[] {
  let [x, row] = [0, 0];
  return legend.map(({ name }) => {
    const own = 26 + name.length * SMALL * LETTER + 14;
    if (x > 0 && x + own > width) [x, row] = [0, row + 1];
    const place = { x, row };
    x += own;
    return place;
  });
}

/**
 * A picture as it goes into a report: title, what it is of, legend, the picture itself, and how it was made with the
 * date. The picture keeps its size; one that does not say its size is returned as it is.
 */
export function framedSvg(svg: string, words: PictureWords, style: FrameStyle): string {
  const size = sizeOf(svg);
  if (!size) return svg;
  const inner = Math.max(size.width, 320);
  const width = inner + 2 * MARGIN;
  const text = (x: number, y: number, said: string, fill: string, more = '') =>
    `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" fill="${fill}"${more}>${svgText(said)}</text>`;
  const parts: string[] = [];
  let y = MARGIN + 14;
  parts.push(text(MARGIN, y, words.title, style.ink, ' font-size="16" font-weight="600"'));
  for (const line of wrapped(words.subject, inner)) parts.push(text(MARGIN, (y += LINE + 1), line, style.ink));
  y += 6;
  const places = laidOut(words.legend, inner);
  words.legend.forEach(({ name, colour, stroke = 'solid' }, i) => {
    const { x, row } = places[i];
    const at = y + 10 + row * LINE;
    parts.push(
      `<line x1="${(MARGIN + x).toFixed(1)}" x2="${(MARGIN + x + 20).toFixed(1)}" y1="${at - 4}" y2="${at - 4}" ` +
        `stroke="${svgText(colour)}" stroke-width="2"${DASHES[stroke]}/>`,
    );
    parts.push(text(MARGIN + x + 25, at, name, style.muted));
  });
  if (places.length > 0) y += (places.at(-1)!.row + 1) * LINE + 6;
  y += 8;
  // Inside of a document a picture stands at its place with its own coordinates.
  const head = /<svg[^>]*>/.exec(svg)![0];
  const box = /viewBox=/.test(head) ? '' : ` viewBox="0 0 ${size.width} ${size.height}"`;
  const placed = head
    .replace(/\s(width|height|x|y)="[^"]*"/g, '')
    .replace(
      /<svg/,
      `<svg overflow="visible" x="${MARGIN}" y="${y}" width="${size.width}" height="${size.height}"${box}`,
    );
  parts.push(svg.slice(svg.indexOf(head)).replace(head, placed));
  y += size.height + 6;
  for (const line of wrapped(`${words.about}${words.about ? ' · ' : ''}${words.date} · Ulvex`, inner))
    parts.push(text(MARGIN, (y += LINE - 1), line, style.muted));
  const height = y + MARGIN;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ` +
    `${height}" font-family="IBM Plex Sans Variable, IBM Plex Sans, sans-serif" ` +
    `font-size="${SMALL}"><rect width="100%" height="100%" fill="${style.ground}"/>${parts.join('')}</svg>`
  );
}

/** Times its size at which a picture is drawn in pixels, so that it prints at 300 dots an inch on at least 16 cm. */
export function printScale(width: number): number {
  return Math.min(6, Math.max(2, 1890 / width));
}
