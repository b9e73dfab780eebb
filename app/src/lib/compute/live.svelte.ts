import type { Answer, EvaluatePart, Jobs, Project, Query, QueryKind, RunningJob, WorkerPool } from '@ulvex/core';
import { failure, findAnalysis, findMeasure, isOfScene, isRefined, JobCancelled, JobOverrun } from '@ulvex/core';
import { Pacing } from './pacing.ts';

/** A question that is asked anew whenever the project changes, with its newest answer. */
export class LiveQuery<K extends QueryKind = QueryKind> {
  readonly key: string;
  /** What is asked; null while there is nothing to ask. */
  readonly ask: () => Query<K> | null;
  /** The newest answer; it may belong to an older revision than the project shown. */
  answer = $state.raw<Answer<K> | undefined>();
  /** The revision that the answer belongs to. */
  revision = $state.raw(-1);
  /** Whether a better answer is to come: the project or the question has changed since, or a coarse answer is being refined. */
  pending = $state.raw(true);
  /** The question as it stands, and the models for which it was answered, coarsely where that comes first, and in full. */
  question = '';
  answered = -1;
  refined = -1;
  /** Whether it took too long once: then it is not asked together with what is drawn at once. */
  slow = false;

  constructor(key: string, ask: () => Query<K> | null) {
    this.key = key;
    this.ask = ask;
  }
}

/** Questions that are answered at once: what the drawing, the figures and the spots are made of. */
const AT_ONCE: ReadonlySet<QueryKind> = new Set([
  'section',
  'section_states',
  'first_order',
  'findings',
  'ray',
  'scene_view',
  'scene_section',
  'scene_rays',
  'measure',
  'measure_states',
]);

/** Whether a question may be answered after the others: charts, and numbers that thousands of rays are traced for. */
function waits(query: Query): boolean {
  if (query.kind === 'analysis') {
    const analysis = findAnalysis(query.analysis);
    return !(analysis && 'atOnce' in analysis && analysis.atOnce);
  }
  if (!AT_ONCE.has(query.kind)) return true;
  const measure = 'measure' in query ? findMeasure(query.measure) : undefined;
  return measure !== undefined && (isOfScene(measure) || Boolean(measure.slow));
}

/**
 * Ways by which questions are answered, each with at most one job under way: at once; charts, coarsely where there are coarse answers;
 * and, when the model rests, charts in full.
 */
const LANES = ['urgent', 'charts', 'fine'] as const;
type Lane = (typeof LANES)[number];

/** How long a model rests before charts are computed in full, ms: between two moves of a hand it does not. */
const REST = 250;

/** How soon one asks again whether what is drawn at once has been answered, ms. */
const AGAIN = 8;

/** Revisions whose times are remembered. */
const REMEMBERED = 64;

/** Parts of a project that no answer depends on. */
const WORDS: ReadonlySet<string> = new Set(['name', 'notes', 'boards', 'requirements']);

/** Whether two versions of a project are the same but for names, notes and arrangements. */
function sameModel(one: Project, other: Project): boolean {
  const keys = new Set([...Object.keys(one), ...Object.keys(other)] as (keyof Project)[]);
  return [...keys].every((key) => WORDS.has(key) || one[key] === other[key]);
}

interface Running {
  readonly job: RunningJob<void>;
  readonly revision: number;
  readonly model: number;
  /** Questions as they were asked, by key. */
  readonly asked: ReadonlyMap<string, string>;
}

/**
 * Keeps all live queries answered for the project that is shown, in workers. While a way is busy the newest project waits for it, so that
 * answers keep coming while a number is being turned.
 */
export class LiveAnswers {
  readonly #pool: WorkerPool<Jobs>;
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing renders from the register itself
  readonly #queries = new Map<string, LiveQuery>();
  #wanted: { project: Project; revision: number } | null = null;
  /** Number of the model that is shown: versions of a project that differ in words alone are one. */
  #model = 0;
  readonly #running: Record<Lane, Running | null> = { urgent: null, charts: null, fine: null };
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing renders from it
  readonly #shown = new Map<number, number>();
  #nextKey = 0;
  #resting: ReturnType<typeof setTimeout> | null = null;
  readonly #pacing = new Pacing();
  #chartsLater: ReturnType<typeof setTimeout> | null = null;
  /** The last revision for which every query was answered in full. */
  settled = $state.raw(-1);
  /** Why the last evaluation failed as a whole, if it did. */
  failure = $state.raw<string | null>(null);

  /** The state in which questions are asked that name none. */
  stateAtHand: () => string | null = () => null;
  /** Asked where a question is registered: what tells the state of that place, null for none of its own. */
  stateOfPlace: () => () => string | null = () => () => null;

  readonly #onAnswers: (project: Project) => void;

  /** @param onAnswers - told of which project answers have come, before anyone sees them */
  constructor(pool: WorkerPool<Jobs>, onAnswers: (project: Project) => void = () => {}) {
    this.#pool = pool;
    this.#onAnswers = onAnswers;
  }

  /**
   * Registers a query for as long as the component lives that calls this; asked again when what it depends on changes. A question that
   * has a coarse answer is asked in `draft` first, whatever it says, and in `full` when the model rests. One that names no state is asked in
   * that of the tile that it stands in, or else the state at hand.
   */
  query<K extends QueryKind>(ask: () => Query<K> | null): LiveQuery<K> {
    const stateHere = this.stateOfPlace();
    const inState = (): Query<K> | null => {
      const asked = ask();
      if (!asked || asked.state !== undefined) return asked;
      const state = stateHere() ?? this.stateAtHand();
      return state === null || state === 'designed' ? asked : { ...asked, state };
    };
    const query = new LiveQuery<K>(`q${this.#nextKey++}`, inState);
    // By value: the same question about a new version of the project is no new question.
    const question = $derived(JSON.stringify(inState()));
    $effect(() => {
      query.question = question;
      query.answered = query.refined = -1;
      if (question === 'null') query.answer = undefined; // what was answered before is about something that is no longer there
      query.slow = false;
      this.#queries.set(query.key, query as unknown as LiveQuery);
      this.settled = -1;
      queueMicrotask(() => this.#advance());
      return () => void this.#queries.delete(query.key);
    });
    return query;
  }

  /**
   * How long what may wait should, ms, so that it takes no processor from answers that are drawn at once, until they are on the screen; 0 where
   * none are on their way. While they are computed it is a guess: ask again then.
   */
  get untilFree(): number {
    if (this.#running.urgent) return AGAIN;
    return this.#pacing.untilShown(performance.now());
  }

  /** When a revision was shown, by `performance.now()`; now for one that is forgotten. */
  shownAt(revision: number): number {
    return this.#shown.get(revision) ?? performance.now();
  }

  /** Says which project is to be answered for. */
  show(project: Project, revision: number): void {
    const before = this.#wanted;
    this.#wanted = { project, revision };
    this.#shown.set(revision, performance.now());
    this.#shown.delete(revision - REMEMBERED);
    if (before && sameModel(before.project, project)) {
      this.#onAnswers(project);
      for (const live of this.#queries.values()) if (live.answered === this.#model) live.revision = revision;
      this.#advance();
      return;
    }
    this.#model++;
    this.#drop('fine');
    if (this.#resting) clearTimeout(this.#resting);
    this.#resting = setTimeout(() => {
      this.#resting = null;
      this.#advance();
    }, REST);
    this.#advance();
  }

  #drop(lane: Lane): void {
    const running = this.#running[lane];
    this.#running[lane] = null;
    running?.job.cancel();
  }

  /** The questions that a way has still to answer for the model that is shown. */
  #pending(lane: Lane): { live: LiveQuery; query: Query }[] {
    return [...this.#queries.values()].flatMap((live) => {
      const query = live.ask();
      if (!query || (lane === 'fine' ? live.refined : live.answered) === this.#model) return [];
      const fits = lane === 'fine' ? isRefined(query) : (live.slow || waits(query)) === (lane === 'charts');
      return fits ? [{ live, query }] : [];
    });
  }

  #advance(): void {
    const wanted = this.#wanted;
    if (!wanted) return;
    for (const lane of LANES) {
      if (this.#running[lane]) continue;
      const pending = this.#pending(lane);
      if (pending.length === 0) continue;
      if (lane === 'charts' && !this.#chartsMayBegin()) return;
      // Full answers are for a model that rests.
      if (lane === 'fine' && (this.#running.urgent || this.#running.charts || this.#resting)) return;
      this.#start(lane, wanted, pending);
    }
    if (LANES.every((lane) => !this.#running[lane])) this.settled = wanted.revision;
  }

  /** Whether charts may begin now; if not yet, they are looked at again when they may. */
  #chartsMayBegin(): boolean {
    if (this.#chartsLater) clearTimeout(this.#chartsLater);
    this.#chartsLater = null;
    const wait = this.#pacing.chartsWait(performance.now(), this.#running.urgent !== null);
    if (wait === 0) {
      this.#pacing.began(performance.now());
      return true;
    }
    // Where an answer is waited for, its end looks again.
    if (wait === Infinity) return false;
    this.#chartsLater = setTimeout(() => {
      this.#chartsLater = null;
      this.#advance();
    }, wait);
    return false;
  }

  #start(
    lane: Lane,
    { project, revision }: { project: Project; revision: number },
    pending: readonly { live: LiveQuery; query: Query }[],
  ): void {
    const queries = pending.map(({ live, query }) => {
      live.pending = true;
      const detail = lane === 'fine' ? 'full' : 'draft';
      return {
        key: live.key,
        query: (isRefined(query) ? { ...query, detail } : query) as Query,
        ...(lane !== 'urgent' && { later: true }),
      };
    });
    const receive = (answers: EvaluatePart) => {
      if (this.#running[lane] !== running) return;
      if (lane === 'urgent') this.#onAnswers(project);
      for (const { key, answer } of answers) {
        const live = this.#queries.get(key);
        if (!live || live.question !== running.asked.get(key)) continue;
        live.answer = answer as Answer<never>;
        const current = running.model === this.#model;
        live.revision = current ? (this.#wanted?.revision ?? revision) : revision;
        if (lane === 'fine') live.refined = running.model;
        else live.answered = running.model;
        const query = live.ask();
        live.pending = !current || (lane !== 'fine' && query !== null && isRefined(query));
      }
    };
    const running: Running = {
      job: this.#pool.run('evaluate', { project, queries }, receive),
      revision,
      model: this.#model,
      // eslint-disable-next-line svelte/prefer-svelte-reactivity -- kept for one job, never rendered
      asked: new Map(pending.map(({ live }) => [live.key, live.question])),
    };
    this.#running[lane] = running;
    running.job.result.then(
      () => this.#end(lane, running, null),
      (error: Error) => this.#end(lane, running, error),
    );
  }

  /** One question took too long: its tile reports that, and the others are asked again without it. */
  #overran(live: LiveQuery, lane: Lane, running: Running): void {
    live.slow = true;
    live.pending = false;
    if (lane === 'fine') live.refined = running.model;
    else live.answered = running.model;
    if (lane === 'fine' && live.answer) return; // the coarse answer stays
    live.answer = failure(
      'This took longer than 10 s and was stopped. Ask for less: fewer rays, points, fields or colours, or a simpler model.',
    ) as Answer<never>;
    live.revision = this.#wanted?.revision ?? running.revision;
  }

  #end(lane: Lane, running: Running, error: Error | null): void {
    if (this.#running[lane] !== running) return;
    this.#running[lane] = null;
    if (error instanceof JobCancelled) return;
    const overrun = error instanceof JobOverrun ? this.#queries.get(error.at ?? '') : undefined;
    if (overrun) this.#overran(overrun, lane, running);
    this.failure = overrun ? null : (error?.message ?? null);
    // What a job that failed as a whole left open is not asked again for this revision.
    if (error && !overrun)
      for (const [key, question] of running.asked) {
        const live = this.#queries.get(key);
        if (live?.question !== question) continue;
        if (lane === 'fine') live.refined = running.model;
        else live.answered = running.model;
      }
    if (lane === 'urgent') this.#pacing.answered(performance.now());
    this.#advance();
  }
}
