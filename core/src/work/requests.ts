import * as yup from 'yup';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { findMeasure, MEASURES, subjectOf, type MeasureRequest } from '../measures/registry.ts';
import { scanSize, type ScanAxis } from '../measures/scan.ts';
import type { Project } from '../project/model.ts';
import { outlineProblem, textProblem } from '../project/outline.ts';
import { readProject } from '../project/read.ts';
import { setByText } from '../project/set-text.ts';
import type { TraceOrder } from './trace-report.ts';

/** Most measures in one request, and most points of one scan. */
export const MOST_MEASURES = 200;
export const MOST_POINTS = 20_000;

/** What other programs may ask for: measures of a project, after some of its parameters were set. */
export interface MeasuresRequest {
  readonly project: Project;
  readonly measures: readonly MeasureRequest[];
}

/** The same over all combinations of the values of one or two parameters. */
export interface ScanRequest extends MeasuresRequest {
  readonly axes: readonly ScanAxis[];
}

/** A lot of lenses or lamps, made within the tolerances of a project after some of its parameters were set. */
export interface LotRequest {
  readonly project: Project;
  readonly trials: number;
  readonly seed: number;
}

/** Trials of a lot at most. */
export const MOST_TRIALS = 10_000;

/** Letters of a name in a request at most. */
const LONGEST_NAME = 200;
const name = () => yup.string().max(LONGEST_NAME, `longer than ${LONGEST_NAME} letters`);

const measure = yup
  .object({
    measure: name().required('name a measure by its id'),
    lens: name(),
    state: name(),
    settings: yup.object().default({}),
  })
  .noUnknown('a measure is asked for by measure, lens, state and settings');
const ofProject = {
  project: yup.mixed().required('the project is missing'),
  set: yup.object().default({}),
};
const common = {
  ...ofProject,
  measures: yup
    .array(measure)
    .required('say which measures, as a list')
    .min(1, 'say which measures')
    .max(MOST_MEASURES, `at most ${MOST_MEASURES} measures at once`),
};
const measuresSchema = yup
  .object(common)
  .noUnknown('a request has project, set and measures')
  .typeError('the body must be one JSON object');
const scanSchema = yup
  .object({
    ...common,
    axes: yup
      .array(
        yup
          .object({
            address: name().required('name a parameter by its address'),
            values: yup
              .array(yup.number().required())
              .required('give the values as a list of numbers')
              .min(1, 'give at least one value'),
          })
          .noUnknown('an axis has address and values'),
      )
      .required('say what is scanned, as a list of axes')
      .min(1, 'say what is scanned')
      .max(2, 'a scan has one or two axes'),
  })
  .noUnknown('a request has project, set, measures and axes')
  .typeError('the body must be one JSON object');

const whole = (least: number, most: number) => {
  const wrong = `a whole number from ${least} to ${most}`;
  return yup.number().integer(wrong).min(least, wrong).max(most, wrong);
};
const lotSchema = yup
  .object({ ...ofProject, trials: whole(1, MOST_TRIALS).default(500), seed: whole(0, 2 ** 32 - 1).default(1) })
  .noUnknown('a request has project, set, trials and seed')
  .typeError('the body must be one JSON object');

/** Reads the body of a request for a lot; fails with every place that is wrong, and for a project without tolerances. */
export function readLotRequest(text: string): Outcome<LotRequest> {
  const body = readBody(text, lotSchema);
  if (!body.ok) return body;
  const project = projectOf(body.value);
  if (!project.ok) return project;
  if (!project.value.tolerancing?.tolerances.some(({ off }) => !off))
    return failure('project: it has no tolerances; add some in the Tolerance room');
  return success({ project: project.value, trials: body.value.trials, seed: body.value.seed });
}

/** A run through a scene of a project after some of its parameters were set. */
export interface TraceRequest {
  readonly project: Project;
  readonly order: TraceOrder;
}

/** Rays of one request, and maps in its answer, at most. */
const MOST_RAYS = 100_000_000;
const MOST_MAPS = 20;

const traceSchema = yup
  .object({
    ...ofProject,
    scene: name(),
    rays: whole(64, MOST_RAYS),
    seed: whole(0, 2 ** 31 - 1),
    maps: yup.array(name().required('name a detector by its id')).max(MOST_MAPS, `at most ${MOST_MAPS} maps at once`),
  })
  .noUnknown('a request has project, set, scene, rays, seed and maps')
  .typeError('the body must be one JSON object');
const checkSchema = yup
  .object(ofProject)
  .noUnknown('a request has project and set')
  .typeError('the body must be one JSON object');

/** Reads the body of a request for a trace; fails with every place that is wrong. */
export function readTraceRequest(text: string): Outcome<TraceRequest> {
  const body = readBody(text, traceSchema);
  if (!body.ok) return body;
  const project = projectOf(body.value);
  if (!project.ok) return project;
  const { scene, rays, seed, maps } = body.value;
  return success({ project: project.value, order: { scene, rays, seed, maps } });
}

/** Reads the body of a request for a check: the project, with its parameters set. */
export function readCheckRequest(text: string): Outcome<Project> {
  const body = readBody(text, checkSchema);
  return body.ok ? projectOf(body.value) : body;
}

/** Reads the body of a request for measures; fails with every place that is wrong. */
export function readMeasuresRequest(text: string): Outcome<MeasuresRequest> {
  const body = readBody(text, measuresSchema);
  return body.ok ? complete(body.value) : body;
}

/** Reads the body of a request for a scan; fails with every place that is wrong. */
export function readScanRequest(text: string): Outcome<ScanRequest> {
  const body = readBody(text, scanSchema);
  if (!body.ok) return body;
  const { axes } = body.value;
  if (scanSize(axes) > MOST_POINTS)
    return failure(`axes: the scan has ${scanSize(axes)} points; the limit is ${MOST_POINTS}`);
  const request = complete(body.value);
  return request.ok ? success({ ...request.value, axes }) : request;
}

function readBody<T>(text: string, schema: yup.Schema<T>): Outcome<T> {
  const unfit = textProblem(text);
  if (unfit) return failure(`the body ${unfit}`);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return failure(`the body is not JSON: ${(error as Error).message}`);
  }
  const outline = outlineProblem(json);
  if (outline) return failure(`${outline.place}: ${outline.reason}`);
  try {
    return success(schema.validateSync(json, { strict: false, abortEarly: false, stripUnknown: false }));
  } catch (error) {
    if (error instanceof yup.ValidationError) {
      const problems = error.inner.length > 0 ? error.inner : [error];
      return failure(problems.map(({ path, message }) => (path ? `${path}: ${message}` : message)).join('; '));
    }
    return failure(`the body is not made as a request must be (${(error as Error).message})`);
  }
}

interface ProjectBody {
  readonly project?: unknown;
  readonly set?: object | null | undefined;
}

interface Body extends ProjectBody {
  readonly measures: readonly {
    readonly measure: string;
    readonly lens?: string | undefined;
    readonly state?: string | undefined;
    readonly settings?: unknown;
  }[];
}

/** The project of a request, with its parameters set. */
function projectOf(body: ProjectBody): Outcome<Project> {
  const read = readProject(body.project);
  if (!read.ok) return failure(read.problems.map(({ place, reason }) => `project: ${place}: ${reason}`).join('; '));
  let { project } = read;
  for (const [address, given] of Object.entries(body.set ?? {})) {
    if (typeof given !== 'number' && typeof given !== 'string')
      return failure(`set: ${address} takes a number or a text such as "1in"`);
    const changed = setByText(project, address, given);
    if (!changed.ok) return failure(`set: ${changed.reason}`);
    project = changed.value;
  }
  return success(project);
}

function complete(body: Body): Outcome<MeasuresRequest> {
  const set = projectOf(body);
  if (!set.ok) return set;
  const project = set.value;
  const unknown = body.measures.find((one) => !findMeasure(one.measure));
  if (unknown) return failure(`there is no measure “${unknown.measure}”; see /api/measures in docs/server.md`);
  return success({
    project,
    measures: body.measures.map((one) => ({
      measure: one.measure,
      lens: one.lens ?? subjectOf(project, findMeasure(one.measure) ?? MEASURES[0]) ?? '',
      settings: one.settings ?? {},
      ...(one.state !== undefined && { state: one.state }),
    })),
  });
}
