import { drive } from '../compute/drive.ts';
import type { JobContext } from '../compute/protocol.ts';
import type { ValueLimits } from '../math/capability.ts';
import { failure, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { toleranceFindings, type ToleranceFinding } from '../tolerance/findings.ts';
import type { Sampled } from '../tolerance/influence.ts';
import type { LotTrial } from '../tolerance/lot-summary.ts';
import { makeTrials, trialProject, type Lot } from '../tolerance/monte-carlo.ts';
import { sampleEach, type DesignStand, type StudyInput } from '../tolerance/one-by-one.ts';
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
