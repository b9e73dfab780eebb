import type { Project } from '@ulvex/core';

/**
 * What is being typed or dragged, on its way to the screen: each preview appears together with its answers, or without them when they
 * take long. Answers that still come for what was typed before the last `drop` show nothing: they would take back what was done since.
 */
export class Previews {
  readonly #reveal: (project: Project) => void;
  readonly #patience: number;
  #newest: Project | null = null;
  #known = new WeakSet<Project>();
  #waiting: ReturnType<typeof setTimeout> | undefined;

  /**
   * @param reveal - puts a preview on screen
   * @param patience - how long a preview may wait for its answers, ms
   */
  constructor(reveal: (project: Project) => void, patience: number) {
    this.#reveal = reveal;
    this.#patience = patience;
  }

  /** Whether something is previewed. */
  get under(): boolean {
    return this.#newest !== null;
  }

  add(project: Project): void {
    this.#newest = project;
    this.#known.add(project);
    this.#waiting ??= setTimeout(() => {
      if (this.#newest) this.#show(this.#newest);
    }, this.#patience);
  }

  /** Answers for a project have come: one of these previews, or not. */
  answered(project: Project): void {
    if (this.#newest && this.#known.has(project)) this.#show(project);
  }

  /** Forgets all previews: what was typed is done, or given up. */
  drop(): void {
    this.#newest = null;
    this.#known = new WeakSet();
    clearTimeout(this.#waiting);
    this.#waiting = undefined;
  }

  #show(project: Project): void {
    clearTimeout(this.#waiting);
    this.#waiting = undefined;
    this.#reveal(project);
  }
}
