import { expect } from 'chai';
import { part, sceneOf, source, detector } from './fixtures.ts';
import { traceAll } from './run.ts';
import { concentratorSizes } from '../bodies/concentrator.ts';
import { buildBody } from '../bodies/registry.ts';

const EXIT = 1;
const ACCEPTANCE = 30;
const { mouth, length } = concentratorSizes(EXIT, ACCEPTANCE);

/** Share of light in a meridional fan of one angle that comes to the exit. */
function arriving(degrees: number, width: number): number {
  const [sine, cosine] = [Math.sin((degrees * Math.PI) / 180), Math.cos((degrees * Math.PI) / 180)];
  const model = sceneOf({
    parts: [
      part('cone', { kind: 'concentrator_shell', exit: EXIT, acceptance: ACCEPTANCE }, { finish: 'mirror' }),
      part('target', { kind: 'disc', radius: EXIT }, { frame: { dz: length + 1e-6 }, finish: 'absorber' }),
    ],
    sources: [
      source({
        // Just as high as the mouth looks from there, so that all of it enters.
        region: { kind: 'rectangle', width, height: 2 * mouth * cosine * (1 - 1e-6) },
        law: { kind: 'parallel', half: 0 },
        frame: { dy: 20 * sine, dz: -20 * cosine, tx: degrees },
      }),
    ],
    detectors: [detector({ kind: 'face', part: 'target', face: 'face' })],
  });
  return traceAll(model, 2048).detectors[0].moments[0];
}

describe('a compound parabolic concentrator', () => {
  it('has mouth, length and concentration of its closed forms, and ends there', () => {
    expect(mouth).to.be.closeTo(2, 1e-12);
    expect(length).to.be.closeTo(3 * Math.sqrt(3), 1e-12);
    expect(concentratorSizes(EXIT, ACCEPTANCE).concentration).to.be.closeTo(4, 1e-12);
    const [wall] = buildBody({ kind: 'concentrator_shell', exit: EXIT, acceptance: ACCEPTANCE });
    const out = new Float64Array(8);
    for (const [z, r] of [
      [1e-9, mouth],
      [length - 1e-9, EXIT],
    ]) {
      expect(wall.form.meet(0, 0, z, 1, 0, 0, out)).to.equal(2);
      expect(Math.max(out[0], out[1])).to.be.closeTo(r, 1e-6);
    }
  });

  it('takes rays in its meridional plane in up to its angle, and sends all others back', () => {
    const thin = 1e-6;
    for (const degrees of [0, 15, 25, 29.5]) expect(arriving(degrees, thin), `${degrees}°`).to.be.closeTo(1, 1e-9);
    for (const degrees of [30.5, 40, 60]) expect(arriving(degrees, thin), `${degrees}°`).to.be.below(1e-6);
  });
});
