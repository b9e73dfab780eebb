import * as yup from 'yup';
import { FAMILY_PROPERTIES } from '../materials/material.ts';
import { MATERIAL_SPECS, MELT_SPECS, SURROUNDINGS } from './lens-specs.ts';
import { numberFields, parameterSchema } from './parameter-schema.ts';
import {
  LIMITS,
  id,
  text,
  finite,
  needed,
  positive,
  object,
  optional,
  byKind,
  numbers,
  numbersWith,
} from './schema-parts.ts';

const isShare = (value: number) => value >= 0 && value <= 1;
const shares = () => numbersWith(LIMITS.table, isShare, 'must be a number from 0 to 1');
const positives = () => numbersWith(LIMITS.table, (value) => value > 0, 'must be a number above 0');

/** Two lists of the same length belong together, entry by entry. */
function paired<F extends yup.ObjectShape>(fields: F, a: keyof F & string, b: keyof F & string) {
  return object(fields).test('pairs', `${a} and ${b} must have the same length`, (value) => {
    const lists = value as Record<string, unknown[] | undefined>;
    return lists[a]?.length === lists[b]?.length;
  });
}

const rising = () =>
  positives()
    .min(1, 'is empty')
    .test('rising', 'must rise from entry to entry', (value) =>
      (value as number[]).every((entry, i, all) => i === 0 || entry > all[i - 1]),
    );

const terms = () => numbers.min(1, 'is empty').max(20, 'has more than 20 entries');

const dispersion = byKind({
  sellmeier: paired({ a: finite(), b: terms(), c: terms() }, 'b', 'c'),
  power_series: paired({ coefficients: terms(), powers: terms() }, 'coefficients', 'powers'),
  cauchy: paired({ coefficients: terms(), powers: terms() }, 'coefficients', 'powers'),
  conrady: object({ a: needed(), b: needed(), c: needed() }),
  herzberger: object({ coefficients: numbers.min(1, 'is empty').max(6, 'has more than 6 entries') }),
  table: paired({ nm: rising(), n: positives() }, 'nm', 'n'),
  model: object(numberFields(MATERIAL_SPECS.model!)),
  constant: object(numberFields(MATERIAL_SPECS.constant!)),
});

/** A material as projects embed it. */
export const materialSchema = object({
  id: id(),
  label: text(LIMITS.name).required('is missing'),
  family: text(LIMITS.name).required('is missing'),
  dispersion,
  range: numbers
    .length(2, 'must be two wavelengths in nm')
    .test('rising', 'must rise from the first to the second', (value) => (value?.[0] ?? 0) < (value?.[1] ?? 0)),
  against: yup.string().strict().oneOf(['air', 'vacuum']),
  temperature: parameterSchema(SURROUNDINGS[0]),
  thermal: yup.lazy((value: unknown) =>
    value === undefined
      ? yup.mixed().optional()
      : byKind({
          linear: object({
            dndt: needed(),
            against: yup.string().strict().required('is missing').oneOf(['air', 'vacuum']),
          }),
          band: object({
            d: numbers.length(3, 'must be three numbers'),
            e: numbers.length(2, 'must be two numbers'),
            resonance: needed().min(0, 'must not be negative'),
          }),
        }),
  ),
  melt: optional(numberFields(MELT_SPECS)),
  transmittance: yup.lazy((value: unknown) =>
    value === undefined
      ? yup.mixed().optional()
      : paired({ thickness: positive(), nm: rising(), share: shares() }, 'nm', 'share'),
  ),
  typical: optional({
    density: finite(),
    expansion: finite(),
    cost: finite(),
    climate: finite(),
    stain: finite(),
  }),
  ofFamily: yup.lazy((value: unknown) =>
    value === undefined
      ? yup.mixed().optional()
      : yup.array(yup.string().strict().oneOf(FAMILY_PROPERTIES).required()).strict().max(FAMILY_PROPERTIES.length),
  ),
  trust: yup.string().strict().oneOf(['constructed', 'approximate']),
  note: text(LIMITS.text),
});
