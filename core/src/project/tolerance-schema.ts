import * as yup from 'yup';
import { byKind, finite, id, LIMITS, needed, object, optional, list, positive, text } from './schema-parts.ts';
import { ADJUSTMENT_AIMS, FIGURE_ERRORS, MOTIONS } from './tolerances.ts';

/** A point of a tabled density. */
const point = yup
  .array()
  .strict()
  .of(needed())
  .typeError('must be a pair of numbers')
  .length(2, 'must be a pair of numbers');

const distribution = yup.lazy((value: unknown) =>
  value === undefined
    ? yup.mixed().optional()
    : byKind({
        uniform: object({}),
        triangular: object({}),
        ends: object({}),
        normal: object({ sigmas: positive(), truncated: yup.boolean().strict().optional() }),
        table: object({
          points: yup
            .array()
            .strict()
            .of(point)
            .typeError('must be a list of pairs')
            .required('is missing')
            .min(2, 'must have two points or more')
            .max(LIMITS.points, `has more than ${LIMITS.points} entries`),
        }),
      }),
);

const base = () => ({
  id: id(),
  name: text(LIMITS.name),
  lower: needed().max(0, 'must not be above 0'),
  upper: needed().min(0, 'must not be below 0'),
  distribution,
  off: yup.boolean().strict().oneOf([true], 'must be true').optional(),
  with: optional({
    group: text(LIMITS.name).required('is missing').min(1, 'is missing'),
    correlation: finite().min(-1, 'must be −1 to 1').max(1, 'must be −1 to 1'),
  }),
});
const maybe = (schema: () => yup.ISchema<unknown>) =>
  yup.lazy((value: unknown) => (value === undefined ? yup.mixed().optional() : schema()));
const oneOf = (words: readonly string[]) =>
  yup
    .string()
    .strict()
    .required('is missing')
    .oneOf(words, `must be one of ${words.join(', ')}`);
const address = () => text(LIMITS.name).required('is missing');

/** What may move after making, too; with the keys that stand beside it. */
const numberTarget = (beside: yup.ObjectShape) => object({ ...beside, address: address() });
const elementTarget = (beside: yup.ObjectShape) =>
  object({
    ...beside,
    lens: id(),
    surface: id(),
    motion: oneOf(MOTIONS),
    to: maybe(id),
    pivot: finite(),
  });

const figureTarget = () => object({ ...base(), lens: id(), surface: id(), error: oneOf(FIGURE_ERRORS) });

const tolerance = byKind({
  number: numberTarget(base()),
  share: object({ ...base(), address: address() }),
  fringes: object({ ...base(), address: address() }),
  wedge: object({ ...base(), lens: id(), surface: id(), across: oneOf(['x', 'y']) }),
  melt: object({ ...base(), material: id(), quantity: oneOf(['index', 'abbe']) }),
  element: elementTarget(base()),
  figure: figureTarget(),
  homogeneity: figureTarget(),
});

const compensator = byKind({
  refocus: object({
    id: id(),
    lens: id(),
    criterion: oneOf(['centroid', 'chief', 'paraxial']),
  }),
  adjust: object({
    id: id(),
    name: text(LIMITS.name),
    target: byKind({ number: numberTarget({}), element: elementTarget({}) }),
    lower: needed().max(0, 'must not be above 0'),
    upper: needed().min(0, 'must not be below 0'),
    aim: oneOf(ADJUSTMENT_AIMS),
    requirement: maybe(id),
  }),
});

/** What studies of tolerances work with. */
export const tolerancingSchema = optional({
  tolerances: list(tolerance, LIMITS.surfaces),
  compensators: maybe(() => list(compensator, LIMITS.lenses)),
  watch: yup.lazy((value: unknown) =>
    value === undefined
      ? yup.mixed().optional()
      : yup
          .array()
          .strict()
          .of(
            object({
              requirement: id(),
              off: yup.boolean().strict().oneOf([true], 'must be true').optional(),
              min: finite(),
              max: finite(),
            }),
          )
          .typeError('must be a list')
          .max(LIMITS.surfaces, 'has too many entries'),
  ),
  steps: finite().integer('must be a whole number').min(3, 'must be at least 3').max(101, 'must be at most 101'),
});
