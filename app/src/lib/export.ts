import { download } from './desk/files.ts';

/** What a tile or drawing can be written as. */
export interface Exports {
  /** A complete SVG document, or null while there is nothing to draw. */
  readonly svg?: () => string | null;
  /** Rows of a table, header first, numbers with all their digits. */
  readonly csv?: () => readonly (readonly (string | number)[])[] | null;
}

/** A table as CSV (RFC 4180): commas, CRLF, quotes where a cell needs them; a number that is none stays empty. */
export function csvText(rows: readonly (readonly (string | number)[])[]): string {
  const cell = (value: string | number): string => {
    if (typeof value === 'number') return Number.isFinite(value) ? String(value) : '';
    return /[",\r\n]/.test(value) ? `"${value.replaceAll('"', '""')}"` : value;
  };
  return rows.map((row) => `${row.map(cell).join(',')}\r\n`).join('');
}

/** Text made safe inside SVG. */
export function svgText(text: string): string {
  return text
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}

const STYLES = [
  'fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'stroke-linejoin', 'opacity', 'font-family', 'font-size',
  'font-weight', 'text-anchor', 'dominant-baseline',
]; // prettier-ignore

/** An SVG element of the page as a document that looks the same anywhere: the styles that matter written into it. */
export function standaloneSvg(element: SVGSVGElement): string {
  const copy = element.cloneNode(true) as SVGSVGElement;
  const originals = element.querySelectorAll<SVGElement>('*');
  copy.querySelectorAll<SVGElement>('*').forEach((node, i) => {
    const style = getComputedStyle(originals[i]);
    for (const name of STYLES) node.style.setProperty(name, style.getPropertyValue(name));
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

/** Writes an SVG document as a PNG of twice its size. Rejects when the browser cannot draw it. */
export async function downloadPng(name: string, svg: string): Promise<void> {
  const image = new Image();
  const drawn = new Promise<void>((resolve, reject) => {
    image.onload = () => resolve();
    image.onerror = () => reject(new Error('the picture cannot be drawn'));
  });
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await drawn;
  const canvas = document.createElement('canvas');
  canvas.width = image.naturalWidth * 2;
  canvas.height = image.naturalHeight * 2;
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('the picture cannot be written');
  download(`${name}.png`, blob, 'image/png');
}
