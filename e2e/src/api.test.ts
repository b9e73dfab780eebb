import {
  atOnce,
  checkProject,
  Evaluation,
  evaluateMeasure,
  readProjectText,
  traceReport,
  traceTask,
  type Project,
} from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { resolve } from 'node:path';
import { startServer, type RunningServer } from './server.ts';

const text = readFileSync(resolve(import.meta.dirname, '../../samples/tide-camera.ulvex.json'), 'utf8');
const RADIUS = 'lenses.tide.surfaces.l1_front.radius';
const JSON_TEXT = { 'content-type': 'application/json' };
const WORST = { measure: 'rms_spot_radius', settings: { field: 'worst' } };

describe('the server for other programs', () => {
  let server: RunningServer;
  let project: Project;
  before(async () => {
    server = await startServer({
      ULVEX_BODY_SECONDS: '1',
      ULVEX_MEASURES_SECONDS: '2',
      ULVEX_MAX_BODY_MB: '1',
    });
    const read = readProjectText(text);
    if (!read.ok) throw new Error('the sample does not read');
    ({ project } = read);
  });
  after(() => server.stop());

  const post = (path: string, body: string) =>
    fetch(`${server.url}api/${path}`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/json' },
    });
  const refusalOf = async (answer: Response) => [answer.status, ((await answer.json()) as { error: string }).error];

  it('measures a posted project as the core does', async () => {
    const answer = await post('measures', JSON.stringify({ project, measures: [WORST] }));
    const { measures } = (await answer.json()) as { measures: { outcome: unknown; unit: string }[] };
    const expected = evaluateMeasure(new Evaluation(project), { ...WORST, lens: 'tide' });
    expect(answer.status).to.equal(200);
    expect(measures[0].outcome).to.deep.equal(expected);
    expect(measures[0].unit).to.equal('µm');
  });

  it('streams a scan line by line', async () => {
    const axes = [{ address: RADIUS, values: [13, 13.5, 14] }];
    const answer = await post(
      'scan',
      JSON.stringify({ project, axes, measures: [{ measure: 'effective_focal_length' }] }),
    );
    const lines = (await answer.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Record<string, unknown>);
    expect(answer.headers.get('content-type')).to.equal('application/x-ndjson');
    expect(lines.at(-1)).to.deep.equal({ finished: true, points: 3 });
    const rows = lines.flatMap(({ rows }) => (rows as { at: number[] }[] | undefined) ?? []);
    expect(rows.map(({ at }) => at[0])).to.deep.equal([13, 13.5, 14]);
  });

  it('streams a lot trial by trial, the same for the same seed, and refuses one without tolerances', async () => {
    const asked = async (body: object) => {
      const answer = await post('tolerance', JSON.stringify({ project, trials: 12, seed: 3, ...body }));
      const lines = (await answer.text()).trim().split('\n');
      return lines.map((line) => JSON.parse(line) as Record<string, unknown>);
    };
    const lines = await asked({});
    const trials = lines.flatMap((line) => (Array.isArray(line.trials) ? (line.trials as { trial: number }[]) : []));
    expect(trials.map(({ trial }) => trial)).to.deep.equal(Array.from({ length: 12 }, (_, k) => k));
    const last = lines.at(-1) as { finished: boolean; trials: number; passed: number; yieldRange: [number, number] };
    expect(last).to.deep.include({ finished: true, trials: 12, yield: last.passed / 12 });
    expect(last.passed / 12).to.be.within(...last.yieldRange);
    const again = await asked({});
    expect(again.at(-1)).to.deep.equal(last);
    const plain = { ...(project as object), tolerancing: undefined };
    const [status, reason] = await refusalOf(await post('tolerance', JSON.stringify({ project: plain })));
    expect([status, reason]).to.deep.equal([422, 'project: it has no tolerances; add some in the Tolerance room']);
    const wrong = await refusalOf(await post('tolerance', JSON.stringify({ project, trials: 0.5 })));
    expect(wrong[1]).to.include('trials: a whole number from 1 to 10000');
  });

  it('traces a scene to the numbers that the core has, tells how far it is, and lists findings', async () => {
    const lantern = readFileSync(resolve(import.meta.dirname, '../../samples/sector-lantern.ulvex.json'), 'utf8');
    const light = readProjectText(lantern);
    if (!light.ok) throw new Error('the sample does not read');
    const order = { rays: 40_000, seed: 7, maps: ['water'] };
    const answer = await post('trace', JSON.stringify({ project: light.project, ...order }));
    const lines = (await answer.text()).trim().split('\n');
    const { finished, ...report } = JSON.parse(lines.at(-1)!) as Record<string, unknown>;
    const task = traceTask(light.project, order);
    if (!task.ok) throw new Error(task.reason);
    expect(finished).to.equal(true);
    expect(JSON.stringify(report)).to.equal(JSON.stringify(atOnce(traceReport(task.value))));
    for (const line of lines.slice(0, -1)) expect(JSON.parse(line)).to.have.all.keys('done', 'of');
    const [status, reason] = await refusalOf(await post('trace', JSON.stringify({ project })));
    expect([status, reason]).to.deep.equal([422, 'The project has no scene.']);
    const checked = await post('check', JSON.stringify({ project: light.project }));
    expect(await checked.json()).to.deep.equal(
      JSON.parse(JSON.stringify(atOnce(checkProject(light.project)))) as unknown,
    );
  });

  it('refuses what is malformed, huge or would run for ever, each with its reason', async () => {
    const [status, reason] = await refusalOf(
      await post('measures', '{"project": {"format": "other"}, "measures": [{"measure": "x"}]}'),
    );
    expect([status, reason]).to.deep.equal([
      422,
      'project: format: this is no Ulvex project: format must be "ulvex-project"',
    ]);
    expect(await refusalOf(await post('scan', '{'))).to.satisfy(
      (found: unknown[]) => found[0] === 422 && /not JSON/.test(String(found[1])),
    );
    expect(await refusalOf(await post('measures', ' '.repeat(2 * 1024 * 1024)))).to.deep.equal([
      413,
      'The body is larger than 1 MB.',
    ]);
    const settings = { ...WORST.settings, rings: 100, arms: 200 };
    const points = Array.from({ length: 400 }, (_, i) => ({ id: `f${i}`, x: i / 100, y: i / 90, weight: 1 }));
    const endless = {
      ...project,
      lenses: [{ ...project.lenses[0], fields: { kind: 'angle', points } }],
    };
    const late = await refusalOf(
      await post('measures', JSON.stringify({ project: endless, measures: [{ ...WORST, settings }] })),
    );
    expect(late).to.deep.equal([422, 'This takes longer than 2 s. Ask for less at once.']);
    // A number that takes no time: on a busy machine a large one could be refused, too.
    const light = { measure: 'effective_focal_length', lens: 'tide', settings: {} };
    const after = await post('measures', JSON.stringify({ project, measures: [light] }));
    expect(after.status).to.equal(200);
  });

  it('goes on answering under 200 posts at once and a body that does not come', async () => {
    const { hostname, port } = new URL(server.url);
    const socket = connect(Number(port), hostname);
    let received = '';
    const hungUp = new Promise<void>((done) => socket.once('close', () => done()));
    socket.on('data', (data) => (received += data.toString()));
    socket.on('error', () => {});
    const head = [
      'POST /api/measures HTTP/1.1',
      'Host: localhost',
      'Content-Type: application/json',
      'Content-Length: 9999',
      'Connection: close',
    ];
    socket.write(`${head.join('\r\n')}\r\n\r\n{`);
    const axes = [{ address: RADIUS, values: Array.from({ length: 30 }, (_, i) => 13 + i / 100) }];
    const body = JSON.stringify({ project, axes, measures: [WORST] });
    let running = true;
    const posts = Promise.all(
      Array.from({ length: 200 }, () =>
        post('scan', body).then(async (answer) => [answer.status, await answer.text()] as const),
      ),
    );
    const health: number[] = [];
    const watched = (async () => {
      while (running) health.push((await fetch(`${server.url}api/health`)).status);
    })();
    const answers = await posts;
    running = false;
    await watched;
    await hungUp;
    const done = answers.filter(([status]) => status === 200);
    expect(done.length).to.be.greaterThan(0);
    for (const [, lines] of done) expect(lines.trim().split('\n').at(-1)).to.equal('{"finished":true,"points":30}');
    for (const [status, said] of answers) {
      expect([200, 429, 503]).to.include(status);
      if (status !== 200) expect((JSON.parse(said) as { error: string }).error).to.match(/try again soon/i);
    }
    expect(new Set(health)).to.deep.equal(new Set([200]));
    expect(received).to.match(/^HTTP\/1\.1 503/);
    expect(received).to.match(/the connection is too slow/);
  });

  it('ends the work of a scan that was dropped, and serves the next one', async () => {
    const values = Array.from({ length: 20_000 }, (_, i) => 13 + i * 1e-5);
    const settings = { ...WORST.settings, rings: 40, arms: 80 };
    const body = JSON.stringify({
      project,
      axes: [{ address: RADIUS, values }],
      measures: [{ ...WORST, settings }],
    });
    const dropped = new AbortController();
    const scan = await fetch(`${server.url}api/scan`, {
      method: 'POST',
      body,
      signal: dropped.signal,
      headers: JSON_TEXT,
    });
    await scan.body!.getReader().read(); // it runs
    dropped.abort();
    const next = await post('measures', JSON.stringify({ project, measures: [WORST] }));
    expect(next.status).to.equal(200);
    await next.text();
  });

  it('says what does not follow as it should', async () => {
    const parameters = {
      'lenses.tide.surfaces.l1_back.radius': {
        kind: 'linked',
        formula: '-1 * lenses.tide.surfaces.l1_frnt.radius',
      },
    };
    const answer = await post('measures', JSON.stringify({ project: { ...project, parameters }, measures: [WORST] }));
    const { measures } = (await answer.json()) as { measures: { outcome: { value: { caution: string } } }[] };
    expect(measures[0].outcome.value.caution).to.match(/l1_back\.radius does not follow.*l1_frnt/);
  });

  it('answers to its own names alone', async () => {
    const { hostname, port } = new URL(server.url);
    const asked = (host: string) =>
      new Promise<string>((done) => {
        const socket = connect(Number(port), hostname, () =>
          socket.write(`GET /api/health HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\n\r\n`),
        );
        let received = '';
        socket.on('data', (data) => (received += data.toString()));
        socket.on('close', () => done(received));
      });
    expect(await asked('elsewhere.example')).to.match(/^HTTP\/1\.1 421/);
    for (const own of ['localhost', `127.0.0.1:${port}`, '[::1]:80'])
      expect(await asked(own)).to.match(/^HTTP\/1\.1 200/);
  });
});

describe('the notice of third-party software', () => {
  let server: RunningServer;
  before(async () => void (server = await startServer()));
  after(() => server.stop());

  it('has the licence of every package that the product depends on', async () => {
    const answer = await fetch(`${server.url}third-party.txt`);
    expect(answer.headers.get('content-type')).to.match(/^text\/plain/);
    const notice = await answer.text();
    for (const space of ['app', 'core']) {
      const file = resolve(import.meta.dirname, '../..', space, 'package.json');
      const { dependencies } = JSON.parse(readFileSync(file, 'utf8')) as {
        dependencies: Record<string, string>;
      };
      for (const name of Object.keys(dependencies).filter((name) => !name.startsWith('@ulvex/')))
        expect(notice, name).to.match(new RegExp(`^${name} \\d.*\n=+\nLicence: \\S+`, 'm'));
    }
    expect(notice).to.contain('SIL OPEN FONT LICENSE');
    expect(notice)
      .to.match(/^svelte \d/m)
      .and.match(/^assemblyscript \d/m)
      .and.match(/^fflate \d/m);
  });
});

describe('a server with little memory that is told to stop', () => {
  let server: RunningServer;
  afterEach(() => server.stop());

  it('ends a computation that needs more and goes on; tells what is under way, and is gone', async () => {
    server = await startServer({ ULVEX_WORKER_MEMORY_MB: '60', ULVEX_WORKERS: '1' });
    const body = JSON.stringify({ project: JSON.parse(text) as unknown, measures: [WORST] });
    const post = () => fetch(`${server.url}api/measures`, { method: 'POST', body, headers: JSON_TEXT });
    const answer = await post();
    expect(answer.status).to.equal(422);
    expect(((await answer.json()) as { error: string }).error).to.match(/needs more than the 60 MB/);
    expect((await fetch(`${server.url}api/health`)).status).to.equal(200);
    server.stop();
    expect(await server.ended).to.equal(0);
  });

  it('tells a scan that is under way', async () => {
    server = await startServer();
    const values = Array.from({ length: 20_000 }, (_, i) => 13 + i * 1e-5);
    const project = JSON.parse(text) as unknown;
    const body = JSON.stringify({ project, axes: [{ address: RADIUS, values }], measures: [WORST] });
    const scan = await fetch(`${server.url}api/scan`, { method: 'POST', body, headers: JSON_TEXT });
    const reader = scan.body!.pipeThrough(new TextDecoderStream()).getReader();
    await reader.read();
    server.stop();
    let last = '';
    for (let part = await reader.read(); !part.done; part = await reader.read()) last = part.value;
    expect(last.trim().split('\n').at(-1)).to.match(/"error":"The server is being stopped/);
    expect(await server.ended).to.equal(0);
  });
});
