import { definePhase, ORDER } from './phase.ts';

export interface GratingRecord {
  readonly kind: 'grating';
  /** Lines per mm. */
  readonly lines: number;
  readonly order?: number;
  /** Degrees. */
  readonly angle?: number;
}

/** Straight lines of equal spacing on any shape: n′ sin I′ − n sin I = mλ/d (M. Born and E. Wolf, Principles of Optics, 8.6.1). */
export const grating = definePhase<GratingRecord>({
  kind: 'grating',
  title: 'Grating',
  meaning:
    'Straight lines of equal spacing, as seen along the axis, on any shape: n′ sin I′ = n sin I + mλ·lines toward +y for positive orders.',
  parameters: [
    {
      id: 'lines',
      title: 'Lines',
      meaning: 'Lines per mm across them, as seen along the axis.',
      unit: '1/mm',
      kind: 'number',
      transform: 'value',
    },
    ORDER,
    {
      id: 'angle',
      title: 'Angle',
      meaning: 'Where positive orders turn to: 0 toward +y, 90 toward +x.',
      unit: '°',
      kind: 'angle',
      fallback: 0,
      transform: 'value',
    },
  ],
  compile({ lines, order = 1, angle = 0 }) {
    const radians = Math.PI / 180;
    // Exact at right angles, so that a grating along y does not move rays in x.
    const [sine, cosine] =
      angle % 180 === 0
        ? [0, Math.cos(angle * radians)]
        : [Math.sin(angle * radians), angle % 90 === 0 ? 0 : Math.cos(angle * radians)];
    const write = (out: Float64Array, x: number, y: number, gx: number, gy: number) => {
      out[0] = gx * x + gy * y;
      out[1] = gx;
      out[2] = gy;
    };
    return {
      bend: 0,
      mirrorX: sine === 0,
      jet(x, y, out) {
        out.fill(0);
        write(out, x, y, order * lines * sine, order * lines * cosine);
      },
      by: {
        lines: (x, y, out) => write(out, x, y, order * sine, order * cosine),
        angle: (x, y, out) => write(out, x, y, order * lines * cosine * radians, -order * lines * sine * radians),
      },
    };
  },
});
