import { CATALOGUE } from '../materials/catalogue.ts';
import { abbeNumber, indexIn, internalTransmittance, type Material } from '../materials/material.ts';

/** Which glasses may be taken; what is left out limits nothing. */
export interface GlassRules {
  readonly minIndex?: number;
  readonly maxIndex?: number;
  readonly minAbbe?: number;
  readonly maxAbbe?: number;
  /** Price over that of 517642, climate and stain class, density in g/cm³: at most. */
  readonly maxCost?: number;
  readonly maxClimate?: number;
  readonly maxStain?: number;
  readonly maxDensity?: number;
  /** Internal transmittance of 10 mm at 400 nm, at least; 0 to 1. */
  readonly minBlue?: number;
  /** Ids of glasses that are taken or left out by hand, whatever the rules say. */
  readonly with?: readonly string[];
  readonly without?: readonly string[];
  /** Whether glasses go of which a value that is asked for is not known. */
  readonly knownOnly?: boolean;
}

const D_LINE = 587.5618;
const BLUE = 400;

/** Ids of the glasses of the catalogue that keep all rules, with those of the hand, in the order of their codes. */
export function glassShortlist(rules: GlassRules): readonly string[] {
  const byHand = ({ id }: Material) =>
    rules.with?.includes(id) ? true : rules.without?.includes(id) ? false : null;
  return CATALOGUE.filter((glass) => /^g\d{6}$/.test(glass.id) && (byHand(glass) ?? keeps(glass, rules))).map(
    ({ id }) => id,
  );
}

function keeps(glass: Material, rules: GlassRules): boolean {
  const { typical = {} } = glass;
  const [index, abbe] = [indexIn(glass, D_LINE), abbeNumber(glass.dispersion)];
  const within = (value: number | null | undefined, least = -Infinity, most = Infinity) => {
    if (least === -Infinity && most === Infinity) return true;
    return value === null || value === undefined ? !rules.knownOnly : value >= least && value <= most;
  };
  return (
    within(index, rules.minIndex, rules.maxIndex) &&
    within(abbe, rules.minAbbe, rules.maxAbbe) &&
    within(typical.cost, undefined, rules.maxCost) &&
    within(typical.climate, undefined, rules.maxClimate) &&
    within(typical.stain, undefined, rules.maxStain) &&
    within(typical.density, undefined, rules.maxDensity) &&
    within(rules.minBlue === undefined ? null : internalTransmittance(glass, BLUE, 10), rules.minBlue)
  );
}
