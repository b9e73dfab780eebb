import { spectralAt, type Spectral } from '../../light/spectral.ts';
import { metalShares } from '../fresnel.ts';
import { pure } from '../laws/law.ts';
import { defineOptics, fixed, REFLECTANCE } from './optics.ts';

/** A mirror of one reflectance. */
export interface MirrorOptics {
  readonly kind: 'mirror';
  readonly reflectance: Spectral;
}

export const mirror = defineOptics<MirrorOptics>({
  kind: 'mirror',
  title: 'Mirror',
  meaning: 'A mirror of one reflectance.',
  first: { kind: 'mirror', reflectance: 0.9 },
  parameters: [REFLECTANCE],
  compile: ({ reflectance }, nm) => fixed(spectralAt(reflectance, nm), 0),
});

/** A mirror of bulk metal n + ik. */
export interface MetalOptics {
  readonly kind: 'metal';
  readonly index: Spectral;
  readonly extinction: Spectral;
}

export const metal = defineOptics<MetalOptics>({
  kind: 'metal',
  title: 'Metal',
  meaning: 'A mirror of bulk metal n + ik.',
  first: { kind: 'metal', index: 0.96, extinction: 6.69 },
  parameters: [
    pure('index', 'Index n', 'Real part of the index of the metal, n + ik.', { above: 0, spectral: true }),
    pure('extinction', 'Extinction k', 'Imaginary part of the index of the metal, n + ik.', { min: 0, spectral: true }),
  ],
  compile(record, nm) {
    const [index, extinction] = [spectralAt(record.index, nm), spectralAt(record.extinction, nm)];
    return {
      opaque: true,
      shares: (n1, _n2, cosine, _outward, out) => metalShares(n1, index, extinction, cosine, out),
      plain: { kind: 'metal', index, extinction },
    };
  },
});

/** Takes all light. */
export interface AbsorberOptics {
  readonly kind: 'absorber';
}

export const absorber = defineOptics<AbsorberOptics>({
  kind: 'absorber',
  title: 'Absorber',
  meaning: 'Takes all light.',
  first: { kind: 'absorber' },
  parameters: [],
  compile: () => fixed(0, 0),
});

/** Reflects a share of all light, evenly into the hemisphere. */
export interface PaintOptics {
  readonly kind: 'paint';
  readonly reflectance: Spectral;
}

export const paint = defineOptics<PaintOptics>({
  kind: 'paint',
  title: 'Paint',
  meaning: 'Reflects a share of all light, evenly into the hemisphere.',
  first: { kind: 'paint', reflectance: 0.9 },
  parameters: [REFLECTANCE],
  compile: ({ reflectance }, nm) => ({ ...fixed(spectralAt(reflectance, nm), 0), even: true }),
});
