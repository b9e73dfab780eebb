import { drive } from '../compute/drive.ts';
import type { JobContext } from '../compute/protocol.ts';
import { yieldInterval, type ValueLimits } from '../math/capability.ts';
import { formulaEvaluator } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { hasRelations } from '../relations/broken.ts';
import { versionOf } from '../relations/version.ts';
import type { Effects } from '../tolerance/effects.ts';
import { toleranceFindings, type ToleranceFinding } from '../tolerance/findings.ts';
import type { Sampled } from '../tolerance/influence.ts';
import { fitJoint, jointTrials, type Joint, type JointTrial } from '../tolerance/joint.ts';
import { keeps, summaryOf, type LotSummary, type LotTrial } from '../tolerance/lot-summary.ts';
import { makeTrials, trialProject, type Lot } from '../tolerance/monte-carlo.ts';
import { sampleEach, type DesignStand, type StudyInput } from '../tolerance/one-by-one.ts';
import { responseTrials, sumUp, type ResponseLotSummary } from '../tolerance/response-lot.ts';
import type { Response } from '../tolerance/response.ts';
import { suggestingLimits, type Suggestion, type SuggestionWish } from '../tolerance/suggest.ts';
import { inUnits, watchedRequirements, type WatchedRequirement } from '../tolerance/watched.ts';
import { compensatorTitle, compensatorUnit } from '../tolerances/titles.ts';
import { readLotRequest } from './requests.ts';

/** A lot at random, or part of one: trials from one up to another that is left out. */
export interface LotInput extends Lot {
  readonly from: number;
  readonly to: number;
}

/** What limits are suggested of. */
export interface SuggestInput {
  readonly tolerances: readonly Tolerance[];
  readonly effects: Effects;
  readonly limits: readonly ValueLimits[];
  readonly wish: SuggestionWish;
}

/** What a joint study makes trials of: those from one up to another that is left out. */
export interface JointInput {
  readonly study: StudyInput;
  /** By derivatives, see `responseByDerivatives`. */
  readonly start: Response;
  readonly seed: number;
  readonly from: number;
  readonly to: number;
}

/** A lot by a response, held against limits. */
export interface ResponseLotInput {
  readonly response: Response;
  readonly tolerances: readonly Tolerance[];
  readonly limits: readonly ValueLimits[];
  readonly seed: number;
  readonly trials: number;
}

/** Trials of a lot that another program asked for, with how far it has come. */
export interface LotPart {
  readonly done: number;
  readonly of: number;
  readonly trials: readonly LotTrial[];
}

/** What such a lot comes to. */
export interface LotAnswer {
  readonly trials: number;
  /** Trials that keep all requirements. */
  readonly passed: number;
  readonly yield: number;
  /** At 95 %. */
  readonly yieldRange: readonly [number, number];
  readonly requirements: readonly (WatchedRequirement & { readonly summary: LotSummary | null })[];
  /** What is set after making, in the order of `moved` of a trial. */
  readonly set: readonly { readonly id: string; readonly title: string; readonly unit: string }[];
}

/** The work of workers for the Tolerance room. */
export const TOLERANCE_JOBS = {
  /** What prevents a study, or does nothing; see `toleranceFindings`. */
  toleranceFindings({ project }: { project: Project }): readonly ToleranceFinding[] {
    return project.tolerancing ? toleranceFindings(project, project.tolerancing) : [];
  },

  /** Tolerances one by one; each is reported as it is done. Returns the values of the design. See `sampleEach`. */
  async sampleEach(
    { study, points }: { study: StudyInput; points: number },
    context: JobContext<Sampled>,
  ): Promise<Outcome<DesignStand>> {
    const found = await drive(sampleEach(study, points), context, { onStep: context.report });
    return found ?? failure('It was cancelled.');
  },

  /** Limits for a wanted yield, by effects that are known; see `suggestingLimits`. */
  async suggestLimits(
    { tolerances, effects, limits, wish }: SuggestInput,
    context: JobContext<never>,
  ): Promise<Outcome<Suggestion>> {
    const found = await drive(suggestingLimits(tolerances, effects, limits, wish), context, {});
    return found ?? failure('It was cancelled.');
  },

  /** Trials of a joint study, each reported as it is done; see `jointTrials`. */
  async jointTrials(
    { study, start, seed, from, to }: JointInput,
    context: JobContext<JointTrial>,
  ): Promise<Outcome<null>> {
    const found = await drive(jointTrials(study, start, seed, from, to), context, { onStep: context.report });
    return found ?? failure('It was cancelled.');
  },

  /** Responses from trials; see `fitJoint`. */
  fitJoint({ start, seed, trials }: { start: Response; seed: number; trials: readonly JointTrial[] }): Joint {
    return fitJoint(start, seed, trials);
  },

  /** A lot by a response, summed up; see `responseTrials`. */
  async responseLot(
    { response, tolerances, limits, seed, trials }: ResponseLotInput,
    context: JobContext<never>,
  ): Promise<Outcome<ResponseLotSummary>> {
    const lot = await drive(responseTrials(response, tolerances, seed, trials), context, {});
    if (!lot) return failure('It was cancelled.');
    return lot.ok ? success(sumUp(lot.value, limits)) : lot;
  },

  /** The project of one trial of a lot; see `trialProject`. */
  trialProject({ lot, trial }: { lot: Lot; trial: number }): Outcome<Project> {
    return trialProject(lot, trial);
  },

  /** Trials of a lot, some reported at a time. Returns the values of the design. See `makeTrials`. */
  async makeTrials(lot: LotInput, context: JobContext<readonly LotTrial[]>): Promise<Outcome<DesignStand>> {
    let made: LotTrial[] = [];
    const flush = () => {
      if (made.length > 0) context.report(made);
      made = [];
    };
    const work = makeTrials(lot, lot.from, lot.to);
    const end = await drive(work, context, { onStep: (trial) => void made.push(trial), flush });
    return end ?? failure('It was cancelled.');
  },

  /** A lot asked for by another program, as the text of its request; trials are reported some at a time. */
  async lot(text: string, context: JobContext<LotPart>): Promise<Outcome<LotAnswer>> {
    const request = readLotRequest(text);
    if (!request.ok) return request;
    const { trials: of, seed } = request.value;
    const evaluate = hasRelations(request.value.project) ? await formulaEvaluator() : null;
    const followed = versionOf(request.value.project, { evaluate, strict: true });
    if (!followed.ok) return followed;
    const project = followed.value;
    const watched = watchedRequirements(project);
    if (watched.length === 0) return failure('project: nothing is watched; it has no requirements');
    const { tolerances, compensators = [] } = project.tolerancing!;
    const all: LotTrial[] = [];
    let reported = 0;
    const flush = () => {
      if (all.length > reported) context.report({ done: all.length, of, trials: all.slice(reported) });
      reported = all.length;
    };
    const work = makeTrials({ project, tolerances, compensators, watched, seed }, 0, of);
    const end = await drive(work, context, { onStep: (trial) => void all.push(trial), flush });
    if (!end?.ok) return end ?? failure('It was cancelled.');
    return success(lotAnswer(project, inUnits(watched, end.value.units), compensators, all));
  },
} as const;

function lotAnswer(
  project: Project,
  watched: readonly WatchedRequirement[],
  compensators: readonly Compensator[],
  trials: readonly LotTrial[],
): LotAnswer {
  const passed = trials.filter(({ values }) => values.every((value, k) => keeps(value, watched[k]))).length;
  return {
    trials: trials.length,
    passed,
    yield: passed / trials.length,
    yieldRange: yieldInterval(passed, trials.length),
    requirements: watched.map((one, k) => ({
      ...one,
      summary: summaryOf(
        trials.map(({ values }) => values[k]),
        one,
        trials.map(({ errors }) => errors?.[k] ?? null),
      ),
    })),
    set: compensators.map((one) => ({
      id: one.id,
      title: compensatorTitle(project, one),
      unit: compensatorUnit(project, one),
    })),
  };
}
