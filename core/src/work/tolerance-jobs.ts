import { drive } from '../compute/drive.ts';
import type { JobContext } from '../compute/protocol.ts';
import type { ValueLimits } from '../math/capability.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { toleranceFindings, type ToleranceFinding } from '../tolerance/findings.ts';
import type { Sampled } from '../tolerance/influence.ts';
import { fitJoint, jointTrials, type Joint, type JointTrial } from '../tolerance/joint.ts';
import type { LotTrial } from '../tolerance/lot-summary.ts';
import { makeTrials, trialProject, type Lot } from '../tolerance/monte-carlo.ts';
import { sampleEach, type DesignStand, type StudyInput } from '../tolerance/one-by-one.ts';
import { responseTrials, sumUp, type ResponseLotSummary } from '../tolerance/response-lot.ts';
import type { Response } from '../tolerance/response.ts';
import { suggestLimits, type Suggestion, type SuggestionWish } from '../tolerance/suggest.ts';

/** A lot at random, or part of one: trials from one up to another that is left out. */
export interface LotInput extends Lot {
  readonly from: number;
  readonly to: number;
}

/** What limits are suggested of. */
export interface SuggestInput {
  readonly tolerances: readonly Tolerance[];
  readonly sampled: readonly Sampled[];
  readonly nominal: readonly number[];
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

  /** Limits for a wanted yield, by curves that are known; see `suggestLimits`. */
  suggestLimits({ tolerances, sampled, nominal, limits, wish }: SuggestInput): Outcome<Suggestion> {
    return suggestLimits(tolerances, sampled, nominal, limits, wish);
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
} as const;
