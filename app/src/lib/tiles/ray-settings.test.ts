import { expect } from 'chai';
import { readProject, type RaySource } from '@ulvex/core';
import { readFileSync } from 'node:fs';
import { keptRayName, raySettings, sourceOfKind } from './ray-settings.ts';

describe('settings of the ray inspector', () => {
  const read = readProject(JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const [lens] = read.project.lenses;

  it('come back as they were kept', () => {
    const kept = {
      source: { kind: 'pupil', field: 'edge', px: 0.1, py: -0.5 },
      wavelength: null,
      global: true,
      directions: true,
    };
    expect(raySettings(kept, lens)).to.deep.equal(kept);
  });

  it('name a kept ray by what it is', () => {
    const name = (source: RaySource, wavelength: string | null = null) => keptRayName(lens, source, wavelength);
    expect(name({ kind: 'pupil', field: 'edge', px: 0, py: 0.8 })).to.equal('16° at 0, 0.8, d');
    expect(name({ kind: 'aimed', field: 'axis', surface: 'l2_back', x: 0, y: -1 }, 'f_line')).to.match(
      /^0° to L2 back 0, −1, F$/,
    );
    expect(name({ kind: 'launched', x: 0, y: 2, z: -5, tx: 0, ty: 3 })).to.equal('from 0, 2, −5 at 0, 3°, d');
  });

  it('are legal whatever a file holds', () => {
    for (const stored of [null, 7, { source: { kind: 'pupil', field: 'gone', px: 5, py: NaN }, wavelength: 'x' }]) {
      const { source, wavelength } = raySettings(stored, lens);
      expect(source).to.deep.include({ kind: 'pupil', field: lens.fields.points[0].id });
      expect(wavelength).to.equal(null);
      if (source.kind === 'pupil') expect(Math.abs(source.px)).to.be.at.most(1);
    }
    expect(raySettings({ source: { kind: 'aimed', surface: 'gone' } }, lens).source).to.deep.include({
      surface: lens.stop,
    });
  });

  it('take over what another kind of source has in common', () => {
    const aimed = sourceOfKind('aimed', { kind: 'pupil', field: 'edge', px: 1, py: 0 }, lens);
    expect(aimed).to.deep.equal({ kind: 'aimed', field: 'edge', surface: lens.stop, x: 0, y: 0 });
  });
});
