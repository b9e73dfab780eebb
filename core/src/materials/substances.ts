import type { Dispersion, SellmeierDispersion } from './dispersion.ts';
import type { Material } from './material.ts';

/** Sellmeier terms by strength and resonance wavelength in µm, as papers print them. */
function resonances(...terms: readonly (readonly [b: number, um: number])[]): SellmeierDispersion {
  return { kind: 'sellmeier', b: terms.map(([b]) => b), c: terms.map(([, um]) => um ** 2) };
}

/** n² = a + Σ s/(λ² − r²), as some papers print it, in Sellmeier's form. */
function poles(a: number, ...terms: readonly (readonly [s: number, um: number])[]): SellmeierDispersion {
  return {
    kind: 'sellmeier',
    a: a - terms.reduce((sum, [s, um]) => sum + s / um ** 2, 0),
    b: terms.map(([s, um]) => s / um ** 2),
    c: terms.map(([, um]) => um ** 2),
  };
}

interface Substance extends Omit<Material, 'id' | 'label' | 'family' | 'dispersion' | 'range'> {
  readonly expansion?: number;
  readonly density?: number;
}

function substance(
  id: string,
  label: string,
  family: string,
  range: readonly [number, number],
  dispersion: Dispersion,
  { density, expansion, ...rest }: Substance,
): Material {
  const typical = {
    ...(density !== undefined && { density }),
    ...(expansion !== undefined && { expansion }),
  };
  return { id, label, family, dispersion, range, ...rest, typical };
}

/** A dn/dT measured once, of the absolute index. */
const warms = (dndt: number) => ({ kind: 'linear', dndt, against: 'vacuum' }) as const;

/** Plastics, crystals, infrared materials and water. Plastics and infrared materials vary from maker to maker more than glass does. */
export const SUBSTANCES: readonly Material[] = [
  substance(
    'acrylic',
    'PMMA',
    'acrylic plastic 492574',
    [400, 1100],
    { kind: 'sellmeier', b: [1.1931126, 0.8], c: [0.00987311, 100] },
    {
      trust: 'constructed',
      note: 'Constructed two-term dispersion that meets nd = 1.4918 and Vd = 57.4; not a measurement.',
      density: 1.19,
      expansion: 70,
      thermal: warms(-1.05e-4),
    },
  ),
  substance(
    'polycarbonate',
    'PC',
    'polycarbonate plastic 585299',
    [400, 1100],
    { kind: 'model', nd: 1.585, vd: 29.9 },
    {
      trust: 'constructed',
      note: 'Constructed from nd and Vd; not a measurement.',
      density: 1.2,
      expansion: 66,
    },
  ),
  substance(
    'polystyrene',
    'PS',
    'polystyrene plastic 590309',
    [400, 1100],
    { kind: 'model', nd: 1.59, vd: 30.9 },
    {
      trust: 'constructed',
      note: 'Constructed from nd and Vd; not a measurement.',
      density: 1.05,
      expansion: 70,
    },
  ),
  substance(
    'cyclo_olefin_polymer',
    'COP',
    'cyclo-olefin plastic 531560',
    [400, 1100],
    { kind: 'model', nd: 1.531, vd: 56 },
    {
      trust: 'constructed',
      note: 'Constructed from nd and Vd; not a measurement.',
      density: 1.01,
      expansion: 60,
    },
  ),
  substance(
    'fused_silica',
    'fused silica',
    'synthetic silica 458678',
    [210, 3710],
    resonances([0.6961663, 0.0684043], [0.4079426, 0.1162414], [0.8974794, 9.896161]),
    {
      note: 'I. H. Malitson, J. Opt. Soc. Am. 55, 1205 (1965).',
      density: 2.2,
      expansion: 0.55,
    },
  ),
  substance(
    'calcium_fluoride',
    'CaF2',
    'fluoride crystal 434950',
    [230, 9700],
    resonances([0.5675888, 0.050263605], [0.4710914, 0.1003909], [3.8484723, 34.64904]),
    {
      note: 'I. H. Malitson, Appl. Opt. 2, 1103 (1963).',
      temperature: 24,
      density: 3.18,
      expansion: 18.9,
    },
  ),
  substance(
    'barium_fluoride',
    'BaF2',
    'fluoride crystal 474816',
    [266, 10300],
    resonances([0.643356, 0.057789], [0.506762, 0.10968], [3.8261, 46.3864]),
    {
      note: 'I. H. Malitson, J. Opt. Soc. Am. 54, 628 (1964).',
      temperature: 25,
      density: 4.89,
      expansion: 18.1,
    },
  ),
  substance(
    'lithium_fluoride',
    'LiF',
    'fluoride crystal',
    [120, 6000],
    resonances([0.92549, 0.07376], [6.96747, 32.79]),
    { note: 'H. H. Li, J. Phys. Chem. Ref. Data 5, 329 (1976).', density: 2.64, expansion: 37 },
  ),
  substance(
    'magnesium_fluoride_o',
    'MgF2 (ordinary ray)',
    'fluoride crystal, birefringent',
    [200, 7000],
    resonances([0.48755108, 0.04338408], [0.39875031, 0.09461442], [2.3120353, 23.793604]),
    {
      note: 'M. J. Dodge, Appl. Opt. 23, 1980 (1984). Birefringent: the ordinary ray only.',
      temperature: 19,
      density: 3.18,
    },
  ),
  substance(
    'sapphire_o',
    'sapphire (ordinary ray)',
    'oxide crystal, birefringent 768723',
    [200, 5000],
    resonances([1.4313493, 0.0726631], [0.65054713, 0.1193242], [5.3414021, 18.028251]),
    {
      note: 'I. H. Malitson and M. J. Dodge, J. Opt. Soc. Am. 62, 1405 (1972). Birefringent: the ordinary ray only.',
      density: 3.98,
      expansion: 5.3,
    },
  ),
  substance(
    'germanium',
    'germanium',
    'infrared crystal',
    [2000, 14000],
    { kind: 'sellmeier', b: [0.4886331, 14.5142535, 0.0091224], c: [1.393959, 0.1626427, 752.19] },
    {
      against: 'vacuum',
      note: 'J. H. Burnett et al., Proc. SPIE 9974, 99740X (2016).',
      density: 5.33,
      expansion: 5.9,
      thermal: warms(4e-4),
    },
  ),
  substance(
    'silicon',
    'silicon',
    'infrared crystal',
    [1360, 11000],
    resonances([10.6684293, 0.301516485], [0.0030434748, 1.13475115], [1.54133408, 1104]),
    {
      note: 'C. D. Salzberg and J. J. Villa, J. Opt. Soc. Am. 47, 244 (1957).',
      temperature: 26,
      density: 2.33,
      expansion: 2.6,
      thermal: warms(1.6e-4),
    },
  ),
  substance(
    'zinc_selenide',
    'zinc selenide',
    'infrared crystal',
    [540, 18200],
    resonances([4.45813734, 0.200859853], [0.467216334, 0.391371166], [2.8956629, 47.1362108]),
    {
      note: 'J. Connolly, B. diBenedetto and R. Donadio, Proc. SPIE 181, 141 (1979).',
      density: 5.27,
      expansion: 7.1,
      thermal: warms(6.1e-5),
    },
  ),
  substance(
    'zinc_sulphide',
    'zinc sulphide',
    'infrared crystal, clear grade',
    [410, 13000],
    poles(8.393, [0.14383, 0.2421], [4430.99, 36.71]),
    {
      note: 'M. Debenham, Appl. Opt. 23, 2238 (1984).',
      density: 4.09,
      expansion: 6.5,
      thermal: warms(4.3e-5),
    },
  ),
  substance('diamond', 'diamond', 'carbon crystal', [230, 20000], resonances([0.3306, 0.175], [4.3356, 0.106]), {
    note: 'F. Peter, Z. Phys. 15, 358 (1923).',
    density: 3.52,
    expansion: 1,
  }),
  substance(
    'water',
    'water',
    'liquid',
    [182, 1129],
    {
      kind: 'sellmeier',
      b: [5.684027565e-1, 1.726177391e-1, 2.086189578e-2, 1.130748688e-1],
      c: [5.101829712e-3, 1.821153936e-2, 2.620722293e-2, 1.069792721e1],
    },
    {
      against: 'vacuum',
      note: 'M. Daimon and A. Masumura, Appl. Opt. 46, 3811 (2007), at 20 °C.',
      density: 0.998,
    },
  ),
];
