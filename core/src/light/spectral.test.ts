import { expect } from 'chai';
import fc from 'fast-check';
import { isSpectralTable, spectralAt, spectralRange, type SpectralTable } from './spectral.ts';

const table = (...rows: readonly (readonly [nm: number, value: number])[]): SpectralTable => ({
  kind: 'table',
  rows: rows.map(([nm, value], k) => ({ id: `r${k}`, nm, value })),
});

describe('A value over the wavelength', () => {
  it('is the same everywhere when it is one number', () => {
    expect(spectralAt(0.3, 100)).to.equal(0.3);
    expect(spectralRange(0.3)).to.equal(null);
    expect(isSpectralTable(0.3)).to.equal(false);
  });

  it('lies straight between its rows, whatever their order, and keeps its ends', () => {
    const value = table([600, 0.9], [400, 0.1], [500, 0.5]);
    expect(spectralAt(value, 400)).to.equal(0.1);
    expect(spectralAt(value, 425)).to.be.closeTo(0.2, 1e-15);
    expect(spectralAt(value, 575)).to.be.closeTo(0.8, 1e-15);
    expect([300, 900].map((nm) => spectralAt(value, nm))).to.deep.equal([0.1, 0.9]);
    expect(spectralRange(value)).to.deep.equal([400, 600]);
    expect(spectralAt(table([500, 0.4]), 800)).to.equal(0.4);
  });

  it('may jump: of two rows at one wavelength the second holds above it', () => {
    const value = table([400, 0], [500, 0], [500, 1], [600, 1]);
    expect(spectralAt(value, 500)).to.equal(0);
    expect(spectralAt(value, 500.001)).to.equal(1);
  });

  it('never leaves the values of its rows', () => {
    const row = fc.tuple(fc.double({ min: 200, max: 2000, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }));
    fc.assert(
      fc.property(
        fc.array(row, { minLength: 1, maxLength: 8 }),
        fc.double({ min: 100, max: 3000, noNaN: true }),
        (rows, nm) => {
          const values = rows.map(([, value]) => value);
          const at = spectralAt(table(...rows), nm);
          expect(at).to.be.within(Math.min(...values) - 1e-15, Math.max(...values) + 1e-15);
        },
      ),
    );
  });
});
