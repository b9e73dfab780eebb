import { expect } from 'chai';
import { catalogueMaterial, type Project } from '@ulvex/core';
import { found, stockOf } from './stock.ts';

const own = {
  ...catalogueMaterial('fused_silica')!,
  id: 'pane_glass',
  label: 'pane glass',
  family: 'imported',
};
const project = {
  materials: [catalogueMaterial('air'), catalogueMaterial('g517642'), own],
  lenses: [{ wavelengths: [{ id: 'a', nm: 4000, weight: 1 }] }],
} as unknown as Project;

describe('the shelf', () => {
  const stock = stockOf(project);

  it('holds the catalogue once, and what the project brought along first; no gases', () => {
    expect(stock[0]).to.include({ material: own, sort: 'own' });
    expect(stock.filter(({ material }) => material.id === 'g517642')).to.have.lengthOf(1);
    expect(stock.some(({ material }) => material.family === 'gas')).to.equal(false);
  });

  it('sorts by kind, and by the wavelengths of the lens', () => {
    expect(found(stock, '', 'plastic', false).map(({ material }) => material.id)).to.include('polycarbonate');
    expect(found(stock, '', 'glass', false).every(({ material }) => /^g\d{6}$/.test(material.id))).to.equal(true);
    const infrared = found(stock, '', 'all', true).map(({ material }) => material.id);
    expect(infrared).to.include.members(['germanium', 'silicon', 'zinc_selenide', 'sapphire_o']);
    expect(infrared).not.to.include('g517642');
  });

  it('finds by words', () => {
    expect(found(stock, 'germ', 'all', false)[0].material.id).to.equal('germanium');
    expect(found(stock, 'germ', 'glass', false)).to.deep.equal([]);
  });
});
