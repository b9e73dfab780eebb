import { expect } from 'chai';
import fc from 'fast-check';
import {
  FAN_DEFAULTS,
  fanSettings,
  RAY_COUNTS,
  SAMPLINGS,
  sectionSettings,
  SPOT_DEFAULTS,
  spotSettings,
} from './settings.ts';

describe('settings of tiles', () => {
  it('come back as they were kept', () => {
    const spots = { reference: 'chief', pupil: 'full', sampling: 3, box: 25 } as const;
    expect(spotSettings(spots)).to.deep.equal(spots);
    const fans = { direction: 'sagittal', pupil: 'full', scale: 10 } as const;
    expect(fanSettings(fans)).to.deep.equal(fans);
    const section = { rays: 11, colours: 'all', range: 'lens', only: 'edge' } as const;
    expect(sectionSettings(section)).to.deep.equal(section);
  });

  it('are legal whatever a file holds', () => {
    expect(spotSettings(undefined)).to.deep.equal(SPOT_DEFAULTS);
    expect(fanSettings({ direction: 'up', scale: -1 })).to.deep.equal(FAN_DEFAULTS);
    fc.assert(
      fc.property(fc.anything(), (stored) => {
        expect(SAMPLINGS[spotSettings(stored).sampling]).to.not.equal(undefined);
        expect(RAY_COUNTS).to.include(sectionSettings(stored).rays);
        expect(fanSettings(stored).direction).to.be.oneOf(['both', 'tangential', 'sagittal']);
      }),
    );
  });
});
