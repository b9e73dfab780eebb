import { commit, EMPTY_HISTORY, type Project, type Tracked } from '@ulvex/core';
import { claims, memoryPages, MemoryStore } from './fixtures.ts';
import { Journal, putIn } from './journal.ts';
import { ProjectKeeper, type Keeping } from './project-keeper.ts';
import { ProjectStore, type Keep } from './project-store.ts';

const START: Project = {
  format: 'ulvex-project',
  version: 3,
  name: 'Tide camera',
  notes: '',
  lenses: [],
  materials: [],
  requirements: [],
};

/** Random numbers of a seed (mulberry32). */
function random(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4294967296) * below);
  };
}

/** A machine with one browser: its store, its journal, its locks, a clock that jumps, and timers that run when the test says. */
class Machine {
  readonly store = new MemoryStore();
  readonly pages = memoryPages();
  readonly claim: ReturnType<typeof claims>;
  clock = 1e12;
  readonly timers = new Set<() => void>();
  readonly projects = new ProjectStore(this.store, () => this.clock);
  #fresh = 0;

  constructor(locks: boolean) {
    this.claim = claims(locks);
  }

  newKeep = (): Keep => ({ id: `p${++this.#fresh}`, sequence: 0 });

  /** Lets everything that is under way come to rest, without running timers. */
  rest(): Promise<void> {
    return new Promise((resolve) => setImmediate(resolve));
  }

  /** Lets it go on by some steps. */
  async goOn(steps: number): Promise<void> {
    for (let i = 0; i < steps; i++) await Promise.resolve();
  }

  runTimers(): void {
    const due = [...this.timers];
    this.timers.clear();
    for (const run of due) run();
  }
}

/** One tab: a desk without a screen. Each edit writes a mark of its own into the notes. */
class Tab {
  tracked: Tracked = { project: START, history: EMPTY_HISTORY };
  keeping: Keeping = { state: 'waiting' };
  readonly keeper: ProjectKeeper;
  readonly journal: Journal;
  readonly #machine: Machine;
  open = true;

  constructor(machine: Machine, name: string) {
    this.#machine = machine;
    this.journal = new Journal(machine.pages, name);
    this.keeper = new ProjectKeeper({
      store: machine.projects,
      journal: this.journal,
      newKeep: machine.newKeep,
      claim: machine.claim,
      clock: () => machine.clock,
      later: (run, ms) => {
        void ms;
        const due = () => this.open && run();
        machine.timers.add(due);
        return () => void machine.timers.delete(due);
      },
      now: () => this.tracked,
      tell: (keeping) => (this.keeping = keeping),
    });
  }

  begin(): void {
    void this.keeper.leave();
    this.tracked = { project: START, history: EMPTY_HISTORY };
    this.keeper.begin();
  }

  /** As `openKept` does. */
  async openProject(id: string): Promise<void> {
    const again = id === this.keeper.id;
    if (again) await this.keeper.leave();
    const claim = await this.#machine.claim(id, false);
    const recalled = await this.#machine.projects.recall(id).catch(() => null);
    const { tracked, put, copies } = putIn(recalled, claim ? this.journal.pages(id) : []);
    for (const [key, whole] of copies) {
      const kept = await this.#machine.projects.keep(this.#machine.newKeep(), whole).catch(() => null);
      if (kept !== null) this.journal.drop(key);
    }
    if (!tracked || !this.open) {
      claim?.release();
      if (again && this.open) this.keeper.stay();
      return;
    }
    void this.keeper.leave();
    this.tracked = tracked;
    this.keeper.begin({
      keep: recalled?.keep ?? { id, sequence: 0 },
      savedAt: recalled?.savedAt ?? 0,
      entries: recalled?.tracked.history.entries.length ?? 0,
      claim,
      pages: put,
    });
  }

  edit(mark: string): void {
    const notes = `${this.tracked.project.notes}${mark} `;
    this.tracked = commit(this.tracked, [{ kind: 'set', path: 'notes', value: notes }], mark, this.#machine.clock);
    this.keeper.changed();
  }

  close(): void {
    this.keeper.leaving(null);
    this.open = false;
    void this.keeper.flush();
  }
}

/** Every mark that can be read back, by a browser that starts afresh: from the store, or from what windows left. */
async function found(machine: Machine): Promise<Set<string>> {
  const marks = new Set<string>();
  const journal = new Journal(machine.pages, 'last');
  const ids = new Set([
    ...(await machine.projects.list()).map(({ id }) => id),
    ...journal.pages().map(([, { id }]) => id),
  ]);
  for (const id of ids) {
    const recalled = await machine.projects.recall(id);
    const { tracked, copies } = putIn(recalled, journal.pages(id));
    for (const one of [tracked, ...copies.map(([, whole]) => whole)])
      for (const { label } of one?.history.entries ?? []) marks.add(label);
  }
  return marks;
}

/** One run: tabs in random order edit, close, open, take over, while the store refuses now and then. */
async function run(seed: number, locks: boolean): Promise<void> {
  const roll = random(seed);
  const machine = new Machine(locks);
  const tabs = [new Tab(machine, 'a')];
  tabs[0].begin();
  await machine.rest();
  const made: string[] = [];
  let refusing = 0;
  machine.store.fails = () => refusing > 0 && roll(100) < refusing;
  const steps = 12 + roll(20);
  for (let step = 0; step < steps; step++) {
    const open = tabs.filter((tab) => tab.open);
    const tab = open[roll(open.length)];
    const what = roll(12);
    if (what < 5 && tab) {
      const mark = `e${made.length}`;
      tab.edit(mark);
      made.push(mark);
    } else if (what === 5) machine.runTimers();
    else if (what === 6 && tab) await tab.openProject(tabs[0].keeper.id);
    else if (what === 7 && tabs.length < 3) {
      const next = new Tab(machine, 'abc'[tabs.length]);
      tabs.push(next);
      next.begin();
      if (roll(2)) await next.openProject(tabs[0].keeper.id);
    } else if (what === 8 && tab) void tab.keeper.takeOver((recalled) => (tab.tracked = recalled));
    else if (what === 9) refusing = [0, 0, 30, 100][roll(4)];
    else if (what === 10) machine.clock += roll(2) ? 1e9 : -1e9;
    else if (what === 11 && tab) {
      if (roll(2)) tab.close();
      else tab.begin();
    }
    if (roll(2)) await machine.rest();
    else await machine.goOn(roll(12));
  }
  refusing = 0; // there is room again
  for (let i = 0; i < 4; i++) {
    machine.runTimers();
    await machine.rest();
  }
  for (const tab of tabs) if (tab.open) tab.close();
  await machine.rest();
  const there = await found(machine);
  const lost = made.filter((mark) => !there.has(mark));
  if (lost.length > 0)
    throw new Error(`seed ${seed}${locks ? '' : ' without locks'}: lost ${lost.join(', ')} of ${made.length}`);
}

describe('whatever tabs, stores and clocks do', () => {
  const RUNS = Number(process.env.ULVEX_STORE_RUNS ?? 400);

  for (const locks of [true, false])
    it(`nothing is lost, ${locks ? 'with' : 'without'} locks`, async function () {
      this.timeout(0);
      for (let seed = 1; seed <= RUNS; seed++) await run(seed, locks);
    });
});
