import type {
  Answer,
  EvaluatePart,
  Jobs,
  Project,
  Query,
  QueryKind,
  RunningJob,
  WorkerPool,
} from '@ulvex/core';
import { findMeasure, isOfScene, JobCancelled } from '@ulvex/core';

/** A question that is asked anew whenever the project changes, with its newest answer. */
export class LiveQuery<K extends QueryKind = QueryKind> {
  readonly key: string;
  /** What is asked; null while there is nothing to ask. */
  readonly ask: () => Query<K> | null;
  /** The newest answer; it may belong to an older revision than the project shown. */
  answer = $state.raw<Answer<K> | undefined>();
  /** The revision that the answer belongs to. */
  revision = $state.raw(-1);

  constructor(key: string, ask: () => Query<K> | null) {
    this.key = key;
    this.ask = ask;
  }
}

/** What is drawn as a chart comes after drawing, spots and figures: its picture takes longest. */
const LATER: ReadonlySet<QueryKind> = new Set(['ray_fans']);

/** Whether a question may be answered after the others: charts, and numbers that thousands of rays are traced for. */
function waits(query: Query): boolean {
  if (LATER.has(query.kind)) return true;
  const measure = query.kind === 'measure' ? findMeasure(query.measure) : undefined;
  return measure !== undefined && isOfScene(measure);
}

interface Running {
  readonly job: RunningJob<void>;
  readonly revision: number;
  urgentDone: boolean;
}

/**
 * Keeps all live queries answered for the project that is shown, in a worker. One evaluation is under way at a time;
 * while it runs the newest project waits, so that answers keep coming while a number is being turned.
 */
export class LiveAnswers {
  readonly #pool: WorkerPool<Jobs>;
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing renders from the register itself
  readonly #queries = new Map<string, LiveQuery>();
  #wanted: { project: Project; revision: number } | null = null;
  #running: Running | null = null;
  #nextKey = 0;
  /** The last revision for which every query was answered. */
  settled = $state.raw(-1);
  /** Why the last evaluation failed as a whole, if it did. */
  failure = $state.raw<string | null>(null);

  readonly #onAnswers: (project: Project) => void;

  /** @param onAnswers - told of which project answers have come, before anyone sees them */
  constructor(pool: WorkerPool<Jobs>, onAnswers: (project: Project) => void = () => {}) {
    this.#pool = pool;
    this.#onAnswers = onAnswers;
  }

  /**
   * Registers a query for as long as the component lives that calls this; asked again when what it depends on changes.
   */
  query<K extends QueryKind>(ask: () => Query<K> | null): LiveQuery<K> {
    const query = new LiveQuery<K>(`q${this.#nextKey++}`, ask);
    // By value: the same question about a new version of the project is no new question.
    const question = $derived(JSON.stringify(ask()));
    $effect(() => {
      void question;
      this.#queries.set(query.key, query as unknown as LiveQuery);
      this.#refresh();
      return () => void this.#queries.delete(query.key);
    });
    return query;
  }

  /** Whether answers that are drawn at once are on their way. */
  get computing(): boolean {
    return this.#running !== null && !this.#running.urgentDone;
  }

  /** Says which project is to be answered for. */
  show(project: Project, revision: number): void {
    this.#wanted = { project, revision };
    this.#advance();
  }

  /** A query is new or asks something else: the present project is evaluated again. */
  #refresh(): void {
    const wanted = this.#wanted;
    if (!wanted) return;
    this.settled = -1;
    if (this.#running?.revision === wanted.revision) {
      this.#running.job.cancel();
      this.#running = null;
    }
    queueMicrotask(() => this.#advance());
  }

  #advance(): void {
    const wanted = this.#wanted;
    if (!wanted || this.#running || this.settled === wanted.revision) return;
    const queries = [...this.#queries.values()]
      .flatMap(({ key, ask }) => {
        const query = ask();
        return query ? [{ key, query, ...(waits(query) && { later: true }) }] : [];
      })
      .sort((a, b) => Number(a.later ?? false) - Number(b.later ?? false));
    const { project, revision } = wanted;
    const lastUrgent = queries.findLast(({ later }) => !later)?.key;
    const receive = (answers: EvaluatePart) => {
      this.#onAnswers(project);
      if (answers.some(({ key }) => key === lastUrgent)) running.urgentDone = true;
      for (const { key, answer } of answers) {
        const query = this.#queries.get(key);
        if (!query) continue;
        query.answer = answer as Answer<never>;
        query.revision = revision;
      }
    };
    const job = this.#pool.run('evaluate', { project, queries }, receive);
    const running: Running = { job, revision, urgentDone: false };
    this.#running = running;
    job.result.then(
      () => this.#end(running, null),
      (error: Error) => this.#end(running, error),
    );
  }

  #end(running: Running, error: Error | null): void {
    if (this.#running !== running) return;
    this.#running = null;
    if (error instanceof JobCancelled) return;
    this.failure = error?.message ?? null;
    this.settled = running.revision;
    this.#advance();
  }
}
