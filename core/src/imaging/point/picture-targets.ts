import { failure, success, type Outcome } from '../../math/outcome.ts';

/**
 * Something to be looked at: red, green and blue, 0 to 1, at a place of a square whose half side is 1, u to the right and v up. Patterns
 * go on beyond the square, pictures end there.
 */
export type PictureTarget = (u: number, v: number, rgb: Float64Array) => void;

/** Targets by name; bars and grids have so many periods over the square. */
export const TARGETS = ['bars', 'grid', 'star', 'edge', 'dots', 'text', 'picture'] as const;

export type TargetKind = (typeof TARGETS)[number];

export interface TargetChoice {
  readonly kind: TargetKind;
  /** Periods over the square, of bars, grids, dots; spokes of the star. */
  readonly periods: number;
  readonly text: string;
  /** See `readPicture`. */
  readonly picture: string;
}

function grey(value: number, rgb: Float64Array): void {
  rgb[0] = rgb[1] = rgb[2] = value;
}

const cycle = (at: number) => at - Math.floor(at);

/** The target of a choice. Fails for a picture that is missing or broken. */
export function pictureTarget({ kind, periods, text, picture }: TargetChoice): Outcome<PictureTarget> {
  const half = periods / 2;
  switch (kind) {
    case 'bars':
      // Upright bars above, lying ones below: both directions in one picture.
      return success((u, v, rgb) => grey(cycle((v >= 0 ? u : v) * half) < 0.5 ? 1 : 0, rgb));
    case 'grid':
      return success((u, v, rgb) => {
        const near = (at: number) => Math.abs(cycle(at * half + 0.5) - 0.5) < 0.06;
        grey(near(u) || near(v) ? 0.05 : 0.95, rgb);
      });
    case 'star':
      return success((u, v, rgb) => {
        const inside = u * u + v * v < 0.92;
        grey(inside ? (cycle((Math.atan2(v, u) / (2 * Math.PI)) * Math.round(periods)) < 0.5 ? 1 : 0) : 0.5, rgb);
      });
    case 'edge':
      return success((u, _v, rgb) => grey(u < 0 ? 0 : 1, rgb));
    case 'dots':
      return success((u, v, rgb) => {
        const [du, dv] = [cycle(u * half + 0.5) - 0.5, cycle(v * half + 0.5) - 0.5];
        grey(du * du + dv * dv < 0.01 ? 1 : 0, rgb);
      });
    case 'text':
      return success(textTarget(text));
    case 'picture': {
      const read = readPicture(picture);
      return read.ok ? success(rasterTarget(read.value)) : read;
    }
  }
}

/** Characters of five by seven dots, row by row from the top, five bits a row: capitals, figures and some signs. */
const GLYPHS: Readonly<Record<string, string>> = {
  A: 'ehhvhhh',
  B: 'uhhuhhu',
  C: 'ehggghe',
  D: 'uhhhhhu',
  E: 'vgguggv',
  F: 'vgguggg',
  G: 'ehgnhhe',
  H: 'hhhvhhh',
  I: 'e44444e',
  J: '72222ic',
  K: 'hikokih',
  L: 'ggggggv',
  M: 'hrllhhh',
  N: 'hpljhhh',
  O: 'ehhhhhe',
  P: 'uhhuggg',
  Q: 'ehhhlid',
  R: 'uhhukih',
  S: 'fgge11u',
  T: 'v444444',
  U: 'hhhhhhe',
  V: 'hhhhha4',
  W: 'hhhllrh',
  X: 'hha4ahh',
  Y: 'hha4444',
  Z: 'v1248gv',
  0: 'ehjlphe',
  1: '4c4444e',
  2: 'eh1248v',
  3: 'v2421he',
  4: '26aiv22',
  5: 'vgu11he',
  6: '68guhhe',
  7: 'v124888',
  8: 'ehhehhe',
  9: 'ehhf12c',
  '-': '000v000',
  '.': '00000cc',
  '+': '044v440',
  '/': '01248g0',
  ':': '0cc0cc0',
};

/** Words in dots over the middle of the square, as large as they fit; what has no dots is left blank. Dark on light. */
function textTarget(text: string): PictureTarget {
  const lines = text
    .toUpperCase()
    .split('\n')
    .flatMap((line) => line.split(/\s*\|\s*/));
  const longest = Math.max(1, ...lines.map((line) => line.length));
  // Dots across: six to a character, eight to a line.
  const across = 6 * longest - 1;
  const down = 8 * lines.length - 1;
  const dot = 1.8 / Math.max(across, down);
  return (u, v, rgb) => {
    const row = Math.floor(down / 2 - v / dot);
    const line = lines[Math.floor(row / 8)];
    let dark = false;
    if (line !== undefined && row >= 0 && row % 8 < 7) {
      const column = Math.floor(u / dot + (6 * line.length - 1) / 2);
      const glyph = column >= 0 && column % 6 < 5 ? GLYPHS[line[Math.floor(column / 6)] ?? ' '] : undefined;
      if (glyph) dark = ((parseInt(glyph[row % 8], 32) >> (4 - (column % 6))) & 1) === 1;
    }
    grey(dark ? 0.04 : 0.95, rgb);
  };
}

/** A picture in dots, red, green and blue from 0 to 255, row by row from the top. */
export interface Raster {
  readonly columns: number;
  readonly rows: number;
  readonly rgb: Uint8Array;
}

/** Most dots along a side of a picture that a project holds. */
export const PICTURE_MOST = 192;

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** A picture as the text that settings hold: columns, ×, rows, a blank, and the bytes in base64 (RFC 4648). */
export function writePicture({ columns, rows, rgb }: Raster): string {
  let text = '';
  for (let i = 0; i < rgb.length; i += 3) {
    const bits = (rgb[i] << 16) | ((rgb[i + 1] ?? 0) << 8) | (rgb[i + 2] ?? 0);
    for (const shift of [18, 12, 6, 0]) text += LETTERS[(bits >> shift) & 63];
  }
  return `${columns}×${rows} ${text}`;
}

/** Reads such a text. Fails, with a reason, where it is none. */
export function readPicture(text: string): Outcome<Raster> {
  if (text === '') return failure('Choose a picture file in the choices of the tile.');
  const parts = /^(\d{1,3})×(\d{1,3}) ([A-Za-z0-9+/]*)$/.exec(text);
  const [columns, rows] = [Number(parts?.[1]), Number(parts?.[2])];
  const letters = parts?.[3] ?? '';
  if (
    !parts ||
    !(columns > 0) ||
    !(rows > 0) ||
    columns > PICTURE_MOST ||
    rows > PICTURE_MOST ||
    letters.length !== 4 * columns * rows
  )
    return failure('The picture kept with the tile is damaged: choose it again.');
  const rgb = new Uint8Array(3 * columns * rows);
  for (let i = 0; i < columns * rows; i++) {
    const bits = [0, 1, 2, 3].reduce((sum, k) => (sum << 6) | LETTERS.indexOf(letters[4 * i + k]), 0);
    rgb.set([(bits >> 16) & 255, (bits >> 8) & 255, bits & 255], 3 * i);
  }
  return success({ columns, rows, rgb });
}

/** A raster over the square, its longer side as long as that; black around it. Tones count as light: sRGB (IEC 61966-2-1). */
function rasterTarget({ columns, rows, rgb: bytes }: Raster): PictureTarget {
  const most = Math.max(columns, rows);
  const light = Float64Array.from({ length: 256 }, (_, k) => fromTone(k / 255));
  return (u, v, rgb) => {
    const column = Math.floor((u * most + columns) / 2);
    const row = Math.floor((rows - v * most) / 2);
    if (column < 0 || row < 0 || column >= columns || row >= rows) return grey(0, rgb);
    const at = 3 * (row * columns + column);
    for (let k = 0; k < 3; k++) rgb[k] = light[bytes[at + k]];
  };
}

/** Light of a tone of a screen, and the tone of so much light: sRGB. */
export function fromTone(tone: number): number {
  return tone <= 0.04045 ? tone / 12.92 : ((tone + 0.055) / 1.055) ** 2.4;
}

export function toTone(light: number): number {
  return light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055;
}
