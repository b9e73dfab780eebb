import { expect } from 'chai';
import { atOnce } from '../../math/steps.ts';
import { chiefAtImage } from '../field/image-point.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { perfectModulation } from '../wavefront/perfect-modulation.ts';
import { channelShares, simulatePicture, type Picture, type PictureChoice } from './picture.ts';
import { fromTone, pictureTarget, readPicture, toTone, writePicture, type PictureTarget } from './picture-targets.ts';
import { relativeIllumination } from '../field/relative-illumination.ts';
import { evaluationOf, TWO_ELEMENTS } from '../evaluation/wavefront-fixtures.ts';

/** A paraboloid of F/20, perfect on its axis. */
const mirror = () => evaluationOf([{ r: -400, k: -1, t: -200, n: 'mirror' }], { pupil: 10, field: 0.5 });
const LAMBDA = 587.5618e-6;

function picture(lens: LensEvaluation, target: PictureTarget, choice: Partial<PictureChoice> = {}): Picture {
  const found = atOnce(
    simulatePicture(lens, target, {
      field: null,
      width: 0.1,
      cells: 64,
      places: 3,
      blur: 'automatic',
      pupil: 'full',
      detail: 'full',
      waves: [0],
      ...choice,
    }),
  );
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

const white: PictureTarget = (_u, _v, rgb) => void rgb.fill(1);
const AXIS = { id: 'axis', x: 0, y: 0, weight: 1 };

describe('Pictures of targets', () => {
  it('keep of a sine what the transfer function of a perfect lens keeps', () => {
    const lens = mirror();
    const cutoff = 1 / (LAMBDA * 20);
    const width = 0.4;
    for (const share of [0.15, 0.3, 0.6]) {
      const periods = Math.round(share * cutoff * width);
      const sine: PictureTarget = (u, _v, rgb) => void rgb.fill(0.5 + 0.5 * Math.sin(Math.PI * periods * u));
      const { rgb, cells } = picture(lens, sine, { field: AXIS, width, cells: 256, places: 1 });
      // Of the middle row: its amplitude at the period of the sine.
      let [re, im, mean] = [0, 0, 0];
      for (let k = 0; k < cells; k++) {
        const value = rgb[3 * ((cells / 2) * cells + k)];
        const turn = (2 * Math.PI * periods * (k + 0.5)) / cells;
        [re, im, mean] = [re + value * Math.cos(turn), im + value * Math.sin(turn), mean + value];
      }
      const contrast = (2 * Math.hypot(re, im)) / mean;
      const shiftedCell = Math.sin((Math.PI * periods) / cells) / ((Math.PI * periods) / cells);
      // A cell takes the mean over its width, of the target and of the spread.
      const expected = perfectModulation(periods / width / cutoff, 0) * shiftedCell ** 2;
      expect(contrast / expected, `${share} of the cutoff`).to.be.closeTo(1, 0.02);
    }
  });

  it('put a point where its chief ray goes, in the whole field and around one field', () => {
    const lens = evaluationOf(TWO_ELEMENTS, { pupil: 4, field: 12, focused: true });
    const tan = Math.tan((12 * Math.PI) / 180) / Math.SQRT2;
    const [u0, v0] = [0.7, -0.45];
    const dot: PictureTarget = (u, v, rgb) => void rgb.fill(Math.hypot(u - u0, v - v0) < 0.02 ? 1 : 0);
    const found = picture(lens, dot, { cells: 256, blur: 'none' });
    const [x, y] = centroid(found);
    const field = { id: 'there', x: deg(Math.atan(u0 * tan)), y: deg(Math.atan(v0 * tan)), weight: 1 };
    const chief = chiefAtImage(lens, field);
    if (!chief.ok) throw new Error(chief.reason);
    const cell = (2 * found.half) / found.cells;
    expect(x).to.be.closeTo(chief.value.x[0], 0.1 * cell);
    expect(y).to.be.closeTo(chief.value.y[0], 0.1 * cell);
    expect(found.residual).to.be.below(0.01);
    const edge = { id: 'edge', x: 0, y: 12, weight: 1 };
    const middle: PictureTarget = (u, v, rgb) => void rgb.fill(Math.hypot(u, v) < 0.1 ? 1 : 0);
    const part = picture(lens, middle, { field: edge, width: 0.5, blur: 'none' });
    const far = chiefAtImage(lens, edge);
    if (!far.ok) throw new Error(far.reason);
    expect(centroid(part)[1]).to.be.closeTo(far.value.y[0], 0.002);
  });

  it('are as bright as the relative illumination, and lose no light in spreading', () => {
    const lens = evaluationOf(TWO_ELEMENTS, { pupil: 4, field: 12, focused: true });
    const edge = { id: 'edge', x: 0, y: 12, weight: 1 };
    const bright = relativeIllumination(lens, edge, 'full');
    if (!bright.ok) throw new Error(bright.reason);
    const { rgb, cells, blurs } = picture(lens, white, { field: edge, width: 4, blur: 'rays', places: 9 });
    expect(blurs).to.include({ diffraction: 0, rays: 81, none: 0 });
    expect(blurs.lost).to.be.below(1e-12);
    expect(picture(lens, white, { field: edge, width: 0.1, blur: 'rays' }).blurs.lost).to.be.above(0.2);
    expect(rgb[3 * ((cells / 2) * cells + cells / 2)]).to.be.closeTo(bright.value, 0.003);
    for (const at of [0, cells - 1]) expect(rgb[3 * (at * cells + at)]).to.be.closeTo(bright.value, 0.05);
    // A small bright square: its light is the same spread or not, but for what the pencil loses.
    const square: PictureTarget = (u, v, rgb) => void rgb.fill(Math.max(Math.abs(u), Math.abs(v)) < 0.2 ? 1 : 0);
    const [spread, sharp] = (['rays', 'none'] as const).map((blur) =>
      sumOf(picture(lens, square, { field: edge, width: 4, blur })),
    );
    expect(spread / sharp).to.be.closeTo(bright.value, 0.01);
  });

  it('spread by diffraction and by rays alike where rays decide', () => {
    // Far out of focus: the spot is twelve times the Airy disc.
    const lens = evaluationOf([{ r: -400, k: -1, t: -203, n: 'mirror' }], { pupil: 10, field: 0.5 });
    const edge: PictureTarget = (u, _v, rgb) => void rgb.fill(u < 0 ? 0 : 1);
    const [waves, rays] = (['automatic', 'rays'] as const).map((blur) =>
      picture(lens, edge, { field: AXIS, width: 0.6, blur, places: 1, cells: 128 }),
    );
    expect(waves.blurs.diffraction).to.equal(1);
    for (let k = 8; k < 120; k += 4) {
      const at = 3 * (64 * 128 + k);
      expect(waves.rgb[at], `column ${k}`).to.be.closeTo(rays.rgb[at], 0.03);
    }
  });

  it('share colours out among the channels, and refuse what has no picture', () => {
    for (const nm of [400, 486, 520, 588, 656, 900]) {
      const shares = channelShares(nm);
      expect(shares[0] + shares[1] + shares[2]).to.be.closeTo(1, 1e-12);
      expect(Math.min(...shares)).to.be.at.least(0);
    }
    expect(channelShares(650)).to.deep.equal([1, 0, 0]);
    const alone = evaluationOf([], { pupil: 5, field: 0, ideal: 50 });
    const found = atOnce(
      simulatePicture(alone, white, {
        field: null,
        width: 1,
        cells: 64,
        places: 1,
        blur: 'none',
        pupil: 'full',
        detail: 'full',
        waves: [0],
      }),
    );
    expect(found.ok ? '' : found.reason).to.match(/no field beside the axis/);
  });
});

describe('Targets of pictures', () => {
  const at = (target: PictureTarget, u: number, v: number) => {
    const rgb = new Float64Array(3);
    target(u, v, rgb);
    return [...rgb];
  };
  const made = (part: Partial<Parameters<typeof pictureTarget>[0]>) => {
    const found = pictureTarget({ kind: 'bars', periods: 4, text: '', picture: '', ...part });
    if (!found.ok) throw new Error(found.reason);
    return found.value;
  };

  it('have the periods that were asked for', () => {
    const bars = made({ kind: 'bars', periods: 8 });
    let changes = 0;
    for (let k = 0; k < 4000; k++)
      if (at(bars, -1 + k / 2000, 0.5)[0] !== at(bars, -1 + (k + 1) / 2000, 0.5)[0]) changes++;
    expect(changes).to.be.within(15, 16);
    const star = made({ kind: 'star', periods: 6 });
    expect(at(star, 0.5 * Math.cos(0.1), 0.5 * Math.sin(0.1))).to.deep.equal(
      at(star, 0.5 * Math.cos(0.1 + Math.PI / 3), 0.5 * Math.sin(0.1 + Math.PI / 3)),
    );
  });

  it('write words in dots: every letter and figure has some, and they differ', () => {
    const inks = new Set<string>();
    for (const letter of 'ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789') {
      const target = made({ kind: 'text', text: letter });
      let ink = '';
      for (let row = 0; row < 7; row++)
        for (let column = 0; column < 5; column++)
          ink += at(target, ((column - 2) * 1.8) / 7, ((3 - row) * 1.8) / 7)[0] < 0.5 ? '#' : '.';
      expect(ink.split('#').length - 1, letter).to.be.above(6);
      inks.add(ink);
    }
    expect(inks.size).to.equal(36);
  });

  it('hold pictures as text and give them back, and say what is broken', () => {
    const rgb = Uint8Array.from({ length: 3 * 6 }, (_, k) => (k * 37) % 256);
    const text = writePicture({ columns: 3, rows: 2, rgb });
    const read = readPicture(text);
    expect(read.ok && [...read.value.rgb]).to.deep.equal([...rgb]);
    for (const broken of ['', 'nothing', '3×2 AAAA', '0×2 ', '999×999 AAAA', text.replace('×', 'x')])
      expect(readPicture(broken).ok, broken).to.equal(false);
    const target = made({ kind: 'picture', picture: text });
    // The first dot lies at the upper left; the longer side fills the square.
    expect(at(target, -0.9, 0.5)[0]).to.be.closeTo(fromTone(rgb[0] / 255), 1e-12);
    expect(at(target, 0, 0.9)).to.deep.equal([0, 0, 0]);
    for (const tone of [0, 0.02, 0.3, 1]) expect(toTone(fromTone(tone))).to.be.closeTo(tone, 1e-9);
  });
});

const deg = (angle: number) => (angle * 180) / Math.PI;
const sumOf = ({ rgb }: Picture) => rgb.reduce((sum, value) => sum + value, 0);

function centroid({ rgb, cells, half, centre }: Picture): [number, number] {
  let [x, y, total] = [0, 0, 0];
  for (let row = 0, i = 0; row < cells; row++)
    for (let column = 0; column < cells; column++, i += 3) {
      total += rgb[i];
      x += rgb[i] * ((2 * (column + 0.5)) / cells - 1);
      y += rgb[i] * ((2 * (row + 0.5)) / cells - 1);
    }
  return [centre[0] + (half * x) / total, centre[1] + (half * y) / total];
}
