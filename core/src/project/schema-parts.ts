import * as yup from 'yup';
import { ID_PATTERN } from './model.ts';

/** Longest lists and texts a file may carry; more than any real project, less than what would hang a browser. */
export const LIMITS = {
  surfaces: 2000,
  points: 500,
  lenses: 100,
  table: 20_000,
  sags: 66_000,
  text: 200_000,
  name: 500,
  /** Two million triangles. */
  mesh: 40_000_000,
};

export const id = () =>
  yup
    .string()
    .strict()
    .required('an id is missing')
    .matches(ID_PATTERN, 'an id is made of a–z, 0–9 and _, and starts with a letter')
    .max(200);
export const text = (max: number) => yup.string().strict().max(max, `longer than ${max} characters`);
export const finite = () =>
  yup
    .number()
    .strict()
    .typeError('must be a number')
    .test('finite', 'must be a finite number', (value) => value === undefined || Number.isFinite(value));
export const needed = () => finite().required('a number is missing');
export const positive = () => needed().moreThan(0, 'must be above 0');
export const index = () => needed().min(1, 'an index is at least 1').max(10, 'an index is at most 10');
export const warmth = () => finite().min(-273, 'must be above −273 °C').max(5000, 'must be at most 5000 °C');
export const weight = () => needed().min(0, 'must not be negative');

export const extent = yup.lazy((value: unknown) =>
  typeof value === 'string'
    ? yup.string().strict().oneOf(['infinity'], 'must be a number or "infinity"')
    : needed().typeError('must be a number or "infinity"'),
);

/** Objects are checked for being objects at all; unknown keys are kept. */
export function object<F extends yup.ObjectShape>(fields: F) {
  return yup.object(fields).strict().typeError('must be an object').required('is missing');
}

export function optional<F extends yup.ObjectShape>(fields: F) {
  return yup.object(fields).strict().typeError('must be an object').optional().default(undefined);
}

export const frameFields = () => ({
  dx: finite(),
  dy: finite(),
  dz: finite(),
  tx: finite(),
  ty: finite(),
  tz: finite(),
});

export function list<S extends yup.ISchema<unknown>>(item: S, max: number) {
  return yup
    .array()
    .strict()
    .of(item as never)
    .typeError('must be a list')
    .max(max, `has more than ${max} entries`)
    .required('is missing')
    .test('unique-ids', 'two entries have the same id', (entries, context) => {
      const seen = new Set<unknown>();
      for (const entry of entries as { id?: unknown }[]) {
        const key = entry?.id;
        if (key !== undefined && seen.has(key)) {
          return context.createError({ message: `two entries have the id ${String(key)}` });
        }
        seen.add(key);
      }
      return true;
    });
}

/** A union told apart by `kind`: the schema of the kind that is named, or the list of known ones as the complaint. */
export function byKind(schemas: Readonly<Record<string, yup.AnySchema>>) {
  return yup.lazy((value: unknown) => {
    const kind = (value as { kind?: unknown } | null | undefined)?.kind;
    if (typeof kind === 'string' && Object.hasOwn(schemas, kind)) return schemas[kind];
    const known = Object.keys(schemas).join(', ');
    return object({
      kind: yup
        .string()
        .strict()
        .required('is missing')
        .oneOf(Object.keys(schemas), `must be one of: ${known}`),
    });
  });
}

export const numbers = yup
  .array()
  .strict()
  .of(needed())
  .typeError('must be a list of numbers')
  .required('is missing');

/** A long list of numbers, looked at in one go: entry by entry Yup takes seconds for what a grid holds. */
export function numbersWith(max: number, legal: (value: number) => boolean, complaint: string) {
  return yup
    .array()
    .strict()
    .typeError('must be a list of numbers')
    .required('is missing')
    .max(max, `has more than ${max} entries`)
    .test('numbers', complaint, (list, context) => {
      const wrong = (list as unknown[]).findIndex(
        (value) => typeof value !== 'number' || !Number.isFinite(value) || !legal(value),
      );
      return wrong < 0 || context.createError({ message: `entry ${wrong + 1} ${complaint}` });
    });
}

/** A list of at least `min` points of `size` numbers each. */
function points(size: number, min: number, what: string) {
  const numbers = `must be ${size === 2 ? 'two' : 'three'} numbers`;
  return yup
    .array()
    .strict()
    .of(yup.array().strict().of(needed()).typeError(numbers).length(size, numbers).required(numbers))
    .typeError(`must be a list of ${what}`)
    .min(min, `has fewer than ${min === 3 ? 'three' : 'two'} ${what}`)
    .max(LIMITS.points, `has more than ${LIMITS.points} ${what}`)
    .required('is missing');
}

/** Corners [x, y] of a polygon. */
export const corners = points(2, 3, 'corners');
/** Places [x, y, z] of a path. */
export const places = points(3, 2, 'places');
