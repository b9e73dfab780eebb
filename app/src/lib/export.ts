import { download } from './download.ts';
import { svgText } from './svg-text.ts';
import { printScale, type LegendEntry } from './report-frame.ts';

/** What a tile or drawing can be written as. */
export interface Exports {
  /** A complete SVG document, or null while there is nothing to draw. */
  readonly svg?: () => string | null;
  /** Rows of a table, header first, numbers with all their digits. */
  readonly csv?: () => readonly (readonly (string | number)[])[] | null;
  /** What colours and strokes stand for, if the picture does not say so itself. */
  readonly legend?: () => readonly LegendEntry[];
}

/** Words with which a spreadsheet would begin a formula, as words: a quote in front, which it does not show. Numbers stay as they are. */
function harmless(words: string): string {
  return /^[=+\-@\t\r]/.test(words) && !Number.isFinite(Number(words)) ? `'${words}` : words;
}

/**
 * A table as CSV (RFC 4180): commas, CRLF, quotes where a cell needs them; a number that is none stays empty, and no
 * word is a formula to who opens it.
 */
export function csvText(rows: readonly (readonly (string | number)[])[]): string {
  const cell = (value: string | number): string => {
    if (typeof value === 'number') return Number.isNaN(value) ? '' : String(value).toLowerCase();
    const words = harmless(value);
    return /[",\r\n]/.test(words) ? `"${words.replaceAll('"', '""')}"` : words;
  };
  return rows.map((row) => `${row.map(cell).join(',')}\r\n`).join('');
}

/** Rows of a table, header first, as an SVG document: words to the left, numbers to the right, `digits` of them shown. */
export function tableSvg(
  rows: readonly (readonly (string | number)[])[],
  style: { readonly ink: string; readonly muted: string; readonly line: string; readonly ground: string },
  digits = 7,
): string {
  const shown = rows.map((row) =>
    row.map((cell) => {
      if (typeof cell !== 'number') return cell;
      if (Number.isNaN(cell)) return '';
      return String(Number(cell.toPrecision(digits)))
        .replace('-', '−')
        .replace('Infinity', '∞');
    }),
  );
  const columns = Math.max(0, ...shown.map((row) => row.length));
  const widths = Array.from(
    { length: columns },
    (_, k) => 24 + 7 * Math.max(...shown.map((row) => row[k]?.length ?? 0)),
  );
  const ends = widths.map((_, k) => widths.slice(0, k + 1).reduce((sum, width) => sum + width, 0));
  const text = (words: string, k: number, row: number) => {
    const right = row === 0 ? k > 0 : typeof rows[row][k] === 'number';
    const x = right ? ends[k] - 8 : ends[k] - widths[k] + 12;
    const [anchor, fill] = [right ? 'end' : 'start', row === 0 ? style.muted : style.ink];
    return `<text x="${x}" y="${20 * row + 24}" text-anchor="${anchor}" fill="${fill}">${svgText(words)}</text>`;
  };
  const body = shown.flatMap((row, r) => row.map((words, k) => text(words, k, r))).join('');
  const [width, height] = [(ends.at(-1) ?? 0) + 12, 20 * rows.length + 18];
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" font-family="monospace" ` +
    `font-size="11"><rect width="100%" height="100%" fill="${style.ground}"/><line x1="8" x2="${width - 8}" ` +
    `y1="31" y2="31" stroke="${style.line}"/>${body}</svg>`
  );
}

/** Colours in notations that only browsers know. */
const MIXED = /^(color|oklab|oklch|lab|lch)/;

const STYLES = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linejoin',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
  'dominant-baseline',
];

/**
 * An SVG element of the page as a document that looks the same anywhere: the styles that matter written into it.
 *
 * @param plain - a colour as every program reads it: few know the mixtures that a browser computes
 */
export function standaloneSvg(element: SVGSVGElement, plain: (colour: string) => string): string {
  const copy = element.cloneNode(true) as SVGSVGElement;
  const originals = element.querySelectorAll<SVGElement>('*');
  copy.querySelectorAll<SVGElement>('*').forEach((node, i) => {
    const style = getComputedStyle(originals[i]);
    for (const name of STYLES) {
      const value = style.getPropertyValue(name);
      node.style.setProperty(name, MIXED.test(value) ? plain(value) : value);
    }
  });
  const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  ground.setAttribute('width', '100%');
  ground.setAttribute('height', '100%');
  ground.setAttribute('fill', getComputedStyle(document.documentElement).getPropertyValue('--card').trim());
  copy.prepend(ground);
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  return new XMLSerializer().serializeToString(copy);
}

/** Writes an SVG document to a file. */
export function downloadSvg(name: string, svg: string): void {
  download(`${name}.svg`, svg, 'image/svg+xml');
}

/** Writes an SVG document as a PNG that is large enough to be printed. Rejects when the browser cannot draw it. */
export async function downloadPng(name: string, svg: string): Promise<void> {
  const image = new Image();
  const drawn = new Promise<void>((resolve, reject) => {
    image.onload = () => resolve();
    image.onerror = () => reject(new Error('the picture cannot be drawn'));
  });
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await drawn;
  const canvas = document.createElement('canvas');
  const scale = printScale(image.naturalWidth);
  canvas.width = Math.round(image.naturalWidth * scale);
  canvas.height = Math.round(image.naturalHeight * scale);
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('the picture cannot be written');
  download(`${name}.png`, blob, 'image/png');
}

/**
 * Rows of a table as an XLSX file, numbers as numbers with every digit. Its library is loaded when it is first needed.
 * A number that is not finite leaves its cell empty.
 */
export async function xlsxFile(name: string, rows: readonly (readonly (string | number)[])[]): Promise<Blob> {
  const { default: writeSheet } = await import('write-excel-file/universal');
  const cell = (value: string | number, row: number) => {
    if (typeof value === 'number') return Number.isFinite(value) ? { value, type: Number } : null;
    return { value, type: String, ...(row === 0 ? { fontWeight: 'bold' as const } : {}) };
  };
  const data = rows.map((row, r) => row.map((value) => cell(value, r)));
  return writeSheet(data, { sheet: name.replace(/[*?:\\/[\]]/g, ' ').slice(0, 31) }).toBlob();
}

/** Writes a table as an XLSX file. */
export async function downloadXlsx(name: string, rows: readonly (readonly (string | number)[])[]): Promise<void> {
  const type = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
  download(`${name}.xlsx`, await xlsxFile(name, rows), type);
}
