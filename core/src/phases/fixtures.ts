import type { Phase } from './registry.ts';

/** For tests: one phase of every kind, for a surface of some 8 mm. */
export const PHASE_SAMPLES: { readonly [K in Phase['kind']]: Extract<Phase, { kind: K }> } = {
  grating: { kind: 'grating', lines: 120, order: -1, angle: 25 },
  kinoform: { kind: 'kinoform', order: 1, p2: -6, p4: 0.01, p6: 1e-4, p8: -1e-6 },
};
