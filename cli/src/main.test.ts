import { expect } from 'chai';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { EXIT, main } from './main.ts';

const TIDE = 'samples/tide-camera.ulvex.json';

/** Runs a command in this process and returns what it said. */
function ulvex(...args: string[]): { code: number; out: string; err: string } {
  const said = { out: [] as string[], err: [] as string[] };
  const code = main(args, { out: (line) => said.out.push(line), err: (line) => said.err.push(line) });
  return { code, out: said.out.join('\n'), err: said.err.join('\n') };
}

describe('the terminal', () => {
  it('measures, with settings and with parameters set', () => {
    const plain = ulvex('measure', TIDE, '--measure', 'effective_focal_length');
    expect(plain.code).to.equal(EXIT.done);
    expect(plain.out).to.match(/^36\.0006\d+ mm$/);
    const spot = ulvex(
      'measure',
      TIDE,
      '--measure',
      'rms_spot_radius',
      '--with',
      '{"field":"edge"}',
      '--json',
    );
    expect(JSON.parse(spot.out)).to.deep.include({ measure: 'rms_spot_radius', lens: 'tide', unit: 'µm' });
    expect(JSON.parse(spot.out).value).to.be.closeTo(8.2088, 1e-4);
    const moved = ulvex(
      'measure',
      TIDE,
      '--measure=total_length',
      '--set=lenses.tide.surfaces.l4_back.thickness=1in',
      '--set=lenses.tide.surfaces.l4_back.thickness=*2',
      '--json',
    );
    expect(JSON.parse(moved.out).value).to.be.closeTo(42.2038 - 30.3498 + 50.8, 1e-12);
  });

  it('says no with exit code 1 and what went wrong on the error stream', () => {
    const axis = ulvex('measure', TIDE, '--measure', 'distortion', '--with', '{"field":"axis"}');
    expect(axis).to.deep.equal({ code: EXIT.no, out: '', err: 'Distortion is not defined on the axis.' });
    const steep = ulvex(
      'measure',
      TIDE,
      '--measure',
      'rms_spot_radius',
      '--set',
      'lenses.tide.surfaces.l4_back.radius=5',
    );
    expect(steep.err).to.match(/Only of the rays that arrive/);
    const check = ulvex('check', TIDE);
    expect(check.code).to.equal(EXIT.no);
    expect(check.out).to.match(
      /missed: Chief ray at sensor: 16\.59\d+ \(margin -0\.59\d+\)\nnot as required$/,
    );
    expect(ulvex('check', 'samples/ice-glass.ulvex.json').code).to.equal(EXIT.done);
  });

  it('refuses wrong calls and files with exit code 2, place and reason', () => {
    const wrong = (...args: string[]) => {
      const { code, err } = ulvex(...args);
      expect(code, args.join(' ')).to.equal(EXIT.wrong);
      return err;
    };
    expect(wrong('measure', TIDE)).to.match(/Which measure/);
    expect(wrong('measure', TIDE, '--measure', 'beauty')).to.match(/no measure “beauty”/);
    expect(wrong('measure', '/nowhere.json', '--measure', 'total_length')).to.match(/cannot be read/);
    expect(wrong('measure', TIDE, '--measure', 'total_length', '--with', '{')).to.match(/not JSON/);
    expect(wrong('measure', TIDE, '--measure', 'total_length', '--set', 'a.b=1')).to.match(
      /no parameter a\.b/,
    );
    expect(
      wrong('measure', TIDE, '--measure', 'total_length', '--set', 'lenses.tide.aperture.value=0'),
    ).to.match(/above 0/);
    expect(wrong('measure', TIDE, '--measure', 'total_length', '--set', 'nothing')).to.match(/ADDRESS=VALUE/);
    expect(wrong('dance')).to.match(/no command “dance”/);
    expect(wrong('check', TIDE, '--loud')).to.match(/loud/);
    const folder = mkdtempSync(join(tmpdir(), 'ulvex-cli-'));
    const file = join(folder, 'broken.json');
    writeFileSync(file, '{"format":"ulvex-project","version":1}');
    expect(wrong('check', file)).to.match(/broken\.json: lenses: is missing/);
    rmSync(folder, { recursive: true });
  });

  it('lists the measures with their settings', () => {
    expect(ulvex('measures').out).to.match(
      /rms_spot_radius {2}RMS spot radius, µm\n {4}field: id of a field \| all \| worst {2}\(all\)/,
    );
    expect(JSON.parse(ulvex('measures', '--json').out)).to.have.length.greaterThan(8);
    expect(ulvex('--help').code).to.equal(EXIT.done);
  });

  it('runs as a program', () => {
    const out = execFileSync(
      process.execPath,
      ['cli/bin/ulvex.mjs', 'measure', TIDE, '--measure', 'total_length'],
      { encoding: 'utf8' },
    );
    expect(out).to.equal('42.2038 mm\n');
  });
});
