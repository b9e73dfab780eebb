import type { Material, TypicalProperties } from './material.ts';

/** What glasses of one family have in common, roughly. */
interface FamilyProperties extends Required<Pick<TypicalProperties, 'expansion' | 'cost' | 'climate' | 'stain'>> {
  /** dn/dT against air near room temperature at 587.6 nm, 1e-6/K. */
  readonly dndt: number;
}

type Row = readonly [expansion: number, cost: number, climate: number, stain: number, dndt: number];

/**
 * Orders of magnitude of what is not tabled glass by glass: expansion 1e-6/K, price over that of borosilicate crown, classes of resistance to humid
 * climate (1 to 4) and stains (0 to 5), dn/dT against air 1e-6/K. They rank families for a first choice, as textbooks do (H. Bach and N. Neuroth,
 * The Properties of Optical Glass, chapters 2 and 4; P. R. Yoder, Opto-Mechanical Systems Design, chapter 3); a supplier's sheet decides.
 */
const ROWS: Readonly<Record<string, Row>> = {
  'phosphate crown': [9.5, 3, 2, 1, -3],
  'low-dispersion fluorophosphate crown': [13, 9, 2, 2, -6],
  'borosilicate crown': [7, 1, 1, 0, 2.5],
  crown: [8.5, 1.2, 2, 1, 1.5],
  'zinc crown': [7.5, 1.5, 2, 1, 2],
  'crown flint': [8.5, 1.5, 2, 1, 2],
  'dense phosphate crown': [9, 5, 2, 3, -2],
  'barium crown': [7.5, 1.6, 2, 1, 2],
  'dense barium crown': [6.8, 2, 3, 3, 3],
  'very dense barium crown': [7.3, 2.5, 3, 3, 3],
  'light barium flint': [8, 2, 2, 1, 2.5],
  'barium flint': [8, 2, 1, 1, 3],
  'very light flint': [8.5, 1.6, 2, 1, 2],
  'light flint': [8.5, 1.5, 1, 0, 2.5],
  flint: [8.3, 1.5, 1, 0, 3.5],
  'dense flint': [8.5, 1.8, 1, 1, 5],
  'very dense flint': [8.5, 4, 1, 1, 8],
  'short flint': [6, 4, 2, 2, 3.5],
  'lanthanum crown': [6.3, 4, 3, 3, 3.5],
  'lanthanum flint': [7, 5, 2, 2, 5],
  'dense lanthanum flint': [7.5, 8, 1, 1, 5],
};

/** Internal transmittance of 10 mm from where a thick piece is opaque, by how much farther the wavelength is, nm. */
const EDGE: readonly (readonly [beyond: number, share: number])[] = [
  [0, 0.05],
  [12, 0.5],
  [25, 0.8],
  [50, 0.94],
  [90, 0.98],
];
const CLEAR: readonly (readonly [nm: number, share: number])[] = [
  [550, 0.995],
  [1060, 0.997],
  [1530, 0.99],
  [1970, 0.94],
  [2325, 0.8],
  [2500, 0.6],
];

/** What a family is typically like; null for one that is not listed. */
export function familyProperties(family: string): FamilyProperties | null {
  const row = ROWS[family] as Row | undefined;
  if (!row) return null;
  const [expansion, cost, climate, stain, dndt] = row;
  return { expansion, cost, climate, stain, dndt };
}

/** A glass with what is not known of it taken as typical of its family; what was taken so is named in `ofFamily`. */
export function withFamily(glass: Material): Material {
  const family = familyProperties(glass.family);
  if (!family) return glass;
  const { dndt, ...rest } = family;
  const own = glass.typical ?? {};
  const taken = (Object.keys(rest) as (keyof typeof rest)[]).filter((key) => own[key] === undefined);
  const [from] = glass.range;
  const curve = [...EDGE.map(([beyond, share]) => [from + beyond, share] as const), ...CLEAR];
  const transmittance = {
    thickness: 10,
    nm: curve.map(([nm]) => nm),
    share: curve.map(([, share]) => share),
  };
  return {
    ...glass,
    typical: { ...rest, ...own },
    ...(!glass.thermal && { thermal: { kind: 'linear', dndt: dndt * 1e-6, against: 'air' } as const }),
    ...(!glass.transmittance && { transmittance }),
    ofFamily: [
      ...taken,
      ...(glass.thermal ? [] : ['thermal' as const]),
      ...(glass.transmittance ? [] : ['transmittance' as const]),
    ],
  };
}
