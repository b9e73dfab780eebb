import {
  ask,
  atOnce,
  checkProject,
  Evaluation,
  evaluateMeasure,
  findMeasure,
  formulaEvaluator,
  brokenWords,
  hasRelations,
  inState,
  subjectOf,
  MEASURES,
  readProjectText,
  setByText,
  settingOptions,
  type Project,
} from '@ulvex/core';
import { settle } from '@ulvex/core/relations';
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { lot } from './lot.ts';
import { studyOf } from './study.ts';
import { response } from './response.ts';
import { tolerance } from './tolerance.ts';
import { trace } from './trace.ts';

/** Where output goes: results to `out`, everything that went wrong to `err`. */
export interface Streams {
  out(line: string): void;
  err(line: string): void;
}

/** What a program that calls this one may rely on. */
export const EXIT = {
  done: 0,
  /** The project was read, and the answer is no: a measure without a value, a finding, a missed requirement. */
  no: 1,
  /** The call itself or a file is wrong. */
  wrong: 2,
} as const;

const USAGE = `ulvex measure PROJECT --measure ID [--lens ID] [--state ID] [--with JSON] [--set ADDRESS=VALUE]… [--json]
    evaluates a measure, after setting parameters; VALUE may carry a unit or be arithmetic; links and conditions follow
ulvex ask PROJECT QUESTION [--lens ID] [--state ID] [--set ADDRESS=VALUE]… [--json]
    answers a calculation on measures and parameters: 'effective focal length / 2'
ulvex measures [--json]
    lists the measures with their settings
ulvex tolerance PROJECT [--trials N] [--response] [--seed S] [--state ID] [--set ADDRESS=VALUE]… [--json | --csv]
    takes the tolerances one by one and ranks what they do to the requirements; with --trials, makes so many lenses at random;
    with --response, by a response to all tolerances together that is fitted first, 100000 of them if N is left out
ulvex trace PROJECT [--rays N] [--seed S] [--detector ID] [--state ID] [--set ADDRESS=VALUE]… [--json | --csv] [--png FILE]
    traces the scene: where its light ends, the numbers of its detectors, their maps as JSON or CSV, one as a grey picture
ulvex check PROJECT [--json]
    reads a project, lists the findings of its lenses and scenes, and how its requirements stand
Exit code: 0 done, 1 the answer is no, 2 the call or a file is wrong. See docs/cli.md.`;

/** A mistake in the call or a file; its message goes to the error stream. */
class WrongCall extends Error {}

/** Runs one command and returns its exit code. Never throws for what a caller can get wrong. */
export async function main(args: readonly string[], streams: Streams): Promise<number> {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        measure: { type: 'string' },
        lens: { type: 'string' },
        with: { type: 'string' },
        state: { type: 'string' },
        set: { type: 'string', multiple: true },
        json: { type: 'boolean', default: false },
        csv: { type: 'boolean', default: false },
        trials: { type: 'string' },
        response: { type: 'boolean', default: false },
        seed: { type: 'string' },
        rays: { type: 'string' },
        detector: { type: 'string' },
        png: { type: 'string' },
        help: { type: 'boolean', short: 'h', default: false },
      },
    });
    const [command, path] = positionals;
    if (values.help || command === undefined || command === 'help') {
      streams.out(USAGE);
      return command === undefined && !values.help ? EXIT.wrong : EXIT.done;
    }
    switch (command) {
      case 'measures':
        return listMeasures(values.json, streams);
      case 'measure':
        if (!values.measure) throw new WrongCall('Which measure? Give --measure ID; “ulvex measures” lists them.');
        return measure(await projectAsked(path, values, streams), { ...values, measure: values.measure }, streams);
      case 'ask':
        return await answer(await projectAsked(path, values, streams), positionals[2], values, streams);
      case 'tolerance':
        return study(await projectAsked(path, values, streams), values, streams);
      case 'trace':
        return traced(await projectAsked(path, values, streams), values, streams);
      case 'check':
        return check(readProject(path), values.json, streams);
      default:
        throw new WrongCall(`There is no command “${command}”.\n${USAGE}`);
    }
  } catch (error) {
    const wrong = error instanceof WrongCall || (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS');
    if (!wrong) throw error;
    streams.err((error as Error).message);
    return EXIT.wrong;
  }
}

interface StudyValues {
  readonly json: boolean;
  readonly csv: boolean;
  readonly trials?: string | undefined;
  readonly response: boolean;
  readonly seed?: string | undefined;
}

/** Most trials that are made in one call. */
const MOST_TRIALS = 1_000_000;

function study(
  project: Project,
  { json, csv, trials, response: byResponse, seed }: StudyValues,
  streams: Streams,
): number {
  if (json && csv) throw new WrongCall('Give --json or --csv, not both.');
  const form = json ? 'json' : csv ? 'csv' : 'text';
  const count = trials === undefined ? (byResponse ? 100_000 : 0) : whole('--trials', trials, 1, MOST_TRIALS);
  const start = whole('--seed', seed ?? '1', 0, 2 ** 31 - 1);
  const asked = studyOf(project, streams);
  if (!asked) return EXIT.no;
  const make = byResponse ? response : lot;
  const done = count > 0 ? make(asked, count, start, form, streams) : tolerance(asked, form, streams);
  return done ? EXIT.done : EXIT.no;
}

interface TraceValues {
  readonly json: boolean;
  readonly csv: boolean;
  readonly rays?: string | undefined;
  readonly seed?: string | undefined;
  readonly detector?: string | undefined;
  readonly png?: string | undefined;
}

/** Most rays that are traced in one call. */
const MOST_RAYS = 1_000_000_000;

function traced(project: Project, { json, csv, rays, seed, detector, png }: TraceValues, streams: Streams): number {
  if (json && csv) throw new WrongCall('Give --json or --csv, not both.');
  const asked = {
    form: json ? ('json' as const) : csv ? ('csv' as const) : ('text' as const),
    rays: rays === undefined ? undefined : whole('--rays', rays, 64, MOST_RAYS),
    seed: seed === undefined ? undefined : whole('--seed', seed, 0, 2 ** 31 - 1),
    detector,
    png,
  };
  return trace(project, asked, streams) ? EXIT.done : EXIT.no;
}

function whole(option: string, text: string, least: number, most: number): number {
  const value = Number(text);
  if (Number.isInteger(value) && value >= least && value <= most && text.trim() !== '') return value;
  throw new WrongCall(`${option} takes a whole number from ${least} to ${most}, not “${text}”.`);
}

function readProject(path: string | undefined): Project {
  if (path === undefined) throw new WrongCall('Which project? Give the path of a .ulvex.json file.');
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch (error) {
    throw new WrongCall(`${path} cannot be read: ${(error as Error).message}`);
  }
  const read = readProjectText(text);
  if (read.ok) return read.project;
  throw new WrongCall(read.problems.map(({ place, reason }) => `${path}: ${place}: ${reason}`).join('\n'));
}

/** The project with what was set, all that follows from it, and in the state that is asked for. What does not follow as it should is shown. */
async function projectAsked(
  path: string | undefined,
  { set = [], state }: { readonly set?: string[] | undefined; readonly state?: string | undefined },
  streams: Streams,
): Promise<Project> {
  let project = setAll(readProject(path), set);
  if (hasRelations(project)) {
    const settled = settle(project, await formulaEvaluator());
    if (settled.broken.length > 0) streams.err(`Caution: ${brokenWords(settled.broken)}`);
    project = settled.project;
  }
  if (state === undefined) return project;
  const seen = inState(project, state);
  if (!seen.ok) throw new WrongCall(`--state ${state}: ${seen.reason}`);
  return seen.value;
}

/** Applies `ADDRESS=VALUE` settings one after another. */
function setAll(project: Project, settings: readonly string[]): Project {
  let next = project;
  for (const setting of settings) {
    const at = setting.indexOf('=');
    if (at < 0) throw new WrongCall(`--set ${setting}: write ADDRESS=VALUE.`);
    const changed = setByText(next, setting.slice(0, at), setting.slice(at + 1));
    if (!changed.ok) throw new WrongCall(`--set ${setting}: ${changed.reason}`);
    next = changed.value;
  }
  return next;
}

function measure(
  project: Project,
  asked: { measure: string; lens?: string | undefined; with?: string | undefined; json: boolean },
  streams: Streams,
): number {
  const known = findMeasure(asked.measure);
  if (!known) throw new WrongCall(`There is no measure “${asked.measure}”; “ulvex measures” lists them.`);
  let settings: unknown = {};
  try {
    if (asked.with !== undefined) settings = JSON.parse(asked.with);
  } catch (error) {
    throw new WrongCall(`--with is not JSON: ${(error as Error).message}`);
  }
  const lens = asked.lens ?? subjectOf(project, known) ?? '';
  const outcome = evaluateMeasure(new Evaluation(project), { measure: known.id, lens, settings });
  if (asked.json) {
    const answer = outcome.ok ? { unit: known.unit, ...outcome.value } : { failure: outcome.reason };
    streams.out(JSON.stringify({ measure: known.id, lens, settings, ...answer }));
    return outcome.ok ? EXIT.done : EXIT.no;
  }
  if (!outcome.ok) {
    streams.err(outcome.reason);
    return EXIT.no;
  }
  const { value, how, caution, standardError, unit = known.unit } = outcome.value;
  const error = standardError === undefined ? '' : ` ± ${standardError}`;
  streams.out(`${value}${error}${unit ? ` ${unit}` : ''}${how ? `  (${how})` : ''}`);
  if (caution) streams.err(caution);
  return EXIT.done;
}

async function answer(
  project: Project,
  question: string | undefined,
  asked: { readonly lens?: string | undefined; readonly json: boolean },
  streams: Streams,
): Promise<number> {
  if (question === undefined) throw new WrongCall('What is the question? Put it in quotes behind the project.');
  const found = await ask(new Evaluation(project), asked.lens ?? project.lenses[0]?.id ?? '', question);
  if (asked.json) streams.out(JSON.stringify(found.ok ? found.value : { failure: found.reason }));
  else if (found.ok) streams.out(`${found.value.value}${found.value.unit ? ` ${found.value.unit}` : ''}`);
  else streams.err(found.reason);
  return found.ok ? EXIT.done : EXIT.no;
}

function listMeasures(json: boolean, streams: Streams): number {
  if (json) {
    streams.out(
      JSON.stringify(
        MEASURES.map(({ id, title, unit, meaning, settings }) => ({ id, title, unit, meaning, settings })),
      ),
    );
    return EXIT.done;
  }
  for (const { id, title, unit, settings } of MEASURES) {
    streams.out(`${id}  ${title}${unit ? `, ${unit}` : ''}`);
    for (const [name, spec] of Object.entries(settings)) {
      streams.out(`    ${name}: ${settingOptions(spec).join(' | ')}${spec.fallback ? `  (${spec.fallback})` : ''}`);
    }
  }
  return EXIT.done;
}

function check(project: Project, json: boolean, streams: Streams): number {
  const { name, good, findings, requirements } = atOnce(checkProject(project));
  if (json) streams.out(JSON.stringify({ name, findings, requirements }));
  else {
    for (const { lens, scene, severity, where, text } of findings)
      streams.out(`${severity}: ${[lens ?? scene, where].filter(Boolean).join('.')}: ${text}`);
    for (const { title, verdict, value, margin, failure } of requirements)
      streams.out(`${verdict}: ${title}: ${failure ?? `${value} (margin ${margin})`}`);
    streams.out(good ? 'as required' : 'not as required');
  }
  return good ? EXIT.done : EXIT.no;
}
