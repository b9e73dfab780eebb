import type { Finish } from './finish.ts';

/**
 * Typical finishes to begin with. Films of constant index after textbook designs (H. A. Macleod, Thin-Film Optical Filters); metals at
 * 550 nm after tables of the literature, rounded; scatter as is usual for such surfaces, not measured on any.
 */
export const SHELF_FINISHES: readonly Finish[] = [
  {
    id: 'single_layer',
    name: 'Single-layer antireflection',
    note: 'A quarter wave of 550 nm of index 1.38.',
    optics: { kind: 'coating', layers: [{ id: 'f1', index: 1.38, thickness: 99.6377 }] },
  },
  {
    id: 'broadband',
    name: 'Broadband antireflection',
    note: 'Quarter, half, quarter wave of 550 nm: indices 1.38, 2.1, 1.62.',
    optics: {
      kind: 'coating',
      layers: [
        { id: 'f1', index: 1.38, thickness: 99.6377 },
        { id: 'f2', index: 2.1, thickness: 130.952 },
        { id: 'f3', index: 1.62, thickness: 84.8765 },
      ],
    },
  },
  {
    id: 'aluminium',
    name: 'Aluminium mirror',
    note: 'n 0.96, k 6.69 at 550 nm.',
    optics: { kind: 'metal', index: 0.96, extinction: 6.69 },
  },
  {
    id: 'silver',
    name: 'Silver mirror',
    note: 'n 0.06, k 3.6 at 550 nm.',
    optics: { kind: 'metal', index: 0.06, extinction: 3.6 },
  },
  { id: 'mirror_90', name: 'Mirror 90 %', optics: { kind: 'mirror', reflectance: 0.9 } },
  {
    id: 'half_mirror',
    name: 'Beam splitter 50/50',
    optics: { kind: 'split', reflectance: 0.5, transmittance: 0.5 },
  },
  { id: 'white_paint', name: 'White paint 90 %', optics: { kind: 'paint', reflectance: 0.9 } },
  { id: 'grey_paint', name: 'Grey paint 18 %', optics: { kind: 'paint', reflectance: 0.18 } },
  { id: 'black_paint', name: 'Black paint 4 %', optics: { kind: 'paint', reflectance: 0.04 } },
  {
    id: 'black_anodised',
    name: 'Black anodised',
    note: '6 % reflected, most of it about the specular direction: it shines at grazing incidence.',
    optics: { kind: 'mirror', reflectance: 0.06 },
    reflected: { kind: 'gaussian', share: 0.9, angle: 12 },
  },
  {
    id: 'etched',
    name: 'Etched diffuser',
    note: 'Fresnel at the glass, what goes through spread by σ 8°.',
    optics: { kind: 'bare' },
    transmitted: { kind: 'gaussian', share: 1, angle: 8 },
  },
  {
    id: 'polished',
    name: 'Polished, slightly rough',
    note: 'BSDF 0.001/(0.001 + |β − β₀|²): about 2 % scattered.',
    optics: { kind: 'bare' },
    reflected: { kind: 'abg', a: 0.001, b: 0.001, g: 2 },
    transmitted: { kind: 'abg', a: 0.0001, b: 0.001, g: 2 },
  },
];
