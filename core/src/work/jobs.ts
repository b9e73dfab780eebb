import type { JobContext } from '../compute/protocol.ts';
import { Evaluation } from '../imaging/evaluation.ts';
import { refocus, type FocusCriterion, type Refocus } from '../imaging/refocus.ts';
import type { Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import { readProjectText, type ReadResult } from '../project/read.ts';
import { answerQuery, type Answer, type Query } from './queries.ts';

/** A project version and what is asked of it, by keys of the asker's choice. */
export interface EvaluateInput {
  readonly project: Project;
  readonly queries: readonly { readonly key: string; readonly query: Query }[];
}

/** The answer to one of the queries. */
export interface EvaluatePart {
  readonly key: string;
  readonly answer: Answer;
}

/**
 * The work that workers do. In the browser and in Node the same table is served, so what runs where is a choice of
 * the caller. All queries of one version share one evaluation.
 */
export const JOBS = {
  async evaluate({ project, queries }: EvaluateInput, context: JobContext<EvaluatePart>): Promise<void> {
    const evaluation = new Evaluation(project);
    for (const { key, query } of queries) {
      if (context.cancelled()) return;
      context.report({ key, answer: answerQuery(evaluation, query) });
      await context.pause();
    }
  },

  refocus(input: { project: Project; lens: string; criterion: FocusCriterion }): Outcome<Refocus> {
    return refocus(input.project, input.lens, input.criterion);
  },

  read(text: string): ReadResult {
    return readProjectText(text);
  },
} as const;

export type Jobs = typeof JOBS;
