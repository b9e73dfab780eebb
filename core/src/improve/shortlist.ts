import { CATALOGUE } from '../materials/catalogue.ts';
import type { GlassRules } from '../project/improve.ts';
import {
  abbeNumber,
  indexIn,
  internalTransmittance,
  type FamilyProperty,
  type Material,
} from '../materials/material.ts';

const D_LINE = 587.5618;
const BLUE = 400;

/** Ids of the glasses of the catalogue that keep all rules, with those of the hand, in the order of their codes. */
export function glassShortlist(rules: GlassRules): readonly string[] {
  const byHand = ({ id }: Material) => (rules.with?.includes(id) ? true : rules.without?.includes(id) ? false : null);
  return CATALOGUE.filter((glass) => /^g\d{6}$/.test(glass.id) && (byHand(glass) ?? keeps(glass, rules))).map(
    ({ id }) => id,
  );
}

function keeps(glass: Material, rules: GlassRules): boolean {
  const { typical = {}, ofFamily = [] } = glass;
  // Asked for what is known of the glass itself, what is typical of its family counts as unknown.
  const own = <T>(property: FamilyProperty, value: T) =>
    rules.knownOnly && ofFamily.includes(property) ? undefined : value;
  const [index, abbe] = [indexIn(glass, D_LINE), abbeNumber(glass.dispersion)];
  const within = (value: number | null | undefined, least = -Infinity, most = Infinity) => {
    if (least === -Infinity && most === Infinity) return true;
    return value === null || value === undefined ? !rules.knownOnly : value >= least && value <= most;
  };
  return (
    within(index, rules.minIndex, rules.maxIndex) &&
    within(abbe, rules.minAbbe, rules.maxAbbe) &&
    within(own('cost', typical.cost), undefined, rules.maxCost) &&
    within(own('climate', typical.climate), undefined, rules.maxClimate) &&
    within(own('stain', typical.stain), undefined, rules.maxStain) &&
    within(typical.density, undefined, rules.maxDensity) &&
    within(
      rules.minBlue === undefined ? null : own('transmittance', internalTransmittance(glass, BLUE, 10)),
      rules.minBlue,
    )
  );
}
