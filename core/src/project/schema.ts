import * as yup from 'yup';
import { AREA_PLACE } from '../apertures/area.ts';
import { APERTURE_AREAS, OBSCURATION_AREAS } from '../apertures/registry.ts';
import { GRADIENT_SPECS } from '../materials/gradient.ts';
import { LEAST_VALUES } from '../math/spline2d.ts';
import type { ParameterSpec } from '../math/parameter.ts';
import { phaseDefinition, PHASES } from '../phases/registry.ts';
import { shapeDefinition, SHAPES } from '../shapes/registry.ts';
import {
  apertureSpec,
  fieldSpecs,
  NM,
  OBJECT_DISTANCE,
  OBSCURATION,
  SURROUNDINGS,
  THICKNESS,
  WEIGHT,
} from './lens-specs.ts';
import { kinds, numberFields, parameterSchema } from './parameter-schema.ts';
import { finishSchema, sceneSchema } from './scene-schema.ts';
import { materialSchema } from './material-schema.ts';
import { PROJECT_FORMAT, PROJECT_VERSION, type FieldKind } from './model.ts';
import { MOST_PLATES, USUAL_LIMITS, MADE_BY } from './improve.ts';
import { STATE_WORDS } from './states.ts';
import { tolerancingSchema } from './tolerance-schema.ts';
import {
  LIMITS,
  id,
  text,
  finite,
  needed,
  positive,
  weight,
  extent,
  object,
  optional,
  frameFields,
  list,
  byKind,
  numbersWith,
  corners,
} from './schema-parts.ts';

const sagGrid = yup.lazy((value: unknown) =>
  value === undefined
    ? yup.mixed().optional()
    : object({
        x: needed(),
        y: needed(),
        dx: positive(),
        dy: positive(),
        columns: needed().integer('must be a whole number').min(LEAST_VALUES, `must be at least ${LEAST_VALUES}`),
        z: numbersWith(LIMITS.sags, () => true, 'must be a finite number'),
      }).test('rows', `z must hold whole rows, at least ${LEAST_VALUES}`, (grid) => {
        const { columns, z } = grid as { columns?: number; z?: unknown[] };
        const rows = (z?.length ?? 0) / (columns ?? 1);
        return Number.isInteger(rows) && rows >= LEAST_VALUES;
      }),
);

const shape = kinds(
  SHAPES.map(({ kind }) => shapeDefinition(kind)!),
  { sampled_sag: { grid: sagGrid } },
);
const phase = kinds(PHASES.map(({ kind }) => phaseDefinition(kind)!));

/** Schemas of kinds of areas. */
function areas(
  definitions: readonly { readonly kind: string; readonly parameters: readonly ParameterSpec[] }[],
): Record<string, yup.AnySchema> {
  return Object.fromEntries(
    definitions.map(({ kind, parameters }) => {
      const fields = numberFields([...parameters, ...AREA_PLACE]);
      return [kind, object({ ...fields, ...(kind === 'polygon' && { points: corners }) })];
    }),
  );
}

const surface = object({
  id: id(),
  name: text(LIMITS.name),
  comment: text(LIMITS.text),
  shape,
  phase: yup.lazy((value: unknown) => (value === undefined ? yup.mixed().optional() : phase)),
  reflects: yup.boolean().strict().typeError('must be true or false'),
  finish: id().notRequired(),
  aperture: byKind({ automatic: object({}), ...areas(APERTURE_AREAS) }),
  obscurations: yup.lazy((value: unknown) =>
    value === undefined
      ? yup.mixed().optional()
      : list(byKind(areas(OBSCURATION_AREAS)), LIMITS.points, (obscurations) =>
          obscurations.test('ids', 'an id is missing', (entries) =>
            (entries as { id?: unknown }[]).every((entry) => id().isValidSync(entry?.id)),
          ),
        ),
  ),
  frame: optional({ ...frameFields(), axis: yup.string().strict().oneOf(['return', 'carry', 'reflect']) }),
  behind: optional({ ...frameFields(), returnTo: id().notRequired() }),
  after: yup
    .object({
      thickness: parameterSchema(THICKNESS),
      material: id(),
      name: text(LIMITS.name),
      excluded: yup.boolean().strict().oneOf([true], 'must be true').optional(),
      gradient: optional(numberFields(GRADIENT_SPECS)),
    })
    .strict()
    .typeError('must be an object or null')
    .nullable()
    .defined('is missing')
    .default(undefined),
});

const FIELD_KINDS: readonly FieldKind[] = ['angle', 'object_height', 'image_height', 'real_image_height'];
const slope = () => needed().moreThan(-90, 'must be above −90').lessThan(90, 'must be below 90');

const keptRay = object({
  id: id(),
  name: text(LIMITS.name),
  wavelength: id().nullable().defined('is missing'),
  drawn: yup.boolean().strict().typeError('must be true or false'),
  source: byKind({
    pupil: object({ field: id(), px: needed().min(-1).max(1), py: needed().min(-1).max(1) }),
    launched: object({ x: needed(), y: needed(), z: needed(), tx: slope(), ty: slope() }),
    aimed: object({ field: id(), surface: id(), x: needed(), y: needed() }),
  }),
});

const lens = object({
  id: id(),
  name: text(LIMITS.name).defined('is missing'),
  object: object({ distance: parameterSchema(OBJECT_DISTANCE) }),
  aperture: object({
    kind: yup
      .string()
      .strict()
      .required('is missing')
      .oneOf([
        'entrance_pupil_diameter',
        'stop_semi_aperture',
        'image_f_number',
        'working_f_number',
        'real_working_f_number',
        'object_na',
      ]),
    value: parameterSchema(apertureSpec('image_f_number')),
  }),
  pupil: object({
    aim: yup.string().strict().required('is missing').oneOf(['paraxial', 'stop']),
    obscuration: parameterSchema(OBSCURATION),
  }),
  fields: byKind(
    Object.fromEntries(
      FIELD_KINDS.map((kind) => {
        const point = object({ id: id(), ...numberFields([...fieldSpecs(kind), WEIGHT]) });
        return [kind, object({ points: list(point, LIMITS.points) })];
      }),
    ),
  ),
  imageSpace: yup.string().strict().oneOf(['focal', 'afocal'], 'must be "focal" or "afocal"'),
  wavelengths: list(object({ id: id(), ...numberFields([NM, WEIGHT]) }), LIMITS.points),
  primary: id().nullable().defined('is missing'),
  stop: id().nullable().defined('is missing'),
  rays: listOrNone(keptRay, LIMITS.points),
  surfaces: list(surface, LIMITS.surfaces, (surfaces) =>
    surfaces
      .min(1, 'has no image surface')
      .test('media', 'every surface but the last needs a medium after it, and the last has none', (entries) =>
        (entries as { after?: unknown }[]).every(
          (entry, index, all) => index < all.length - 1 === (entry?.after != null),
        ),
      ),
  ),
});

const requirement = object({
  id: id(),
  measure: id(),
  lens: id(),
  settings: yup.object().strict().typeError('must be an object').required('is missing'),
  state: id().optional(),
  label: text(LIMITS.name),
  min: finite(),
  max: finite(),
});

/** What addresses mean and which values they take is looked up where states are applied: what does not fit is told there. */
const modelState = object({
  id: id().notOneOf([...STATE_WORDS], 'must be another word: this one has a meaning of its own'),
  name: text(LIMITS.name).defined('is missing'),
  overrides: list(
    object({
      id: id(),
      address: text(LIMITS.text).required('is missing'),
      value: yup.lazy((value: unknown) => (typeof value === 'string' && value !== 'infinity' ? id() : extent)),
      follows: yup.boolean().strict().oneOf([true], 'must be true').optional(),
    }),
    LIMITS.surfaces,
  ),
});

const board = object({
  id: id(),
  name: text(LIMITS.name).defined('is missing'),
  tiles: list(
    object({
      id: id(),
      name: text(LIMITS.name).optional(),
      kind: id(),
      columns: needed().integer('must be a whole number').min(2, 'must be at least 2').max(12, 'must be at most 12'),
      rows: needed().integer('must be a whole number').min(1, 'must be at least 1').max(8, 'must be at most 8'),
      state: id().optional(),
      settings: yup.object().strict().typeError('must be an object').required('is missing'),
    }),
    LIMITS.lenses,
  ),
});

const formula = () => text(LIMITS.formula).required('is missing');

/** States of numbers by address; what an address means is looked up where it is used. */
const parameterStates = yup.lazy((value: unknown) =>
  value === undefined
    ? yup.mixed().optional()
    : typeof value !== 'object' || value === null || Array.isArray(value)
      ? yup.mixed().test('object', 'must be an object', () => false)
      : Object.keys(value).length > LIMITS.surfaces
        ? yup.mixed().test('many', `must have at most ${LIMITS.surfaces} entries`, () => false)
        : object(Object.fromEntries(Object.keys(value).map((address) => [address, parameterState]))),
);

const parameterState = byKind({
  free: object({ min: finite(), max: finite() }),
  linked: object({ formula: formula() }),
  derived: object({
    measure: id(),
    of: id(),
    settings: yup.object().strict().typeError('must be an object').required('is missing'),
    equals: formula(),
  }),
});

const goalBase = () => ({
  id: id(),
  label: text(LIMITS.name),
  of: id(),
  state: id().optional(),
  weight: weight(),
  off: yup.boolean().strict().oneOf([true], 'must be true').optional(),
  group: id().optional(),
});

const goalGroup = object({
  id: id(),
  name: text(LIMITS.name).defined('is missing'),
  weight: weight(),
  off: yup.boolean().strict().oneOf([true], 'must be true').optional(),
});

const goal = byKind({
  measure: object({
    ...goalBase(),
    measure: id(),
    settings: yup.object().strict().typeError('must be an object').required('is missing'),
    target: finite(),
    min: finite(),
    max: finite(),
  }),
  image_quality: object({
    ...goalBase(),
    what: yup
      .string()
      .strict()
      .required('is missing')
      .oneOf(['spot', 'wavefront', 'mtf'], 'must be "spot", "wavefront" or "mtf"'),
    by: yup.string().strict().oneOf(['rms', 'peak'], 'must be "rms" or "peak"').optional(),
    workshop: yup
      .string()
      .strict()
      .oneOf(MADE_BY, `must be one of ${MADE_BY.join(', ')}`)
      .optional(),
    frequency: finite()
      .moreThan(0, 'must be above 0')
      .when('what', { is: 'mtf', then: (one) => one.required('is missing') }),
    about: yup.string().strict().required('is missing').oneOf(['centroid', 'chief'], 'must be "centroid" or "chief"'),
    lateralColour: yup.boolean().strict().required('is missing'),
    rings: finite().integer('must be a whole number').min(2, 'must be at least 2').max(24, 'must be at most 24'),
  }),
});

const making = optional({
  off: yup.boolean().strict().oneOf([true], 'must be true').optional(),
  ...Object.fromEntries(
    Object.keys(USUAL_LIMITS).map((name) => [name, finite().nullable().min(0, 'must not be negative')]),
  ),
});

const glassIds = () => listOrNone(id(), 1000);
const glassRules = optional({
  ...Object.fromEntries(
    ['minIndex', 'maxIndex', 'minAbbe', 'maxAbbe', 'maxCost', 'maxClimate', 'maxStain', 'maxDensity', 'minBlue'].map(
      (name) => [name, finite().min(0, 'must not be negative')],
    ),
  ),
  with: yup.lazy(() => glassIds()),
  without: yup.lazy(() => glassIds()),
  knownOnly: yup.boolean().strict().optional(),
});

const mesh = object({
  id: id(),
  name: text(LIMITS.name).defined('is missing'),
  corners: text(LIMITS.mesh).defined('is missing'),
  triangles: text(LIMITS.mesh).defined('is missing'),
});

/** A list that is not there where it would be empty. */
function listOrNone<S extends yup.ISchema<unknown>>(item: S, max: number) {
  return yup.lazy((value: unknown) => (value === undefined ? yup.mixed().optional() : list(item, max)));
}

/** The whole document, version 1. Validate with `{ strict: true, abortEarly: false }`. */
export const projectSchema = object({
  format: yup.string().strict().required('is missing').oneOf([PROJECT_FORMAT], `must be "${PROJECT_FORMAT}"`),
  version: needed().oneOf([PROJECT_VERSION]),
  name: text(LIMITS.name).defined('is missing'),
  notes: text(LIMITS.text).defined('is missing'),
  lenses: list(lens, LIMITS.lenses),
  materials: list(materialSchema, LIMITS.surfaces),
  requirements: list(requirement, LIMITS.points),
  surroundings: optional(numberFields(SURROUNDINGS)),
  scenes: listOrNone(sceneSchema, LIMITS.lenses),
  finishes: listOrNone(finishSchema, LIMITS.surfaces),
  meshes: listOrNone(mesh, LIMITS.lenses),
  boards: listOrNone(board, LIMITS.lenses),
  parameters: parameterStates,
  states: listOrNone(modelState, LIMITS.points),
  goals: listOrNone(goal, LIMITS.points),
  goalGroups: listOrNone(goalGroup, LIMITS.points),
  making,
  glassRules,
  testPlates: optional({
    name: text(LIMITS.name).defined('is missing'),
    plates: list(object({ radius: positive(), name: text(LIMITS.name) }), MOST_PLATES),
  }),
  tolerancing: tolerancingSchema,
});
