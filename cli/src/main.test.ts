import { expect } from 'chai';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import type { Project } from '@ulvex/core';
import { EXIT, main } from './main.ts';

const TIDE = 'samples/tide-camera.ulvex.json';

/** What a study of tolerances prints as JSON. */
interface Studied {
  readonly requirements: readonly { readonly title: string; readonly design: number }[];
  readonly tolerances: readonly {
    readonly id: string;
    readonly influences: readonly { readonly share: number; readonly ends: readonly [number, number] }[];
  }[];
}

/** Runs a command in this process and returns what it said. */
async function ulvex(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  const said = { out: [] as string[], err: [] as string[] };
  const code = await main(args, { out: (line) => said.out.push(line), err: (line) => said.err.push(line) });
  return { code, out: said.out.join('\n'), err: said.err.join('\n') };
}

describe('the terminal', () => {
  it('measures, with settings and with parameters set', async () => {
    const plain = await ulvex('measure', TIDE, '--measure', 'effective_focal_length');
    expect(plain.code).to.equal(EXIT.done);
    expect(plain.out).to.match(/^36\.0006\d+ mm$/);
    const spot = await ulvex('measure', TIDE, '--measure', 'rms_spot_radius', '--with', '{"field":"edge"}', '--json');
    expect(JSON.parse(spot.out)).to.deep.include({ measure: 'rms_spot_radius', lens: 'tide', unit: 'µm' });
    expect(JSON.parse(spot.out).value).to.be.closeTo(8.2088, 1e-4);
    const moved = await ulvex(
      'measure',
      TIDE,
      '--measure=total_length',
      '--set=lenses.tide.surfaces.l4_back.thickness=1in',
      '--set=lenses.tide.surfaces.l4_back.thickness=*2',
      '--json',
    );
    expect(JSON.parse(moved.out).value).to.be.closeTo(42.2038 - 30.3498 + 50.8, 1e-12);
  });

  it('takes tolerances one by one: a ladder for each requirement, as text, JSON and CSV', async () => {
    const { code, out, err } = await ulvex('tolerance', TIDE);
    expect([code, err]).to.deep.equal([EXIT.done, '']);
    expect(out).to.match(/^Tide camera: 40 tolerances, one by one\n\nFocal length, mm: design 36, made 36 ± 0\.0995/);
    const { requirements, tolerances } = JSON.parse((await ulvex('tolerance', TIDE, '--json')).out) as Studied;
    const spot = requirements.findIndex(({ title }) => title === 'Spot, worst field');
    const shares = tolerances.map(({ influences }) => influences[spot].share);
    expect(shares.reduce((sum, share) => sum + share, 0)).to.be.closeTo(1, 1e-12);
    // Along x the lens is its own mirror image: both ends are alike. Focus is set: the lens is as sharp at the start as it can be.
    const [low, high] = tolerances.find(({ id }) => id === 'tide_l2_front_shift_x')!.influences[spot].ends;
    expect(low).to.be.closeTo(high, 1e-9);
    expect(requirements[spot].design).to.be.below(8.2088);
    const csv = (await ulvex('tolerance', TIDE, '--csv')).out.split('\n');
    expect(csv).to.have.length(1 + requirements.length * tolerances.length);
  });

  it('makes lots at random: the same for a seed, with yields and trials', async () => {
    const call = ['tolerance', TIDE, '--trials', '20', '--seed', '5'];
    const { code, out } = await ulvex(...call);
    expect(code).to.equal(EXIT.done);
    expect(out).to.match(/^Tide camera: 20 trials, seed 5; \d+\.\d % keep every requirement/);
    expect(out).to.match(
      /Focal length, mm: at least 35\.5, at most 36\.5\n {2}yield 100\.0 % \(83\.9 % to 100\.0 % at 95 %\), Cpk/,
    );
    const json = JSON.parse((await ulvex(...call, '--json')).out) as {
      readonly trials: readonly { readonly values: readonly number[]; readonly passed: boolean }[];
    };
    const rows = (await ulvex(...call, '--csv')).out.split('\n').slice(1);
    expect(rows).to.have.length(20);
    rows.forEach((row, i) => expect(Number(row.split(',')[1])).to.equal(json.trials[i].values[0]));
    const wrong = await ulvex('tolerance', TIDE, '--trials', '1.5');
    expect([wrong.code, wrong.err]).to.deep.equal([
      EXIT.wrong,
      '--trials takes a whole number from 1 to 1000000, not “1.5”.',
    ]);
  });

  it('makes a lot by response, with the quality of its fit, near what traced trials give', async () => {
    const call = ['tolerance', TIDE, '--response', '--trials', '20000'];
    const { code, out, err } = await ulvex(...call);
    expect([code, err]).to.deep.equal([EXIT.done, '']);
    expect(out).to.match(/^Tide camera: 20000 trials by response, seed 1; \d+\.\d % keep every requirement/);
    expect(out).to.match(/good fit, off by \d\.\d %/);
    const json = JSON.parse((await ulvex(...call, '--json')).out) as {
      readonly yield: number;
      readonly traced: number;
      readonly requirements: readonly { readonly fit: { readonly verdict: string } }[];
    };
    expect(json.yield).to.be.within(0.74, 0.82);
    expect(json.traced).to.be.above(100);
    expect(new Set(json.requirements.map(({ fit }) => fit.verdict))).to.deep.equal(new Set(['good']));
    expect((await ulvex(...call, '--csv')).out.split('\n')).to.have.length(1 + json.requirements.length);
  });

  it('says what is missing to study tolerances, and where a trial has no value', async () => {
    const none = await ulvex('tolerance', 'samples/ice-glass.ulvex.json');
    expect([none.code, none.err]).to.deep.equal([EXIT.no, 'The project has no tolerances: there is nothing to study.']);
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-tolerance-'));
    try {
      const project = JSON.parse(readFileSync(TIDE, 'utf8')) as Project;
      const [first] = project.tolerancing!.tolerances;
      const address = 'lenses.tide.surfaces.l1_front.radius';
      const wild = { id: 'wild', kind: 'share', address, lower: -99.5, upper: 0.1 };
      const file = join(folder, 'wild.ulvex.json');
      writeFileSync(file, JSON.stringify({ ...project, tolerancing: { tolerances: [wild] } }));
      const { code, out, err } = await ulvex('tolerance', file);
      expect(code).to.equal(EXIT.no);
      expect(out).to.match(/: 1 tolerance, one/);
      expect(err).to.match(/^L1 front radius at −99\.5 %: \S/);
      writeFileSync(file, JSON.stringify({ ...project, tolerancing: { tolerances: [{ ...first, lower: 1 }] } }));
      const refused = await ulvex('tolerance', file);
      expect(refused.code).to.equal(EXIT.wrong);
      expect(refused.err).to.match(/tolerancing\.tolerances.*lower.*must not be above 0/);
    } finally {
      rmSync(folder, { recursive: true });
    }
    expect((await ulvex('tolerance', TIDE, '--json', '--csv')).code).to.equal(EXIT.wrong);
  });

  it('looks at a state, lets links follow what is set, and checks requirements in every state', async () => {
    const near = await ulvex(
      'measure',
      TIDE,
      '--measure=rms_spot_radius',
      '--with={"field":"worst"}',
      '--state=near',
      '--json',
    );
    expect(JSON.parse(near.out).value).to.be.above(25);
    const none = await ulvex('measure', TIDE, '--measure=total_length', '--state=far');
    expect(none.code).to.equal(EXIT.wrong);
    expect(none.err).to.match(/there are near, frost/);
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-cli-'));
    const project = JSON.parse(readFileSync(TIDE, 'utf8'));
    const at = (rest: string) => `lenses.tide.surfaces.${rest}`;
    project.parameters = { [at('l1_back.thickness')]: { kind: 'linked', formula: `2 * ${at('l1_front.thickness')}` } };
    project.requirements.find(({ id }: { id: string }) => id === 'worst_spot').state = 'every';
    const path = join(folder, 'linked.ulvex.json');
    writeFileSync(path, JSON.stringify(project));
    const linked = await ulvex(
      'measure',
      path,
      '--measure=total_length',
      `--set=${at('l1_front.thickness')}=3`,
      '--json',
    );
    expect(JSON.parse(linked.out).value).to.be.closeTo(42.2038 + (3 - 2.3027) + (6 - 2.3549), 1e-9);
    const checked = JSON.parse((await ulvex('check', path, '--json')).out);
    expect(checked.requirements.find(({ id }: { id: string }) => id === 'worst_spot')).to.deep.include({
      state: 'near',
      verdict: 'missed',
    });
    rmSync(folder, { recursive: true });
  });

  it('answers questions with units', async () => {
    const ratio = await ulvex('ask', TIDE, 'effective focal length / entrance pupil diameter');
    expect(ratio.code).to.equal(EXIT.done);
    expect(Number(ratio.out)).to.be.closeTo(3.5, 1e-3);
    const length = await ulvex('ask', TIDE, 'l1_front.radius * 2', '--set', 'lenses.tide.surfaces.l1_front.radius=1in');
    expect(length.out).to.equal('50.8 mm');
    const no = await ulvex('ask', TIDE, '5 mm + 2°');
    expect([no.code, no.out]).to.deep.equal([EXIT.no, '']);
    expect(no.err).to.match(/cannot be/);
    expect((await ulvex('ask', TIDE)).code).to.equal(EXIT.wrong);
  });

  it('says no with exit code 1 and what went wrong on the error stream', async () => {
    const axis = await ulvex('measure', TIDE, '--measure', 'distortion', '--with', '{"field":"axis"}');
    expect(axis).to.deep.equal({ code: EXIT.no, out: '', err: 'Distortion is not defined on the axis.' });
    const steep = await ulvex(
      'measure',
      TIDE,
      '--measure',
      'rms_spot_radius',
      '--set',
      'lenses.tide.surfaces.l4_back.radius=5',
    );
    expect(steep.err).to.match(/Only of the rays that arrive/);
    const check = await ulvex('check', TIDE);
    expect(check.code).to.equal(EXIT.no);
    expect(check.out).to.match(/missed: Chief ray at sensor: 16\.59\d+ \(margin -0\.59\d+\)\nnot as required$/);
    expect((await ulvex('check', 'samples/ice-glass.ulvex.json')).code).to.equal(EXIT.done);
  });

  it('refuses wrong calls and files with exit code 2, place and reason', async () => {
    const wrong = async (...args: string[]) => {
      const { code, err } = await ulvex(...args);
      expect(code, args.join(' ')).to.equal(EXIT.wrong);
      return err;
    };
    expect(await wrong('measure', TIDE)).to.match(/Which measure/);
    expect(await wrong('measure', TIDE, '--measure', 'beauty')).to.match(/no measure “beauty”/);
    expect(await wrong('measure', '/nowhere.json', '--measure', 'total_length')).to.match(/cannot be read/);
    expect(await wrong('measure', TIDE, '--measure', 'total_length', '--with', '{')).to.match(/not JSON/);
    expect(await wrong('measure', TIDE, '--measure', 'total_length', '--set', 'a.b=1')).to.match(/no parameter a\.b/);
    expect(await wrong('measure', TIDE, '--measure', 'total_length', '--set', 'lenses.tide.aperture.value=0')).to.match(
      /above 0/,
    );
    expect(await wrong('measure', TIDE, '--measure', 'total_length', '--set', 'nothing')).to.match(/ADDRESS=VALUE/);
    expect(await wrong('dance')).to.match(/no command “dance”/);
    expect(await wrong('check', TIDE, '--loud')).to.match(/loud/);
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-cli-'));
    const file = join(folder, 'broken.json');
    writeFileSync(file, '{"format":"ulvex-project","version":1}');
    expect(await wrong('check', file)).to.match(/broken\.json: lenses: is missing/);
    rmSync(folder, { recursive: true });
  });

  it('lists the measures with their settings', async () => {
    expect((await ulvex('measures')).out).to.match(
      /rms_spot_radius {2}RMS spot radius, µm\n {4}field: id of a field \| all \| worst {2}\(all\)/,
    );
    expect(JSON.parse((await ulvex('measures', '--json')).out)).to.have.length.greaterThan(8);
    expect((await ulvex('--help')).code).to.equal(EXIT.done);
  });

  it('runs as a program', async () => {
    const out = execFileSync(process.execPath, ['cli/bin/ulvex.mjs', 'measure', TIDE, '--measure', 'total_length'], {
      encoding: 'utf8',
    });
    expect(out).to.equal('42.2038 mm\n');
  });

  it('traces a scene: its energy book, its detectors with errors, the same for a seed', async () => {
    const lantern = 'samples/sector-lantern.ulvex.json';
    const call = ['trace', lantern, '--rays', '20000', '--seed', '7'];
    const { code, out } = await ulvex(...call);
    expect(code).to.equal(EXIT.done);
    expect(out).to.match(/^\d+ rays, seed 7, [\d.]+ W launched/);
    expect(out).to.match(/escaped from the scene: 27\.\d+ %/);
    expect(out).to.match(/Water: 2\d\.\d+ ± 0\.\d+ lm/);
    const json = JSON.parse((await ulvex(...call, '--json')).out);
    const { launched, ...ended } = json.energy as Record<string, number>;
    const sum = Object.values(ended).reduce((all, watts) => all + watts, 0);
    expect(sum / launched).to.be.closeTo(1, 1e-9);
    expect(json.detectors[0].map.values).to.have.length(80 * 40);
    expect((await ulvex(...call, '--json')).out).to.equal(JSON.stringify(json));
    expect((await ulvex('trace', lantern, '--rays', '20000', '--json')).out).to.not.equal(JSON.stringify(json));
  });

  it('writes the map of a detector as CSV, and as a grey picture', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-png-'));
    try {
      const png = join(folder, 'map.png');
      const call = ['trace', 'samples/signal-lamp.ulvex.json', '--rays', '4096', '--detector', 'map'];
      const { code, out } = await ulvex(...call, '--csv', '--png', png);
      expect(code).to.equal(EXIT.done);
      const [head, ...rows] = out.split('\n');
      expect(head).to.equal('x mm,y mm,lx,standard error');
      expect(rows).to.have.length(100 * 100);
      const { width, height, data } = PNG.sync.read(readFileSync(png));
      expect([width, height]).to.deep.equal([100, 100]);
      // Rows of the table rise with y, those of a picture fall.
      const values = rows.map((row) => Number(row.split(',')[2]));
      const top = Math.max(...values);
      for (const cell of [0, 4949, 5151, 7030, 9999, values.indexOf(top)]) {
        const pixel = 4 * ((99 - Math.floor(cell / 100)) * 100 + (cell % 100));
        expect(data[pixel], `cell ${cell}`).to.equal(Math.round((255 * values[cell]) / top));
      }
    } finally {
      rmSync(folder, { recursive: true });
    }
  });

  it('says what is wrong with a call for a trace, and what a scene lacks', async () => {
    const lamp = 'samples/signal-lamp.ulvex.json';
    expect(await ulvex('trace', lamp, '--rays', '7')).to.deep.include({ code: EXIT.wrong });
    const none = await ulvex('trace', lamp, '--detector', 'moon');
    expect(none).to.deep.include({ code: EXIT.no, err: 'There is no detector “moon”; there are map.' });
    expect((await ulvex('trace', TIDE)).err).to.equal('The project has no scene.');
    const dark = await ulvex('trace', lamp, '--set', 'scenes.lamp.sources.led.flux=0');
    expect(dark.code).to.equal(EXIT.no);
    expect(dark.err).to.match(/No source shines/);
  });

  it('lists the findings of scenes with those of lenses', async () => {
    const { code, out } = await ulvex('check', 'samples/signal-lamp.ulvex.json', '--json');
    expect(JSON.parse(out).findings).to.deep.equal([]);
    expect([EXIT.done, EXIT.no]).to.include(code);
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-check-'));
    try {
      const project = JSON.parse(readFileSync('samples/signal-lamp.ulvex.json', 'utf8'));
      project.scenes[0].parts[0].finish = 'gone';
      const file = join(folder, 'gone.ulvex.json');
      writeFileSync(file, JSON.stringify(project));
      const told = await ulvex('check', file);
      expect(told.code).to.equal(EXIT.no);
      expect(told.out).to.match(/error: lamp\.mirror: The project has no finish “gone”/);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
