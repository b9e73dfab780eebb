import { PICTURE_MOST, toTone, writePicture, type PicturePanel } from '@ulvex/core';
import { svgText } from '../svg-text.ts';
import { plain } from '../format.ts';

/** Light of a picture as the bytes of a screen, row by row from the top; `grey` takes the colours off. */
export function pictureBytes({ columns, rows, rgb }: PicturePanel, grey = false): ImageData {
  const bytes = new Uint8ClampedArray(4 * columns * rows);
  // A table: the power of every dot would take longer than all else.
  const tones = Uint8ClampedArray.from({ length: 4097 }, (_, k) => Math.round(255 * toTone(k / 4096)));
  const tone = (light: number) => tones[Math.round(4096 * Math.min(1, Math.max(0, light)))];
  for (let row = 0, at = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, at += 4) {
      const from = 3 * ((rows - 1 - row) * columns + column);
      const mean = (rgb[from] + rgb[from + 1] + rgb[from + 2]) / 3;
      for (let k = 0; k < 3; k++) bytes[at + k] = tone(grey ? mean : rgb[from + k]);
      bytes[at + 3] = 255;
    }
  return new ImageData(bytes, columns, rows);
}

/** Pictures as one SVG document, each drawn by its canvas, with their ranges. */
export function picturesSvg(
  shown: readonly {
    readonly panel: PicturePanel;
    readonly name: string;
    readonly canvas: HTMLCanvasElement;
  }[],
  style: { readonly ink: string; readonly muted: string; readonly ground: string },
): string | null {
  if (shown.length === 0) return null;
  const side = 384;
  const text = (x: number, y: number, words: string, anchor: string) =>
    `<text x="${x}" y="${y}" text-anchor="${anchor}" fill="${style.muted}">${svgText(words)}</text>`;
  const pictures = shown.map(({ panel, name, canvas }, i) => {
    const left = 12 + i * (side + 24);
    return [
      text(left, 16, name, 'start'),
      `<image x="${left}" y="24" width="${side}" height="${side}" href="${canvas.toDataURL('image/png')}"/>`,
      `<rect x="${left}" y="24" width="${side}" height="${side}" fill="none" stroke="${style.ink}"/>`,
      text(left, side + 38, plain(panel.x.range[0], 4), 'start'),
      text(left + side / 2, side + 38, panel.x.unit, 'middle'),
      text(left + side, side + 38, plain(panel.x.range[1], 4), 'end'),
    ].join('');
  });
  const width = shown.length * (side + 24);
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${side + 48}" ` +
    'font-family="sans-serif" font-size="11"><rect width="100%" height="100%" ' +
    `fill="${style.ground}"/>${pictures.join('')}</svg>`
  );
}

/**
 * A picture file as the text that settings hold, made smaller where it is larger than a project should carry. Rejects, with a reason, what
 * the browser cannot read as a picture.
 */
export async function pictureFromFile(file: File): Promise<string> {
  let picture: ImageBitmap;
  try {
    picture = await createImageBitmap(file);
  } catch {
    throw new Error(`${file.name} cannot be read as a picture: choose a PNG, JPEG or WebP file`);
  }
  const scale = Math.min(1, PICTURE_MOST / Math.max(picture.width, picture.height));
  const [columns, rows] = [picture.width, picture.height].map((side) => Math.max(1, Math.round(side * scale)));
  const canvas = new OffscreenCanvas(columns, rows);
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#fff'; // what is clear in the file lies on white
  context.fillRect(0, 0, columns, rows);
  context.imageSmoothingQuality = 'high';
  context.drawImage(picture, 0, 0, columns, rows);
  picture.close();
  const { data } = context.getImageData(0, 0, columns, rows);
  const rgb = new Uint8Array(3 * columns * rows);
  for (let i = 0; i < columns * rows; i++) rgb.set(data.subarray(4 * i, 4 * i + 3), 3 * i);
  return writePicture({ columns, rows, rgb });
}
