import type { Tolerance } from '@ulvex/core';
import type { DesignStand, Sampled } from '@ulvex/core/tolerance';
import { Run } from '$lib/compute/run.svelte.ts';
import type { Desk } from '$lib/desk/desk.svelte.ts';
import { answersFor, madeAlike, studyOf, type RoomStudy } from './study-of.ts';

/** Tolerances of one job: several workers share the list. */
const PART = 2;
const POINTS = 5;

/** Whether a tolerance was tried over the whole of its range. */
function covers(sampled: Sampled | undefined, { lower, upper }: Tolerance): boolean {
  const at = sampled?.curves[0]?.at;
  return at !== undefined && at[0] <= lower && at[at.length - 1] >= upper;
}

/** What departs, whatever its limits: curves belong to it. */
function keyOf(tolerance: Tolerance): string {
  const { id: _id, lower: _lower, upper: _upper, name: _name, distribution: _kind, off: _off, ...target } = tolerance;
  return JSON.stringify(target);
}

/** Tolerances one by one. Its parts are tolerances; what is known of one stays for as long as the design does. */
export class LadderRun extends Run {
  readonly #desk: Desk;
  #todo: Tolerance[] = [];
  /** What was tried, by what departs. */
  #sampled = $state.raw<Readonly<Record<string, Sampled>>>({});
  /** The design after its compensation, by watched measure. */
  design = $state.raw<DesignStand>({ values: [], units: [] });
  /** What was studied; null before the first. */
  study = $state.raw<RoomStudy | null>(null);

  constructor(desk: Desk) {
    super(desk.runs, { title: 'Tolerances one by one', room: '/tolerance' });
    this.#desk = desk;
  }

  /** Whether what it knows is of the design and of the requirements at hand. */
  isOf(study: RoomStudy): boolean {
    return this.study !== null && madeAlike(this.study.project, study.project) && answersFor(this.study, study);
  }

  /** Whether a tolerance was tried over the whole of its range. */
  knows(tolerance: Tolerance): boolean {
    return covers(this.curvesOf(tolerance), tolerance);
  }

  /** What is known of a tolerance, also of less than its range; undefined for nothing. */
  curvesOf(tolerance: Tolerance): Sampled | undefined {
    return this.#sampled[keyOf(tolerance)];
  }

  /** Tries what is not known yet. */
  start(): void {
    let study = studyOf(this.#desk.base);
    if (this.isOf(study)) study = { ...this.study!, tolerances: study.tolerances };
    else [this.#sampled, this.design] = [{}, { values: [], units: [] }];
    this.study = study;
    this.#todo = study.tolerances.filter((one) => !this.knows(one));
    this.begin();
    [this.done, this.of] = [0, this.#todo.length];
    if (this.of === 0) return this.end('done');
    void this.#try(study);
  }

  /** Has part after part tried, until none is left. */
  async #try(study: RoomStudy): Promise<void> {
    const next = () => (this.#todo.length > 0 ? this.#todo.splice(0, PART) : null);
    const whole = await this.handOut(next, async (part) => {
      const input = { study: { ...study, tolerances: part }, points: POINTS };
      const design = await this.work('sampleEach', input, (sampled) => this.#take(part, sampled));
      if (design?.ok) this.design = design.value;
      else if (design) this.end('failed', design.reason);
      return design?.ok ?? false;
    });
    if (whole && this.active && this.done === this.of) this.end('done');
  }

  #take(part: readonly Tolerance[], sampled: Sampled): void {
    const tolerance = part.find(({ id }) => id === sampled.tolerance)!;
    this.#sampled = { ...this.#sampled, [keyOf(tolerance)]: sampled };
    this.done++;
  }
}
