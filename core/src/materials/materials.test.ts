import { expect } from 'chai';
import { CATALOGUE, catalogueMaterial, nearestMaterials, searchMaterials } from './catalogue.ts';
import { refractiveIndex, type Dispersion } from './dispersion.ts';
import { GLASSES } from './glasses.ts';
import {
  abbeNumber,
  AIR,
  glassCode,
  indexIn,
  inRange,
  internalTransmittance,
  partialDispersion,
  VACUUM,
} from './material.ts';
import { normalLine } from './model-glass.ts';

/** nd and Vd of the glasses as data sheets print them: kept apart from the constants they must follow from. */

const PRINTED: readonly (readonly [id: string, nd: number, vd: number])[] = [
  ['g487704', 1.48749, 70.41],
  ['g487845', 1.48656, 84.47],
  ['g497816', 1.497, 81.61],
  ['g498670', 1.49782, 66.95],
  ['g501564', 1.50137, 56.41],
  ['g508612', 1.50847, 61.19],
  ['g511604', 1.51112, 60.41],
  ['g517642', 1.5168, 64.17],
  ['g522595', 1.52249, 59.48],
  ['g523515', 1.52346, 51.54],
  ['g529770', 1.52855, 76.98],
  ['g540597', 1.53996, 59.71],
  ['g547536', 1.54739, 53.63],
  ['g548458', 1.54814, 45.75],
  ['g552635', 1.55232, 63.46],
  ['g558540', 1.55836, 54.01],
  ['g564608', 1.56384, 60.8],
  ['g569560', 1.56883, 55.98],
  ['g573575', 1.5725, 57.55],
  ['g580539', 1.57956, 53.87],
  ['g581409', 1.58144, 40.85],
  ['g589613', 1.58913, 61.27],
  ['g603380', 1.60342, 38.03],
  ['g603606', 1.60311, 60.6],
  ['g606437', 1.60568, 43.72],
  ['g607567', 1.60738, 56.65],
  ['g609466', 1.60863, 46.6],
  ['g613445', 1.61336, 44.49],
  ['g613586', 1.61272, 58.63],
  ['g618498', 1.61773, 49.83],
  ['g618634', 1.618, 63.39],
  ['g620364', 1.62004, 36.37],
  ['g620603', 1.62041, 60.32],
  ['g622533', 1.62229, 53.27],
  ['g638424', 1.63775, 42.41],
  ['g640601', 1.64049, 60.1],
  ['g648338', 1.64769, 33.85],
  ['g651559', 1.65113, 55.89],
  ['g652450', 1.65224, 44.96],
  ['g652585', 1.6516, 58.52],
  ['g654397', 1.65412, 39.7],
  ['g658509', 1.65844, 50.88],
  ['g670471', 1.67003, 47.11],
  ['g673322', 1.6727, 32.21],
  ['g678552', 1.6779, 55.2],
  ['g689313', 1.68894, 31.31],
  ['g691547', 1.691, 54.71],
  ['g697554', 1.6968, 55.41],
  ['g699302', 1.69892, 30.2],
  ['g713538', 1.713, 53.83],
  ['g717295', 1.71736, 29.51],
  ['g720347', 1.72047, 34.7],
  ['g720506', 1.72003, 50.62],
  ['g728284', 1.72825, 28.41],
  ['g729545', 1.72916, 54.5],
  ['g743494', 1.7433, 49.4],
  ['g744449', 1.74397, 44.85],
  ['g749348', 1.7495, 34.82],
  ['g754523', 1.75393, 52.27],
  ['g755274', 1.75513, 27.38],
  ['g755276', 1.7552, 27.58],
  ['g762265', 1.76182, 26.53],
  ['g773496', 1.7725, 49.62],
  ['g785257', 1.78472, 25.68],
  ['g785258', 1.78472, 25.76],
  ['g786441', 1.78582, 44.05],
  ['g788475', 1.788, 47.49],
  ['g801350', 1.80107, 34.97],
  ['g804465', 1.8042, 46.5],
  ['g805254', 1.80518, 25.43],
  ['g806406', 1.8061, 40.61],
  ['g834373', 1.83404, 37.3],
  ['g835431', 1.83501, 43.13],
  ['g847238', 1.84666, 23.78],
  ['g850322', 1.85025, 32.17],
  ['g883408', 1.883, 40.76],
  ['g904313', 1.90366, 31.32],
  ['g923209', 1.92286, 20.88],
];

/** Families whose partial dispersion is known to leave the normal line, and by how much at most. */
const BOUND: readonly (readonly [family: RegExp, from: number, to: number])[] = [
  [/low-dispersion|phosphate/, -0.001, 0.036],
  [/short flint/, -0.013, 0],
  [/very dense flint/, 0, 0.032],
  [/dense flint/, 0, 0.016],
  [/lanthanum/, -0.01, 0.005],
  [/./, -0.005, 0.005],
];

const index = (id: string, nm: number) => refractiveIndex(catalogueMaterial(id)!.dispersion, nm);

describe('the catalogue', () => {
  it('has the glasses of the data sheets, each with nd to 1e-5 and Vd to 0.01', () => {
    expect(PRINTED.map(([id]) => id)).to.have.members(GLASSES.map(({ id }) => id));
    for (const [id, nd, vd] of PRINTED) {
      expect(index(id, 587.5618), `nd of ${id}`).to.be.closeTo(nd, 6e-6);
      expect(abbeNumber(catalogueMaterial(id)!.dispersion), `Vd of ${id}`).to.be.closeTo(vd, 0.0055);
    }
  });

  it('keeps partial dispersions where their families lie against the normal line', () => {
    for (const { dispersion, family, label } of GLASSES) {
      const [, from, to] = BOUND.find(([pattern]) => pattern.test(family))!;
      const deviation = partialDispersion(dispersion) - normalLine(abbeNumber(dispersion));
      expect(deviation, `${label} ${family}`).to.be.within(from, to);
    }
  });

  it('writes no code that its constants do not give', () => {
    for (const material of CATALOGUE) {
      const claimed = /\b\d{6}\b/.exec(`${material.label} ${material.family}`)?.[0];
      if (claimed !== undefined) expect(glassCode(material.dispersion), material.label).to.equal(claimed);
    }
    expect(GLASSES.every(({ label }) => /^\d{6}$/.test(label))).to.equal(true);
  });

  it('has normal dispersion over every range', () => {
    for (const { label, dispersion, range } of CATALOGUE.slice(2)) {
      let previous = Infinity;
      for (let k = 0; k <= 200; k++) {
        const nm = range[0] * (range[1] / range[0]) ** (k / 200);
        const n = refractiveIndex(dispersion, nm);
        expect(n, `${label} at ${nm} nm`).to.be.within(1, 6);
        expect(n, `${label} at ${nm} nm`).to.be.lessThan(previous);
        previous = n;
      }
    }
  });

  it('gives the infrared indices of the papers', () => {
    for (const [id, nm, n, within] of [
      ['germanium', 4000, 4.0247, 5e-4],
      ['germanium', 10000, 4.004, 5e-4],
      ['silicon', 4000, 3.4255, 5e-4],
      ['zinc_selenide', 10600, 2.4028, 5e-5],
      ['zinc_sulphide', 10000, 2.2006, 2e-4],
      ['fused_silica', 587.5618, 1.458464, 1e-6],
      ['sapphire_o', 587.5618, 1.76817, 1e-5],
      ['barium_fluoride', 587.5618, 1.47448, 1e-5],
      ['magnesium_fluoride_o', 587.5618, 1.37774, 1e-5],
    ] as const)
      expect(index(id, nm), `${id} at ${nm}`).to.be.closeTo(n, within);
  });

  it('has ids without repetition, each in the form a project accepts', () => {
    const ids = CATALOGUE.map((material) => material.id);
    expect(new Set(ids).size).to.equal(ids.length);
    for (const id of ids) expect(id).to.match(/^[a-z][a-z0-9_]*$/);
  });

  it('finds a material by code, by the start of it and by family', () => {
    expect(searchMaterials('517642')[0].id).to.equal('g517642');
    expect(searchMaterials(' 648')[0].id).to.equal('g648338');
    expect(searchMaterials('Lanthanum')[0].family).to.match(/^lanthanum/);
    expect(searchMaterials('fused silica')[0].id).to.equal('fused_silica');
    expect(searchMaterials('unobtainium')).to.deep.equal([]);
  });

  it('finds the nearest glass of the n–V map, constructed ones left out', () => {
    const [first, second] = nearestMaterials(1.6205, 36.4);
    expect(first.material.id).to.equal('g620364');
    expect(first.distance).to.be.lessThan(1);
    expect(second.distance).to.be.greaterThan(first.distance);
    expect(nearestMaterials(1.4918, 57.4).every(({ material }) => material.trust === undefined)).to.equal(true);
  });
});

describe('refractiveIndex', () => {
  it('is NaN inside an absorption band, where n² is negative', () => {
    expect(refractiveIndex({ kind: 'sellmeier', b: [1], c: [0.3] }, 500)).to.be.NaN;
  });

  it('knows where a material is defined', () => {
    expect(inRange(catalogueMaterial('g805254')!, 365)).to.equal(false);
    expect(inRange(catalogueMaterial('g805254')!, 587.5618)).to.equal(true);
  });

  // One function of the wavelength in two forms: 1/λ² = u.
  it('is one value by different formulas that stand for the same curve', () => {
    const nm = 632.8;
    const um = 0.6328;
    const squared = 2.25 + 0.01 * um ** 2 + 0.012 / um ** 2 + 3e-4 / um ** 4;
    const series: Dispersion = {
      kind: 'power_series',
      coefficients: [0.01, 2.25, 0.012, 3e-4],
      powers: [2, 0, -2, -4],
    };
    expect(refractiveIndex(series, nm)).to.be.closeTo(Math.sqrt(squared), 1e-15);
    expect(refractiveIndex({ kind: 'cauchy', coefficients: [1.5, 0.004], powers: [0, -2] }, nm)).to.be.closeTo(
      1.5 + 0.004 / um ** 2,
      1e-15,
    );
    expect(refractiveIndex({ kind: 'conrady', a: 1.5, b: 0.01, c: 0.002 }, nm)).to.be.closeTo(
      1.5 + 0.01 / um + 0.002 / um ** 3.5,
      1e-15,
    );
    const far = 1 / (um * um - 0.028);
    expect(refractiveIndex({ kind: 'herzberger', coefficients: [3.4, 0.1, 0.02, -1e-3, 1e-5] }, nm)).to.be.closeTo(
      3.4 + 0.1 * far + 0.02 * far * far - 1e-3 * um ** 2 + 1e-5 * um ** 4,
      1e-15,
    );
    // a λ-free resonance is a constant: b λ²/(λ² − 0) = b
    expect(refractiveIndex({ kind: 'sellmeier', a: 1, b: [1.25], c: [0] }, nm)).to.equal(1.5);
  });

  it('interpolates a coarse table of a glass to a few 1e-6, and has nothing beyond its ends', () => {
    const nm = [400, 450, 500, 550, 600, 650, 700];
    const n = nm.map((at) => index('g517642', at));
    const table: Dispersion = { kind: 'table', nm, n };
    for (const at of nm) expect(refractiveIndex(table, at)).to.be.closeTo(index('g517642', at), 1e-15);
    for (const at of [420, 475, 587.5618, 680])
      expect(refractiveIndex(table, at)).to.be.closeTo(index('g517642', at), 2e-5);
    expect(refractiveIndex(table, 399)).to.be.NaN;
    expect(refractiveIndex(table, 701)).to.be.NaN;
  });

  it('builds a model glass with its nd and Vd exactly, on the normal line, near a normal glass everywhere', () => {
    const dispersion: Dispersion = { kind: 'model', nd: 1.62004, vd: 36.366 };
    expect(refractiveIndex(dispersion, 587.5618)).to.equal(1.62004);
    expect(abbeNumber(dispersion)).to.be.closeTo(36.366, 1e-9);
    expect(partialDispersion(dispersion)).to.be.closeTo(normalLine(36.366), 1e-9);
    for (const nm of [435.8343, 480, 546.074, 656.2725, 852.11, 1013.98])
      expect(refractiveIndex(dispersion, nm), `${nm} nm`).to.be.closeTo(index('g620364', nm), 8e-5);
    const shifted: Dispersion = { kind: 'model', nd: 1.497, vd: 81.61, deviation: 0.0311 };
    expect(refractiveIndex(shifted, 435.8343)).to.be.closeTo(index('g497816', 435.8343), 3e-5);
  });
});

describe('surroundings', () => {
  const crown = catalogueMaterial('g517642')!;

  it('change nothing at 20 °C and 101325 Pa, and count vacuum against that air', () => {
    expect(indexIn(crown, 587.5618)).to.equal(refractiveIndex(crown.dispersion, 587.5618));
    expect(indexIn(AIR, 587.5618)).to.equal(1);
    expect(1 / indexIn(VACUUM, 632.991) - 1).to.be.closeTo(2.718e-4, 5e-7);
    expect(indexIn(VACUUM, 150)).to.be.NaN;
  });

  it('make air thinner by heat and by a lower pressure', () => {
    const refractivity = (temperature: number, pressure: number) =>
      indexIn(AIR, 587.5618, { temperature, pressure }) / indexIn(VACUUM, 587.5618) - 1;
    expect(refractivity(20, 0)).to.be.closeTo(0, 1e-15);
    // an ideal gas, nearly: proportional to p and 1/T
    expect(refractivity(20, 50662.5) / refractivity(20, 101325)).to.be.closeTo(0.5, 2e-4);
    expect(refractivity(60, 101325) / refractivity(20, 101325)).to.be.closeTo(293.15 / 333.15, 5e-4);
  });

  it('change a glass by its dn/dT: against air as data sheets print it, against vacuum less', () => {
    const at = { temperature: 40, pressure: 101325 };
    const rise = (against: typeof AIR) =>
      (indexIn(crown, 546.074, at) / indexIn(against, 546.074, at) -
        indexIn(crown, 546.074) / indexIn(against, 546.074)) /
      20;
    expect(rise(AIR)).to.be.closeTo(3.0e-6, 0.06e-6);
    expect(rise(VACUUM)).to.be.closeTo(1.6e-6, 0.06e-6);
  });

  it('take a linear dn/dT as absolute or against air, as it says', () => {
    const at = { temperature: 30, pressure: 101325 };
    const base = { ...crown, thermal: undefined };
    const absolute = { ...base, thermal: { kind: 'linear', dndt: 1e-5, against: 'vacuum' } as const };
    expect((indexIn(absolute, 550, at) - indexIn(absolute, 550)) / indexIn(VACUUM, 550)).to.be.closeTo(1e-4, 1e-12);
    const relative = { ...base, thermal: { kind: 'linear', dndt: 1e-5, against: 'air' } as const };
    expect(indexIn(relative, 550, at) / indexIn(AIR, 550, at) - indexIn(relative, 550)).to.be.closeTo(1e-4, 1e-12);
  });
});

describe('what is typical of a family', () => {
  it('fills in what is not known of a glass, marked so, and leaves alone what is', () => {
    for (const glass of GLASSES) {
      const { typical = {}, thermal, transmittance, ofFamily = [], label } = glass;
      for (const key of ['expansion', 'cost', 'climate', 'stain'] as const)
        expect(typical[key], `${key} of ${label}`).to.be.a('number');
      expect(thermal && transmittance, label).to.be.an('object');
      expect(ofFamily.length, label).to.be.at.most(6);
      // A thick piece is opaque where its range begins, and clear in the green.
      expect(internalTransmittance(glass, 546, 10), label).to.be.above(0.9);
    }
    const known = GLASSES.find(({ label }) => label === '517642')!;
    expect(known.ofFamily).to.deep.equal([]);
    const other = GLASSES.find(({ label }) => label === '620603')!;
    expect(other.typical).to.include({ climate: 4, stain: 4, expansion: 6.3 });
    expect(other.ofFamily).to.deep.equal(['cost', 'thermal', 'transmittance']);
  });
});

describe('internalTransmittance', () => {
  const crown = catalogueMaterial('g517642')!;

  it('follows Beer and Lambert: 25 mm as tabled, 10 mm as the sheet prints it', () => {
    expect(internalTransmittance(crown, 350, 25)).to.be.closeTo(0.92, 1e-12);
    expect(internalTransmittance(crown, 350, 10)).to.be.closeTo(0.967, 6e-4);
    expect(internalTransmittance(crown, 334, 10)).to.be.closeTo(0.905, 6e-4);
    expect(internalTransmittance(crown, 320, 10)).to.be.closeTo(0.77, 6e-4);
    expect(internalTransmittance(crown, 546, 0)).to.equal(1);
  });

  it('says nothing outside its table, or where there is none', () => {
    expect(internalTransmittance(crown, 290, 10)).to.equal(null);
    const { transmittance: _none, ...without } = catalogueMaterial('g648338')!;
    expect(internalTransmittance(without, 550, 10)).to.equal(null);
  });
});
