import { expect } from 'chai';
import { lumensPerWatt } from '../light/luminous.ts';
import { countedOf } from './channels.ts';
import { detector, part, sceneOf, source } from './fixtures.ts';
import { traceAll } from './run.ts';
import { cellError, detectorNumbers } from './statistics.ts';

/** Two lamps before a sheet: one of two colours at the left, one of one of these at the right. */
function twoLamps(light: 'radiometric' | 'photometric' = 'radiometric') {
  const lamp = (id: string, dx: number, flux: number, lines: readonly (readonly [nm: number, weight: number])[]) =>
    source({
      id,
      flux,
      light: lines.map(([nm, weight]) => ({ nm, weight })),
      law: { kind: 'lambertian', half: 20 },
      frame: { dx },
    });
  const model = sceneOf({
    parts: [part('sheet', { kind: 'sheet', width: 60, height: 60 }, { frame: { dz: 40 } })],
    sources: [
      lamp('left', -4, 3, [
        [470, 1],
        [640, 2],
      ]),
      lamp('right', 4, 5, [[640, 1]]),
    ],
    detectors: [detector({ kind: 'face', part: 'sheet', face: 'face' }, { columns: 6, rows: 6, light })],
  });
  const tally = traceAll(model, 20_000);
  return { model, tally, meter: model.detectors[0], counts: tally.detectors[0] };
}

describe('Standard errors of a detector', () => {
  it('are nothing where chunks differ by rounding alone, and not a number of one chunk', () => {
    const { tally, meter, counts } = twoLamps();
    const { flux, mean, peak } = detectorNumbers(meter, counts, tally.chunks);
    expect(flux.value).to.be.closeTo(8, 1e-12);
    expect([flux.standardError, mean.standardError]).to.deep.equal([0, 0]);
    expect(peak.standardError).to.be.greaterThan(1e-3 * peak.value);
    const even = { sum: Float64Array.of(3 * 0.1), squares: Float64Array.of(0.1 ** 2 * 3 * (1 + 2e-16)) };
    expect(cellError(even, 0, 3)).to.equal(0);
    expect(cellError(even, 0, 1)).to.be.NaN;
  });
});

describe('Channels of a detector', () => {
  it('are the wavelengths of each source, and hold its flux', () => {
    const { model, tally, meter, counts } = twoLamps();
    expect(model.channels.map(({ id, nm }) => `${id} ${nm}`)).to.deep.equal(['left 470', 'left 640', 'right 640']);
    const flux = (look: Parameters<typeof countedOf>[2]) =>
      detectorNumbers(meter, counts, tally.chunks, look).flux.value;
    expect(flux({})).to.be.closeTo(8, 1e-9);
    expect(flux({ source: 'left' })).to.be.closeTo(3, 1e-9);
    expect(flux({ source: 'right' })).to.be.closeTo(5, 1e-9);
    expect(flux({ nm: 470 })).to.be.closeTo(1, 0.02);
    expect(flux({ nm: 470 }) + flux({ nm: 640 })).to.be.closeTo(8, 1e-9);
    expect(flux({ source: 'right', nm: 470 })).to.equal(0);
    expect(flux({ light: 'photometric', nm: 470 })).to.be.closeTo(flux({ nm: 470 }) * lumensPerWatt(470), 1e-9);
  });

  it('say in lumen what a photometric detector says, to the bits of its errors, without another trace', () => {
    const watts = twoLamps();
    const lumens = twoLamps('photometric');
    const [a, b] = [
      detectorNumbers(watts.meter, watts.counts, watts.tally.chunks, { light: 'photometric' }),
      detectorNumbers(lumens.meter, lumens.counts, lumens.tally.chunks),
    ];
    expect(a).to.deep.equal(b);
    expect(a.flux.standardError).to.be.above(0);
    const [left, right] = [lumensPerWatt(470), lumensPerWatt(640)];
    expect(a.flux.value).to.be.closeTo(left + 7 * right, 0.05 * left);
  });

  it('have errors of their own: of the light of two sources they add as squares', () => {
    const { tally, meter, counts } = twoLamps();
    const [whole, left, right] = [{}, { source: 'left' }, { source: 'right' }].map((look) =>
      countedOf(meter, counts, look),
    );
    let [together, apart] = [0, 0];
    for (let cell = 0; cell < 36; cell++) {
      together += cellError(whole, cell, tally.chunks) ** 2;
      apart += cellError(left, cell, tally.chunks) ** 2 + cellError(right, cell, tally.chunks) ** 2;
    }
    // 36 cells from 64 chunks: a few percent.
    expect(apart / together).to.be.within(0.8, 1.25);
    expect(left.hits + right.hits).to.equal(whole.hits);
  });
});
