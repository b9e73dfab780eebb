import type { ParameterSpec } from '../math/parameter.ts';
import { bareShares, metalShares, type FaceShares } from './fresnel.ts';
import { compileScatter, type CompiledScatter, type Scatter } from './scatter.ts';
import { filmShares, type Film } from './thin-film.ts';

/** One film of a coating as the document holds it. */
export interface Layer {
  /** Index and extinction coefficient, the same at every wavelength. */
  readonly index: number;
  readonly extinction?: number;
  /** nm. */
  readonly thickness: number;
}

/** What a face does with light, its spread apart. */
export type FaceOptics =
  /** The step in index alone, after Fresnel. */
  | { readonly kind: 'bare' }
  /** Thin films, the outermost first. */
  | { readonly kind: 'coating'; readonly layers: readonly Layer[] }
  /** Shares by angle and wavelength, straight between the entries; what is neither is absorbed. */
  | {
      readonly kind: 'coating_table';
      readonly nm: readonly number[];
      readonly degrees: readonly number[];
      /** Row by row, one row a wavelength. */
      readonly reflectance: readonly number[];
      readonly transmittance: readonly number[];
    }
  /** A mirror of one reflectance. */
  | { readonly kind: 'mirror'; readonly reflectance: number }
  /** A mirror of bulk metal n + ik. */
  | { readonly kind: 'metal'; readonly index: number; readonly extinction: number }
  /** Takes all light. */
  | { readonly kind: 'absorber' }
  /** Reflects a share of all light, evenly into the hemisphere. */
  | { readonly kind: 'paint'; readonly reflectance: number }
  /** Fixed shares; the rest is absorbed. */
  | { readonly kind: 'split'; readonly reflectance: number; readonly transmittance: number };

/** A finish: what faces that carry it do with light. */
export interface Finish {
  readonly id: string;
  readonly name: string;
  readonly optics: FaceOptics;
  /** How a part of what is reflected, and of what is let through, is spread. */
  readonly reflected?: Scatter;
  readonly transmitted?: Scatter;
  readonly note?: string;
}

/** A finish made ready for one wavelength. */
export interface CompiledFinish {
  /** Whether nothing is ever let through: what is behind the face does not matter. */
  readonly opaque: boolean;
  /** Shares at an incidence from a medium of index n1 to one of index n2, `outward` when light comes from the inside of the body. */
  shares(n1: number, n2: number, cosine: number, outward: boolean, out: FaceShares): void;
  readonly reflected: CompiledScatter | null;
  readonly transmitted: CompiledScatter | null;
  /** What the compiled tracer needs to work `shares` out by itself; left out by what only its own TypeScript can. */
  readonly plain?: PlainShares;
}

/** Shares that the compiled tracer (`kernels/scene`) knows. */
export type PlainShares =
  | { readonly kind: 'fixed'; readonly reflectance: number; readonly transmittance: number }
  | { readonly kind: 'bare' }
  | { readonly kind: 'metal'; readonly index: number; readonly extinction: number };

const SPREADS = new WeakMap<Scatter, CompiledScatter>();

function spread(scatter: Scatter | undefined): CompiledScatter | null {
  if (!scatter) return null;
  let known = SPREADS.get(scatter);
  if (!known) SPREADS.set(scatter, (known = compileScatter(scatter)));
  return known;
}

const EVEN: CompiledScatter = compileScatter({ kind: 'lambertian', share: 1 });

/**
 * Makes a finish ready for a wavelength.
 *
 * Behind films, at angles that the medium behind does not know, all is reflected but what the films absorb.
 */
export function compileFinish(
  finish: Pick<Finish, 'optics' | 'reflected' | 'transmitted'>,
  nm: number,
): CompiledFinish {
  const { optics } = finish;
  const [reflected, transmitted] = [spread(finish.reflected), spread(finish.transmitted)];
  const fixed = (reflectance: number, transmittance: number): CompiledFinish => ({
    opaque: transmittance === 0,
    shares(n1, n2, cosine, _outward, out) {
      // Where the medium behind knows no such angle, light that would go through is reflected.
      const blocked = n1 * n1 * (1 - cosine * cosine) >= n2 * n2;
      out.rs = out.rp = blocked ? reflectance + transmittance : reflectance;
      out.ts = out.tp = blocked ? 0 : transmittance;
    },
    reflected,
    transmitted,
    plain: { kind: 'fixed', reflectance, transmittance },
  });
  switch (optics.kind) {
    case 'bare':
      return {
        opaque: false,
        shares: (n1, n2, c, _o, out) => bareShares(n1, n2, c, out),
        reflected,
        transmitted,
        plain: optics,
      };
    case 'coating': {
      const films: Film[] = optics.layers.map(({ index, extinction = 0, thickness }) => ({
        n: index,
        k: extinction,
        nm: thickness,
      }));
      const inside = [...films].reverse();
      return {
        opaque: false,
        shares: (n1, n2, cosine, outward, out) =>
          filmShares(nm, n1, Math.max(cosine, 1e-9), outward ? inside : films, { n: n2, k: 0 }, out),
        reflected,
        transmitted,
      };
    }
    case 'coating_table':
      return { opaque: false, shares: tableShares(optics, nm), reflected, transmitted };
    case 'mirror':
      return fixed(optics.reflectance, 0);
    case 'metal':
      return {
        opaque: true,
        shares: (n1, _n2, cosine, _o, out) => metalShares(n1, optics.index, optics.extinction, cosine, out),
        reflected,
        transmitted: null,
        plain: optics,
      };
    case 'absorber':
      return fixed(0, 0);
    case 'paint':
      return { ...fixed(optics.reflectance, 0), reflected: EVEN };
    case 'split': {
      const share = Math.max(1, splitSum(optics));
      return fixed(optics.reflectance / share, optics.transmittance / share);
    }
  }
}

/** What a splitter sends on of the light that meets it: more than 1 cannot be, and counts as 1 with both shares in proportion. */
export function splitSum(optics: Extract<FaceOptics, { kind: 'split' }>): number {
  const sum = optics.reflectance + optics.transmittance;
  return sum > 1 + 1e-12 ? sum : Math.min(1, sum);
}

function tableShares(table: Extract<FaceOptics, { kind: 'coating_table' }>, nm: number): CompiledFinish['shares'] {
  const columns = table.degrees.length;
  const [row, rowPart] = place(table.nm, nm);
  const along = (values: readonly number[], column: number, part: number) => {
    const at = (r: number) => {
      const from = values[r * columns + column];
      return part === 0 ? from : from + part * (values[r * columns + column + 1] - from);
    };
    return rowPart === 0 ? at(row) : at(row) + rowPart * (at(row + 1) - at(row));
  };
  return (n1, n2, cosine, _outward, out) => {
    const [column, part] = place(table.degrees, (Math.acos(Math.min(1, cosine)) * 180) / Math.PI);
    const reflected = along(table.reflectance, column, part);
    const through = along(table.transmittance, column, part);
    const blocked = n1 * n1 * (1 - cosine * cosine) >= n2 * n2;
    out.rs = out.rp = blocked ? reflected + through : reflected;
    out.ts = out.tp = blocked ? 0 : through;
  };
}

/** Where a value stands in a rising list: the entry before it and how far on to the next; clamped to its ends. */
function place(list: readonly number[], value: number): [number, number] {
  const last = list.length - 1;
  if (last === 0 || value <= list[0]) return [0, 0];
  if (value >= list[last]) return [last, 0];
  let i = 1;
  while (list[i] < value) i++;
  return [i - 1, (value - list[i - 1]) / (list[i] - list[i - 1])];
}

const share = (id: string, title: string, meaning: string): ParameterSpec => ({
  id,
  title,
  meaning,
  unit: '',
  kind: 'number',
  min: 0,
  most: 1,
  transform: 'value',
});

const pure = (id: string, title: string, meaning: string, more: Partial<ParameterSpec> = {}): ParameterSpec => ({
  id,
  title,
  meaning,
  unit: '',
  kind: 'number',
  transform: 'value',
  ...more,
});

const REFLECTANCE = share('reflectance', 'Reflectance', 'Share of the flux that is reflected.');
const SCATTERED = share(
  'share',
  'Scattered share',
  'Share of the light sent on that is spread; the rest stays specular.',
);

/** The numbers of each kind of face optics. */
export const OPTICS_SPECS: Readonly<Record<FaceOptics['kind'], readonly ParameterSpec[]>> = {
  bare: [],
  coating: [],
  coating_table: [],
  mirror: [REFLECTANCE],
  metal: [
    pure('index', 'Index n', 'Real part of the index of the metal, n + ik.', { above: 0 }),
    pure('extinction', 'Extinction k', 'Imaginary part of the index of the metal, n + ik.', { min: 0 }),
  ],
  absorber: [],
  paint: [REFLECTANCE],
  split: [REFLECTANCE, share('transmittance', 'Transmittance', 'Share of the flux that is let through.')],
};

/** The numbers of each kind of spread. */
export const SCATTER_SPECS: Readonly<Record<Scatter['kind'], readonly ParameterSpec[]>> = {
  lambertian: [SCATTERED],
  gaussian: [
    SCATTERED,
    {
      ...pure('angle', 'Spread σ', 'One standard deviation of the direction cosines is sin σ.', {
        above: 0,
        below: 90,
      }),
      unit: '°',
      kind: 'angle',
    },
  ],
  cosine_power: [
    SCATTERED,
    pure('power', 'Power m', 'Intensity ∝ cosᵐ of the angle to the specular direction.', { min: 0 }),
  ],
  abg: [
    pure('a', 'A', 'BSDF = A/(B + |β − β₀|ᵍ), per steradian.', { min: 0 }),
    pure('b', 'B', 'BSDF = A/(B + |β − β₀|ᵍ): the knee lies at B^(1/g).', { above: 0 }),
    pure('g', 'g', 'BSDF = A/(B + |β − β₀|ᵍ): slope of the tail.', { min: 0 }),
  ],
  shoulder: [
    pure('b0', 'b₀', 'BSDF = b₀(1 + (|β − β₀|/l)²)^(s/2), per steradian: its height.', { min: 0 }),
    pure('l', 'Shoulder l', 'BSDF = b₀(1 + (|β − β₀|/l)²)^(s/2): where it starts to fall.', { above: 0 }),
    pure('s', 'Slope s', 'BSDF = b₀(1 + (|β − β₀|/l)²)^(s/2): slope of the tail, negative.', {}),
  ],
  table: [],
};
