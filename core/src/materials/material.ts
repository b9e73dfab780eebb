import { monotoneCubic } from '../math/monotone-cubic.ts';
import { AIR_FROM, airIndex, STANDARD, type Surroundings } from './air.ts';
import { refractiveIndex, type Dispersion } from './dispersion.ts';
import { indexRise, type Thermal } from './thermal.ts';

/** Share of light that a thickness of the material lets through, reflection at its faces apart. */
export interface InternalTransmittance {
  /** mm. */
  readonly thickness: number;
  /** Rising, nm. */
  readonly nm: readonly number[];
  /** 0 to 1. */
  readonly share: readonly number[];
}

/** Typical values for choosing, not for computing: they differ from melt to melt and maker to maker. */
export interface TypicalProperties {
  /** g/cm³. */
  readonly density?: number;
  /** Linear thermal expansion near room temperature, 1e-6/K. */
  readonly expansion?: number;
  /** Price of a blank over that of 517642 borosilicate crown. */
  readonly cost?: number;
  /** Resistance to humid climate, 1 (best) to 4. */
  readonly climate?: number;
  /** Resistance to staining by weak acids, 0 (best) to 5. */
  readonly stain?: number;
}

/** Properties that may be typical of a family only. */
export const FAMILY_PROPERTIES = ['expansion', 'cost', 'climate', 'stain', 'thermal', 'transmittance'] as const;
export type FamilyProperty = (typeof FAMILY_PROPERTIES)[number];

/** In what one melt of a glass differs from the catalogue. */
export interface Melt {
  /** Change of the index at every wavelength. */
  readonly index?: number;
  /** By which share its differences from the index at the d line are larger: −0.01 for an Abbe number that is about 1 % higher. */
  readonly dispersion?: number;
}

/** What a medium is made of; projects embed the records that they use. */
export interface Material {
  readonly id: string;
  /** What a list shows first: the six-digit code of a glass, the name of a substance. */
  readonly label: string;
  /** Family in the trade's words, such as `borosilicate crown`. */
  readonly family: string;
  readonly dispersion: Dispersion;
  /** Wavelengths in nm between which the index formula may be used. */
  readonly range: readonly [number, number];
  /** What the index is measured against: `air` (20 °C, 101325 Pa) when left out. */
  readonly against?: 'air' | 'vacuum';
  /** Temperature of the index data, °C; 20 when left out. */
  readonly temperature?: number;
  readonly thermal?: Thermal;
  readonly melt?: Melt;
  readonly transmittance?: InternalTransmittance;
  readonly typical?: TypicalProperties;
  /** Which of its properties are not its own, but typical of its family. */
  readonly ofFamily?: readonly FamilyProperty[];
  /** How far the index can be trusted; measured when left out. */
  readonly trust?: 'constructed' | 'approximate';
  /** Where the constants come from, or what is special about them. */
  readonly note?: string;
}

/** The medium of a gap; its index is 1 because catalogue indices are relative to air. */
export const AIR: Material = {
  id: 'air',
  label: 'air',
  family: 'gas',
  dispersion: { kind: 'constant', index: 1 },
  range: [100, 20000],
};

/** Nothing at all: against air its index lies below 1. */
export const VACUUM: Material = {
  id: 'vacuum',
  label: 'vacuum',
  family: 'gas',
  dispersion: { kind: 'constant', index: 1 },
  range: [AIR_FROM, 20000],
  against: 'vacuum',
};

/** Whether a material fills gaps (gas) rather than elements (solid). */
export function isGas(material: Material): boolean {
  return material.family === 'gas';
}

/** Whether the material's index is defined at a wavelength in nm. */
export function inRange(material: Material, nm: number): boolean {
  return nm >= material.range[0] && nm <= material.range[1];
}

/** Index by the record, and by what its melt differs from it. */
function meltIndex({ dispersion, melt }: Material, nm: number): number {
  const index = refractiveIndex(dispersion, nm);
  if (!melt) return index;
  const spread = melt.dispersion ? melt.dispersion * (index - refractiveIndex(dispersion, LINES.d)) : 0;
  return index + (melt.index ?? 0) + spread;
}

/**
 * Index of a material in its surroundings, in the one system that lenses are traced in: against air of 20 °C and 101325 Pa, in which
 * wavelengths are given too. In such air it is the index of the record; elsewhere the absolute index is formed, changed by the
 * temperature, and put over that of the air of the system.
 *
 * NaN where a formula has no value.
 *
 * @param nm - wavelength in nm
 */
export function indexIn(material: Material, nm: number, at: Surroundings = STANDARD): number {
  const { against = 'air', thermal, temperature: known = STANDARD.temperature } = material;
  const standard = at.temperature === STANDARD.temperature && at.pressure === STANDARD.pressure;
  const index = meltIndex(material, nm);
  if (material.id === AIR.id) return standard ? 1 : airIndex(nm, at) / airIndex(nm);
  const rise = thermal ? at.temperature - known : 0;
  if (rise === 0) return against === 'air' ? index : index / airIndex(nm);
  const system = airIndex(nm);
  const absolute = against === 'air' ? index * system : index;
  const change = indexRise(thermal!, absolute, nm, rise);
  if (thermal!.kind === 'linear' && thermal!.against === 'air') {
    const local = { temperature: at.temperature, pressure: STANDARD.pressure };
    return ((absolute / system + change) * airIndex(nm, local)) / system;
  }
  return (absolute + change) / system;
}

const spectra = new WeakMap<InternalTransmittance, (nm: number) => number>();

/**
 * Share of light that goes through a way in the material (Beer and Lambert), its absorption monotone between the given wavelengths;
 * null where the record does not say: outside its table, or without one.
 *
 * @param nm - wavelength in nm
 * @param way - geometric length in mm, not negative
 */
export function internalTransmittance({ transmittance }: Material, nm: number, way: number): number | null {
  if (!transmittance) return null;
  const { nm: at, share, thickness } = transmittance;
  if (nm < at[0] || nm > at[at.length - 1]) return null;
  let absorbance = spectra.get(transmittance);
  if (!absorbance) {
    // A record of 0 means less than it could show: what is left is counted as a millionth.
    absorbance = monotoneCubic(
      at,
      share.map((value) => -Math.log(Math.max(value, 1e-6))),
    );
    spectra.set(transmittance, absorbance);
  }
  return Math.exp((-absorbance(nm) * way) / thickness);
}

/** Spectral lines that glasses are described by, nm. */
/** Wavelengths by which glasses are described, nm. */
export const LINES = { g: 435.8343, F: 486.1327, d: 587.5618, C: 656.2725 } as const;

/**
 * Abbe number Vd = (nd − 1)/(nF − nC).
 *
 * Infinity for a medium without dispersion, NaN where one of the lines has no index.
 */
export function abbeNumber(dispersion: Dispersion): number {
  const index = (line: keyof typeof LINES) => refractiveIndex(dispersion, LINES[line]);
  return (index('d') - 1) / (index('F') - index('C'));
}

/** Relative partial dispersion P(g,F) = (ng − nF)/(nF − nC). NaN where a line has no index. */
export function partialDispersion(dispersion: Dispersion): number {
  const index = (line: keyof typeof LINES) => refractiveIndex(dispersion, LINES[line]);
  return (index('g') - index('F')) / (index('F') - index('C'));
}

/**
 * International six-digit code (nd − 1)(Vd): three digits of each, such as `517642`. Empty where no such code can be
 * written: without dispersion, opaque at a line, an index of 2 or more.
 */
export function glassCode(dispersion: Dispersion): string {
  const vd = abbeNumber(dispersion);
  if (!(vd > 0 && vd < 99.95)) return '';
  const index = Math.round((refractiveIndex(dispersion, LINES.d) - 1) * 1000);
  if (!(index > 0 && index < 1000)) return '';
  return `${String(index).padStart(3, '0')}${String(Math.round(vd * 10)).padStart(3, '0')}`;
}
