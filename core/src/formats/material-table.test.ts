import { expect } from 'chai';
import fc from 'fast-check';
import { refractiveIndex } from '../materials/dispersion.ts';
import { internalTransmittance } from '../materials/material.ts';
import { readMaterialTable } from './material-table.ts';

function read(name: string, text: string) {
  const outcome = readMaterialTable(name, text);
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
}

function refusal(name: string, text: string): string {
  const outcome = readMaterialTable(name, text);
  return outcome.ok ? 'was read' : outcome.reason;
}

describe('index tables', () => {
  it('come from CSV with a header, in nm, with an extinction coefficient', () => {
    const material = read(
      'Skerry resin.csv',
      'wavelength (nm), n, k\n500,1.52,1e-6\n\n400,1.53,2e-6\n600,1.515,1e-6\n',
    );
    expect(material).to.include({ id: 'skerry_resin', label: 'Skerry resin', family: 'imported' });
    expect(material.range).to.deep.equal([400, 600]);
    expect(refractiveIndex(material.dispersion, 500)).to.equal(1.52);
    // α = 4πk/λ = 4π·1e-6/500e-6 mm⁻¹
    expect(internalTransmittance(material, 500, 3)).to.be.closeTo(Math.exp((-3 * 4 * Math.PI * 1e-6) / 500e-6), 1e-12);
  });

  it('come without a header, in µm, split by semicolons or tabs', () => {
    expect(read('a.csv', '0.4;1.53\n0.6;1.515').range).to.deep.equal([400, 600]);
    expect(read('a.csv', '0.4\t1.53\n0.6\t1.515').range).to.deep.equal([400, 600]);
  });

  it('come from open YAML records: formulas and tables', () => {
    const sellmeier = read(
      'pane.yml',
      'REFERENCES: "harbour workshop"\nDATA:\n  - type: formula 2\n    wavelength_range: 0.31 2.5\n    ' +
        'coefficients: 0 1.03961212 0.00600069867 0.231792344 0.0200179144 1.01046945 103.560653\n  - type: ' +
        'tabulated k\n    data: |\n      0.4 1e-8\n      0.7 1e-8\nCONDITIONS:\n  temperature: 22\n  ' +
        'n_is_absolute: true\n',
    );
    expect(refractiveIndex(sellmeier.dispersion, 587.5618)).to.be.closeTo(1.5168, 5e-6);
    expect(sellmeier).to.include({ against: 'vacuum', temperature: 22, note: 'harbour workshop' });
    expect(sellmeier.range).to.deep.equal([310, 2500]);
    expect(internalTransmittance(sellmeier, 700, 1)).to.be.closeTo(Math.exp((-4 * Math.PI * 1e-8) / 700e-6), 1e-12);
    const squares = read('a.yaml', 'DATA:\n- type: formula 1\n  wavelength_range: 0.3 2\n  coefficients: 0.25 1 0.1');
    expect(refractiveIndex(squares.dispersion, 1000)).to.be.closeTo(Math.sqrt(1.25 + 1 / (1 - 0.01)), 1e-12);
    for (const [formula, value] of [
      ['3', Math.sqrt(2.25 + 0.01)],
      ['5', 2.25 + 0.01],
      ['7', 2.25 + 0.01 / (1 - 0.028) - 0.02 / (1 - 0.028) ** 2],
    ] as const) {
      const text = `DATA:\n- type: formula ${formula}\n  wavelength_range: 0.9 2\n  coefficients: 2.25 0.01 -0.02`;
      expect(refractiveIndex(read('a.yml', text).dispersion, 1000), formula).to.be.closeTo(value, 1e-12);
    }
    const table = read('a.yml', 'DATA:\n- type: tabulated nk\n  data: |\n    0.5 1.5 0\n    0.6 1.49 0\n');
    expect(refractiveIndex(table.dispersion, 600)).to.equal(1.49);
  });

  it('are refused with the place and the reason', () => {
    expect(refusal('a.csv', '')).to.match(/no rows/);
    expect(refusal('a.csv', 'wavelength,n\n500,1.5\n600,one')).to.match(/^Line 3: “one” is not a number/);
    expect(refusal('a.csv', 'wavelength;n\n500;1,5')).to.match(/Use a point/);
    expect(refusal('a.csv', 'wavelength,x\n500,1.5')).to.match(/Line 1: no column is called n/);
    expect(refusal('a.csv', '500,1.5\n500,1.6')).to.match(/500 nm is there twice/);
    expect(refusal('a.csv', '500,-1.5')).to.match(/cannot be/);
    expect(refusal('a.csv', '500,1.5,-1')).to.match(/not negative/);
    expect(refusal('a.yml', 'DATA: [')).to.match(/not YAML/);
    expect(refusal('a.yml', 'a: 1')).to.match(/no list DATA/);
    expect(refusal('a.yml', 'DATA:\n- type: formula 9\n  wavelength_range: 0.5 2\n  coefficients: 1 2')).to.match(
      /entry 1: “formula 9” is not read/,
    );
    expect(refusal('a.yml', 'DATA:\n- type: formula 2\n  wavelength_range: 0.3 2\n  coefficients: -9 1 0.1')).to.match(
      /would be NaN/,
    );
  });

  it('never throw, whatever a file holds', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), fc.constantFrom('a.csv', 'a.yml'), (text, name) => {
        expect(readMaterialTable(name, text)).to.have.property('ok');
      }),
    );
  });
});
