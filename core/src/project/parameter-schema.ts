import * as yup from 'yup';
import { MOST_SPECTRAL_ROWS } from '../light/spectral.ts';
import { illegalEntry, tableProblem, type Kind, type TableSpec } from '../math/kinds.ts';
import { illegal, type ParameterSpec } from '../math/parameter.ts';
import { byKind, corners, finite, id, LIMITS, list, numbersWith, object, places, positive } from './schema-parts.ts';

/** What a number of a parameter may be in a file: just what its cell takes. */
export function parameterSchema(spec: ParameterSpec): yup.ISchema<unknown> {
  const limited = finite().test('limits', (value, context) => {
    const wrong = typeof value === 'number' ? illegal(spec, value) : null;
    return wrong === null || context.createError({ message: wrong });
  });
  const number = spec.fallback === undefined ? limited.required('a number is missing') : limited;
  if (spec.spectral) {
    const { spectral: _table, fallback: _none, ...each } = spec;
    const table = spectralTable(each);
    const either = number.typeError('must be a number or a table over the wavelength');
    return yup.lazy(
      (value: unknown) => (typeof value === 'object' && value !== null ? table : either) as yup.AnySchema,
    );
  }
  if (!spec.allowInfinity) return number;
  return yup.lazy((value: unknown) =>
    value === 'infinity' ? yup.mixed() : number.typeError('must be a number or "infinity"'),
  );
}

/** A table over the wavelength in place of a number. */
function spectralTable(value: ParameterSpec) {
  const row = object({ id: id(), nm: positive(), value: parameterSchema(value) });
  return object({
    kind: yup.string().strict().required('is missing').oneOf(['table'], 'must be “table”'),
    rows: list(row, MOST_SPECTRAL_ROWS, (rows) => rows.min(1, 'has no row')),
  });
}

/** Schemas of the numbers of a thing, by their names in the document. */
export function numberFields(specs: readonly ParameterSpec[]): yup.ObjectShape {
  return Object.fromEntries(specs.map((spec) => [spec.id, parameterSchema(spec)])) as yup.ObjectShape;
}

/** Schemas of the lists of a table: each entry legal, and all lists of one length. */
function tableFields({ columns }: TableSpec): yup.ObjectShape {
  return Object.fromEntries(
    columns.map((column) => [
      column.id,
      numbersWith(LIMITS.table, (value) => illegalEntry(column, value) === null, illegalEntry(column, NaN)!),
    ]),
  );
}

/**
 * Schemas of a registry of kinds: their numbers, tables and points.
 *
 * @param more - what else some of them hold
 * @param beside - kinds that the registry does not have
 */
export function kinds(
  list: readonly Pick<Kind<{ readonly kind: string }>, 'kind' | 'parameters' | 'table' | 'points'>[],
  more: Readonly<Record<string, yup.ObjectShape>> = {},
  beside: Readonly<Record<string, yup.AnySchema>> = {},
) {
  const schemaOf = ({ kind, parameters, table, points = {} }: (typeof list)[number]) => {
    const whole = object({
      kind: yup.string().strict(),
      ...numberFields(parameters),
      ...(table && tableFields(table)),
      ...Object.fromEntries(Object.entries(points).map(([name, axes]) => [name, axes.length === 2 ? corners : places])),
      ...more[kind],
    });
    if (!table) return whole;
    return whole.test('table', (value, context) => {
      const problem = tableProblem(table, value as Record<string, unknown>);
      return problem === null || context.createError({ message: problem });
    });
  };
  return byKind({ ...Object.fromEntries(list.map((one) => [one.kind, schemaOf(one)])), ...beside });
}
