import * as yup from 'yup';
import { illegal, type ParameterSpec } from '../math/parameter.ts';
import { byKind, finite, object } from './schema-parts.ts';

/** What a number of a parameter may be in a file: just what its cell takes. */
export function parameterSchema(spec: ParameterSpec): yup.ISchema<unknown> {
  const limited = finite().test('limits', (value, context) => {
    const wrong = typeof value === 'number' ? illegal(spec, value) : null;
    return wrong === null || context.createError({ message: wrong });
  });
  const number = spec.fallback === undefined ? limited.required('a number is missing') : limited;
  if (!spec.allowInfinity) return number;
  return yup.lazy((value: unknown) =>
    value === 'infinity' ? yup.mixed() : number.typeError('must be a number or "infinity"'),
  );
}

/** Schemas of the numbers of a thing, by their names in the document. */
export function numberFields(specs: readonly ParameterSpec[]): yup.ObjectShape {
  return Object.fromEntries(specs.map((spec) => [spec.id, parameterSchema(spec)])) as yup.ObjectShape;
}

/** Schemas of a registry of kinds, by the parameters that each of them has, and what else some of them hold. */
export function kinds(
  list: readonly { readonly kind: string; readonly parameters: readonly ParameterSpec[] }[],
  more: Readonly<Record<string, yup.ObjectShape>> = {},
) {
  return byKind(
    Object.fromEntries(
      list.map(({ kind, parameters }) => [
        kind,
        object({ kind: yup.string().strict(), ...numberFields(parameters), ...more[kind] }),
      ]),
    ),
  );
}
