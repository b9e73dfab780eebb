import { expect } from 'chai';
import { PaintQueue } from './paint-queue.ts';

/** A queue whose idle moments are made by the test, with what it drew. */
function queue() {
  const idle: (() => void)[] = [];
  const drawn: string[] = [];
  const paint = new PaintQueue((run) => void idle.push(run));
  return { paint, drawn, draws: (name: string) => () => void drawn.push(name), rest: () => idle.shift()?.() };
}

describe('the paint queue', () => {
  it('draws one chart a turn, each as it was asked for last', () => {
    const { paint, drawn, draws, rest } = queue();
    const [fans, curves] = [{}, {}];
    paint.later(fans, draws('fans 1'), 0);
    paint.later(curves, draws('curves 1'), 0);
    paint.later(fans, draws('fans 2'), 0);
    expect(drawn).to.deep.equal([]);
    rest();
    expect(drawn).to.deep.equal(['fans 2']);
    rest();
    expect(drawn).to.deep.equal(['fans 2', 'curves 1']);
    rest();
    expect(drawn).to.have.length(2);
  });

  it('draws first what is due first', () => {
    const { paint, drawn, draws, rest } = queue();
    paint.later({}, draws('in time'), 80);
    paint.later({}, draws('late'), 20);
    paint.later({}, draws('later'), 80);
    for (let turn = 0; turn < 3; turn++) rest();
    expect(drawn).to.deep.equal(['late', 'in time', 'later']);
  });

  it('forgets a chart that is gone, and draws at once what is needed at once', () => {
    const { paint, drawn, draws, rest } = queue();
    const [gone, needed] = [{}, {}];
    paint.later(gone, draws('gone'), 0);
    paint.forget(gone);
    paint.later(needed, draws('needed'), 0);
    paint.now(needed);
    rest();
    expect(drawn).to.deep.equal(['needed']);
  });

  it('goes on after a chart that fails', () => {
    const { paint, drawn, draws, rest } = queue();
    paint.later(
      {},
      () => {
        throw new Error('no chart');
      },
      0,
    );
    paint.later({}, draws('next'), 0);
    expect(rest).to.throw('no chart');
    rest();
    expect(drawn).to.deep.equal(['next']);
  });
});
