import type { JobContext } from '../compute/protocol.ts';
import { Evaluation } from '../imaging/evaluation.ts';
import { refocus, type FocusCriterion, type Refocus } from '../imaging/refocus.ts';
import type { Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import { readProjectText, type ReadResult } from '../project/read.ts';
import { answerQuery, type Answer, type Query } from './queries.ts';

/** A project version and what is asked of it, by keys of the asker's choice, the most urgent first. */
export interface EvaluateInput {
  readonly project: Project;
  readonly queries: readonly {
    readonly key: string;
    readonly query: Query;
    /** Whether the answers before this one are to be sent before it is begun. */
    readonly later?: boolean;
  }[];
}

/** Answers to some of the queries, sent together: a page that draws them takes one turn for all. */
export type EvaluatePart = readonly { readonly key: string; readonly answer: Answer }[];

/** How long answers are gathered before they are sent, ms. */
const GATHER = 15;

/**
 * The work that workers do. In the browser and in Node the same table is served, so what runs where is a choice of
 * the caller. All queries of one version share one evaluation.
 */
export const JOBS = {
  async evaluate({ project, queries }: EvaluateInput, context: JobContext<EvaluatePart>): Promise<void> {
    const evaluation = new Evaluation(project);
    let gathered: { key: string; answer: Answer }[] = [];
    let since = Date.now();
    const send = () => {
      if (gathered.length > 0) context.report(gathered);
      gathered = [];
      since = Date.now();
    };
    for (const { key, query, later } of queries) {
      if (context.cancelled()) return;
      if (later || Date.now() - since > GATHER) {
        send();
        await context.pause();
        if (context.cancelled()) return;
      }
      gathered.push({ key, answer: answerQuery(evaluation, query) });
    }
    send();
  },

  refocus(input: { project: Project; lens: string; criterion: FocusCriterion }): Outcome<Refocus> {
    return refocus(input.project, input.lens, input.criterion);
  },

  read(text: string): ReadResult {
    return readProjectText(text);
  },
} as const;

export type Jobs = typeof JOBS;
