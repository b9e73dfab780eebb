import { AIR, type Material } from './material.ts';

function glass(code: string, family: string, b: number[], c: number[], range: [number, number]): Material {
  return { id: `g${code}`, label: code, family, dispersion: { kind: 'sellmeier', b, c }, range };
}

/** The materials that come with Ulvex, gas first, then glasses by code, plastics and crystals. */
export const CATALOGUE: readonly Material[] = [
  AIR,
  glass(
    '517642',
    'borosilicate crown',
    [1.03961212, 0.231792344, 1.01046945],
    [0.00600069867, 0.0200179144, 103.560653],
    [310, 2500],
  ),
  glass(
    '620603',
    'dense barium crown',
    [1.34317774, 0.241144399, 0.994317969],
    [0.00704687339, 0.0229005, 92.7508526],
    [334, 2500],
  ),
  glass(
    '648338',
    'dense flint',
    [1.40301821, 0.231767504, 0.939056586],
    [0.0105795466, 0.0493226978, 112.405955],
    [370, 2500],
  ),
  glass(
    '691547',
    'lanthanum crown',
    [1.46231905, 0.344399589, 1.15508372],
    [0.00724270156, 0.0243353131, 85.4686868],
    [334, 2500],
  ),
  glass(
    '785258',
    'dense flint',
    [1.73848403, 0.311168974, 1.17490871],
    [0.0136068604, 0.0615960463, 121.922711],
    [390, 2500],
  ),
  glass(
    '805254',
    'very dense flint',
    [1.72448482, 0.390104889, 1.04572858],
    [0.0134871947, 0.0569318095, 118.557185],
    [400, 2500],
  ),
  {
    id: 'acrylic',
    label: 'PMMA',
    family: 'acrylic plastic 492574',
    dispersion: { kind: 'sellmeier', b: [1.1931126, 0.8], c: [0.00987311, 100] },
    range: [400, 1100],
    note: 'Constructed two-term dispersion that meets nd = 1.4918 and Vd = 57.4; not a measurement.',
  },
  {
    id: 'fused_silica',
    label: 'fused silica',
    family: 'synthetic silica 458678',
    dispersion: {
      kind: 'sellmeier',
      b: [0.6961663, 0.4079426, 0.8974794],
      c: [0.0684043 ** 2, 0.1162414 ** 2, 9.896161 ** 2],
    },
    range: [210, 3710],
    note: 'I. H. Malitson, J. Opt. Soc. Am. 55, 1205 (1965).',
  },
  {
    id: 'calcium_fluoride',
    label: 'CaF2',
    family: 'fluoride crystal 434950',
    dispersion: {
      kind: 'sellmeier',
      b: [0.5675888, 0.4710914, 3.8484723],
      c: [0.050263605 ** 2, 0.1003909 ** 2, 34.64904 ** 2],
    },
    range: [230, 9700],
    note: 'I. H. Malitson, Appl. Opt. 2, 1103 (1963).',
  },
];

/** The catalogue record with an id, or undefined. */
export function catalogueMaterial(id: string): Material | undefined {
  return CATALOGUE.find((material) => material.id === id);
}

/**
 * The materials a typed text may mean, best first: by exact id or label, then by what the label, the family or the id starts with
 * or contains. Case and spaces at the ends do not count.
 */
export function searchMaterials(text: string, among: readonly Material[] = CATALOGUE): Material[] {
  const wanted = text.trim().toLowerCase();
  if (wanted === '') return [...among];
  const rank = (material: Material): number => {
    const words = [material.label, material.id, material.family, material.id.replaceAll('_', ' ')].map(
      (word) => word.toLowerCase(),
    );
    if (words.includes(wanted)) return 0;
    if (words.some((word) => word.startsWith(wanted))) return 1;
    return words.some((word) => word.includes(wanted)) ? 2 : 3;
  };
  return among
    .map((material) => ({ material, rank: rank(material) }))
    .filter((entry) => entry.rank < 3)
    .sort((a, b) => a.rank - b.rank)
    .map((entry) => entry.material);
}
