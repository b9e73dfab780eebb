import { expect } from 'chai';
import { CATALOGUE, catalogueMaterial, searchMaterials } from './catalogue.ts';
import { abbeNumber, AIR, glassCode, inRange, refractiveIndex } from './material.ts';

/** Six digits in a label or family are a claim about nd and Vd. */
function claimedCode(text: string): string | undefined {
  return /\b\d{6}\b/.exec(text)?.[0];
}

describe('the catalogue', () => {
  for (const material of CATALOGUE.filter((entry) => entry !== AIR)) {
    const code = claimedCode(`${material.label} ${material.family}`);
    it(`${material.label} meets its own code ${code}`, () => {
      expect(code, 'a solid carries a code').to.not.equal(undefined);
      const nd = refractiveIndex(material.dispersion, 587.5618);
      expect(nd - 1).to.be.closeTo(Number(code!.slice(0, 3)) / 1000, 0.0005);
      expect(abbeNumber(material.dispersion)).to.be.closeTo(Number(code!.slice(3)) / 10, 0.05);
      expect(glassCode(material.dispersion)).to.equal(code);
    });

    it(`${material.label} has normal dispersion over its range`, () => {
      const [from, to] = material.range;
      let previous = Infinity;
      for (let nm = from; nm <= to; nm += 10) {
        const index = refractiveIndex(material.dispersion, nm);
        expect(index, `${nm} nm`).to.be.within(1, 3);
        expect(index).to.be.lessThan(previous);
        previous = index;
      }
    });
  }

  it('has ids without repetition, each in the form a project accepts', () => {
    const ids = CATALOGUE.map((material) => material.id);
    expect(new Set(ids).size).to.equal(ids.length);
    for (const id of ids) expect(id).to.match(/^[a-z][a-z0-9_]*$/);
  });

  it('finds a material by code, by the start of it and by family', () => {
    expect(searchMaterials('517642')[0].id).to.equal('g517642');
    expect(searchMaterials(' 648')[0].id).to.equal('g648338');
    expect(searchMaterials('Lanthanum')[0].id).to.equal('g691547');
    expect(searchMaterials('fused silica')[0].id).to.equal('fused_silica');
    expect(searchMaterials('unobtainium')).to.deep.equal([]);
  });
});

describe('refractiveIndex', () => {
  it('is what Malitson printed for fused silica at 0.5876 µm', () => {
    expect(refractiveIndex(catalogueMaterial('fused_silica')!.dispersion, 587.5618)).to.be.closeTo(
      1.458464,
      1e-6,
    );
  });

  it('is NaN inside an absorption band, where n² is negative', () => {
    expect(refractiveIndex({ kind: 'sellmeier', b: [1], c: [0.3] }, 500)).to.be.NaN;
  });

  it('knows where a material is defined', () => {
    expect(inRange(catalogueMaterial('g805254')!, 365)).to.equal(false);
    expect(inRange(catalogueMaterial('g805254')!, 587.5618)).to.equal(true);
  });
});
