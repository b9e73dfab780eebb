import { definePhase, ORDER } from './phase.ts';

const POWERS = [2, 4, 6, 8, 10] as const;

export type KinoformRecord = { readonly kind: 'kinoform'; readonly order?: number } & {
  readonly [key in `p${(typeof POWERS)[number]}`]?: number;
};

/** Zones of revolution with the phase Σ Pᵢ rⁱ: −2λmP₂ is their power. */
export const kinoform = definePhase<KinoformRecord>({
  kind: 'kinoform',
  title: 'Kinoform',
  meaning:
    'Rings with a phase of φ = Σ Pᵢ rⁱ cycles, i = 2, 4 … 10, on any shape: the path grows by mλφ, the power by −2mλP₂.',
  parameters: [
    ORDER,
    ...POWERS.map((power) => ({
      id: `p${power}`,
      title: `P${power}`,
      meaning: `Coefficient of r^${power} in the phase, in cycles.`,
      unit: `mm^-${power}`,
      kind: 'number' as const,
      fallback: 0,
      transform: 'value' as const,
      power,
    })),
  ],
  compile(record) {
    const { order = 1 } = record;
    const coefficients = POWERS.map((power) => record[`p${power}`] ?? 0);
    /** f(u) = Σ Pᵢ u^(i/2) over u = r², with its first and second derivative. */
    const radial = (u: number): [number, number, number] => {
      let [sum, first, second] = [0, 0, 0];
      for (let i = coefficients.length - 1; i >= 0; i--) {
        second = second * u + 2 * first;
        first = first * u + sum;
        sum = sum * u + coefficients[i];
      }
      return [u * sum, sum + u * first, 2 * first + u * second];
    };
    const write = (out: Float64Array, x: number, y: number, value: number, slope: number) => {
      out[0] = value;
      out[1] = 2 * x * slope;
      out[2] = 2 * y * slope;
    };
    return {
      bend: 2 * order * coefficients[0],
      mirrorX: true,
      jet(x, y, out) {
        const [value, slope, bend] = radial(x * x + y * y);
        write(out, x, y, order * value, order * slope);
        out[3] = order * (2 * slope + 4 * x * x * bend);
        out[4] = order * 4 * x * y * bend;
        out[5] = order * (2 * slope + 4 * y * y * bend);
      },
      by: {
        ...Object.fromEntries(
          POWERS.map((power, i) => [
            `p${power}`,
            (x: number, y: number, out: Float64Array) => {
              const u = x * x + y * y;
              write(out, x, y, order * u ** (i + 1), order * (i + 1) * u ** i);
            },
          ]),
        ),
      },
    };
  },
});
