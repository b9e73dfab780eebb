import { expect } from 'chai';
import { longTasks, mainFrames, presentedAfter, type TraceEvent } from './frames.ts';

const event = (name: string, ph: string, ts: number, local?: string, more: Partial<TraceEvent> = {}) => ({
  name,
  ph,
  ts,
  pid: 1,
  tid: 2,
  ...(local && { id2: { local } }),
  ...more,
});

describe('frames of a browser trace', () => {
  const frame = (id: string, begin: number, commit: number | null, end: number) => [
    event('PipelineReporter', 'b', begin, id),
    ...(commit === null
      ? []
      : [
          event('SendBeginMainFrameToCommit', 'b', begin + 1, id),
          event('SendBeginMainFrameToCommit', 'e', commit, id),
        ]),
    event('PipelineReporter', 'e', end, id),
  ];
  const events = [
    ...frame('0x1', 0, null, 10), // nothing of the page in it
    ...frame('0x1', 20, 30, 60), // the id once more
    ...frame('0x2', 25, 50, 70),
    ...frame('0x3', 80, 90, 95).map((entry) => ({ ...entry, pid: 9 })),
  ];

  it('are those with changes of the page, by when they were handed over', () => {
    expect(mainFrames(events, 1)).to.deep.equal([
      { committed: 30, presented: 60 },
      { committed: 50, presented: 70 },
    ]);
  });

  it('tell when a change was on the screen', () => {
    const frames = mainFrames(events, 1);
    expect(presentedAfter(frames, 29)).to.equal(60);
    expect(presentedAfter(frames, 31)).to.equal(70);
    expect(presentedAfter(frames, 51)).to.equal(null);
  });

  it('leave long tasks of other threads and times out', () => {
    const tasks = [
      event('RunTask', 'X', 5, undefined, { dur: 60 }),
      event('RunTask', 'X', 6, undefined, { dur: 80 }),
      event('RunTask', 'X', 7, undefined, { dur: 49 }),
      event('RunTask', 'X', 8, undefined, { dur: 90, tid: 3 }),
      event('RunTask', 'X', 500, undefined, { dur: 90 }),
    ];
    expect(longTasks(tasks, { pid: 1, tid: 2 }, [0, 100], 50).map(({ dur }) => dur)).to.deep.equal([80, 60]);
  });
});
