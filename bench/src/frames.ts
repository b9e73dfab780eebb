/** One event of a browser trace, as far as it is read here; times in µs. */
export interface TraceEvent {
  readonly name: string;
  readonly ph: string;
  readonly ts: number;
  readonly dur?: number;
  readonly pid: number;
  readonly tid: number;
  readonly id2?: { readonly local?: string };
}

/** A frame that took something from the page's main thread. */
export interface MainFrame {
  /** When the main thread handed its changes over. */
  readonly committed: number;
  /** When the frame was on the screen. */
  readonly presented: number;
}

/**
 * The frames of one page with changes of its main thread, by when those were handed over. The browser reports each frame as nested
 * spans under an id that it uses again later.
 */
export function mainFrames(events: readonly TraceEvent[], pid: number): MainFrame[] {
  const open = new Map<string, { committed: number | null }>();
  const frames: MainFrame[] = [];
  const spans = events.filter((event) => event.pid === pid && event.id2?.local && /^[be]$/.test(event.ph));
  for (const { name, ph, ts, id2 } of [...spans].sort((a, b) => a.ts - b.ts)) {
    const id = id2!.local!;
    if (name === 'PipelineReporter' && ph === 'b') open.set(id, { committed: null });
    else if (name === 'SendBeginMainFrameToCommit' && ph === 'e') {
      const frame = open.get(id);
      if (frame) frame.committed = ts;
    } else if (name === 'PipelineReporter' && ph === 'e') {
      const committed = open.get(id)?.committed;
      open.delete(id);
      if (committed) frames.push({ committed, presented: ts });
    }
  }
  return frames.sort((a, b) => a.committed - b.committed);
}

/** When a change that the page had made at `ts` was on the screen; null when the trace ends before. */
export function presentedAfter(frames: readonly MainFrame[], ts: number): number | null {
  return frames.find(({ committed }) => committed >= ts)?.presented ?? null;
}

/** Tasks of a thread between two times that took at least `least` µs, longest first. */
export function longTasks(
  events: readonly TraceEvent[],
  thread: { readonly pid: number; readonly tid: number },
  [from, to]: readonly [number, number],
  least: number,
): TraceEvent[] {
  return events
    .filter(
      ({ name, pid, tid, ts, dur }) =>
        name === 'RunTask' && pid === thread.pid && tid === thread.tid && ts >= from && ts <= to && (dur ?? 0) >= least,
    )
    .sort((a, b) => (b.dur ?? 0) - (a.dur ?? 0));
}
