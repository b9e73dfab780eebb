import { expect } from 'chai';
import fc from 'fast-check';
import { RAY_COUNTS, SECTION_DEFAULTS, sectionSettings } from './settings.ts';

describe('settings of the section tile', () => {
  it('come back as they were kept', () => {
    const section = { rays: 11, colours: 'all', range: 'lens', only: 'edge' } as const;
    expect(sectionSettings(section)).to.deep.equal(section);
    expect(sectionSettings(undefined)).to.deep.equal(SECTION_DEFAULTS);
  });

  it('are legal whatever a file holds', () => {
    fc.assert(
      fc.property(fc.anything(), (stored) => RAY_COUNTS.some((count) => count === sectionSettings(stored).rays)),
    );
  });
});
