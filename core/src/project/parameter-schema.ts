import * as yup from 'yup';
import type { ParameterSpec } from '../math/parameter.ts';
import { byKind, extent, finite, object } from './schema-parts.ts';

/** What a number of a parameter may be in a file. */
export function parameterSchema(spec: ParameterSpec) {
  if (spec.allowInfinity)
    return spec.fallback === undefined
      ? extent
      : yup.lazy((value: unknown) => (value === undefined ? yup.mixed().optional() : extent));
  let schema = finite();
  if (spec.min !== undefined) schema = schema.min(spec.min, `must be at least ${spec.min}`);
  if (spec.most !== undefined) schema = schema.max(spec.most, `must be at most ${spec.most}`);
  if (spec.whole) schema = schema.integer('must be a whole number');
  if (spec.above !== undefined) schema = schema.moreThan(spec.above, `must be above ${spec.above}`);
  return spec.fallback === undefined ? schema.required('a number is missing') : schema;
}

/** Schemas of a registry of kinds, by the parameters that each of them has, and what else some of them hold. */
export function kinds(
  list: readonly { readonly kind: string; readonly parameters: readonly ParameterSpec[] }[],
  more: Readonly<Record<string, yup.ObjectShape>> = {},
) {
  return byKind(
    Object.fromEntries(
      list.map(({ kind, parameters }) => {
        const fields = parameters.map((spec) => [spec.id, parameterSchema(spec)] as const);
        return [
          kind,
          object({
            kind: yup.string().strict(),
            ...Object.fromEntries(fields),
            ...more[kind],
          }),
        ];
      }),
    ),
  );
}
