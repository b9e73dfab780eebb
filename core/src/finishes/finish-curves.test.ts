import { expect } from 'chai';
import { sharesOverAngle, sharesOverWavelength, type FaceMedia } from './finish-curves.ts';
import { NO_MEDIA } from './optics/optics.ts';

const media: FaceMedia = { front: () => 1, behind: () => 1.5, films: NO_MEDIA };

describe('Curves of a finish', () => {
  it('of bare glass follow Fresnel: 4 % at 0°, and no p light at Brewster’s angle', () => {
    const brewster = (Math.atan(1.5) * 180) / Math.PI;
    const { at, rs, rp, ts, tp } = sharesOverAngle({ kind: 'bare' }, media, 550, [0, brewster]);
    expect(at).to.deep.equal([0, brewster]);
    expect([rs[0], rp[0]]).to.satisfy((both: number[]) => both.every((share) => Math.abs(share - 0.04) < 1e-12));
    expect(rp[1]).to.be.below(1e-15);
    // (n² − 1)²/(n² + 1)² of s light.
    expect(rs[1]).to.be.closeTo((1.25 / 3.25) ** 2, 1e-12);
    for (let i = 0; i < 2; i++) expect([rs[i] + ts[i], rp[i] + tp[i]]).to.deep.equal([1, 1]);
  });

  it('of a quarter wave of index √n reflect nothing where it is one, and what bare glass does at half of it', () => {
    const index = Math.sqrt(1.5);
    const optics = { kind: 'coating', layers: [{ id: 'f1', index, thickness: 550 / 4 / index }] } as const;
    const { rs } = sharesOverWavelength(optics, media, 0, [275, 550]);
    expect(rs[1]).to.be.below(1e-15);
    expect(rs[0]).to.be.closeTo(0.04, 1e-12);
  });

  it('take the media of each wavelength', () => {
    const glass: FaceMedia = { ...media, behind: (nm) => (nm < 500 ? 1 : 1.5) };
    expect(sharesOverWavelength({ kind: 'bare' }, glass, 0, [400, 600]).rs).to.satisfy(
      ([blue, red]: number[]) => blue === 0 && Math.abs(red - 0.04) < 1e-12,
    );
  });
});
