import { CONIC, RADIUS } from '../shapes/shape.ts';
import { compileShape, type Shape } from '../shapes/registry.ts';
import type { Extent, ParameterSpec } from '../math/parameter.ts';
import { defineBody, length, lifted, upright, type BuiltFace } from './body.ts';
import { faceOfShape } from './mirror-shell.ts';
import { coneFace } from './quadric-face.ts';
import { RimFace } from './rim-face.ts';

const THICKNESS = length('thickness', 'Thickness', 'On the axis, from vertex to vertex.');
const SEMI = length('semi', 'Semi-aperture', 'Radius of its round rim.');

const radius = (id: string, title: string): ParameterSpec => ({ ...RADIUS, id, title });
const conic = (id: string, title: string): ParameterSpec => ({ ...CONIC, id, title });

/** A round lens of two conic surfaces. */
export interface LensBlock {
  readonly kind: 'lens_block';
  readonly front: Extent;
  readonly front_conic?: number;
  readonly back: Extent;
  readonly back_conic?: number;
  readonly thickness: number;
  readonly semi: number;
}

/** A round lens with radii of its own in x and y on both sides. */
export interface BiaxialLens {
  readonly kind: 'biaxial';
  readonly front: Extent;
  readonly front_x: Extent;
  readonly back: Extent;
  readonly back_x: Extent;
  readonly thickness: number;
  readonly semi: number;
}

/** Why two surfaces make no lens with this rim; null when they do. */
function lensObjection(front: Shape, back: Shape, thickness: number, semi: number): string | null {
  const [a, b] = [compileShape(front), compileShape(back)];
  for (const [name, { reach }] of [
    ['front', a],
    ['back', b],
  ] as const)
    if (!(semi <= reach)) return `its ${name} ends ${reach.toPrecision(5)} mm from the axis`;
  for (let k = 0; k < 16; k++) {
    const [x, y] = [semi * Math.cos((Math.PI * k) / 8), semi * Math.sin((Math.PI * k) / 8)];
    if (!(thickness + b.sag(x, y) - a.sag(x, y) > 0))
      return 'its surfaces cross before the rim: make it thicker or smaller';
  }
  return null;
}

function lensFaces(front: Shape, back: Shape, thickness: number, semi: number): BuiltFace[] {
  return [
    upright('front', faceOfShape(front, 0, semi, null, -1)),
    lifted('back', faceOfShape(back, 0, semi, null, 1), thickness),
  ];
}

const conics = ({ front, front_conic = 0, back, back_conic = 0 }: LensBlock): [Shape, Shape] => [
  { kind: 'conic', radius: front, conic: front_conic },
  { kind: 'conic', radius: back, conic: back_conic },
];

export const lensBlock = defineBody<LensBlock>({
  kind: 'lens_block',
  title: 'Simple lens',
  meaning:
    'A round lens of two conic surfaces about z, its front vertex at the origin; it needs no prescription. Faces: front, back, rim.',
  first: { kind: 'lens_block', front: 40, back: -40, thickness: 6, semi: 12 },
  sketch: 'M8 1c-3 4 -3 8 0 12h4c3 -4 3 -8 0 -12z',
  solid: true,
  parameters: [
    radius('front', 'Front radius'),
    conic('front_conic', 'Front conic'),
    radius('back', 'Back radius'),
    conic('back_conic', 'Back conic'),
    THICKNESS,
    SEMI,
  ],
  objection: (record) => lensObjection(...conics(record), record.thickness, record.semi),
  build(record) {
    const [front, back] = conics(record);
    const { thickness, semi } = record;
    const [from, to] = [compileShape(front).sag(semi, 0), thickness + compileShape(back).sag(semi, 0)];
    return [...lensFaces(front, back, thickness, semi), upright('rim', coneFace(semi, from, semi, to, 1))];
  },
});

const biconics = ({ front, front_x, back, back_x }: BiaxialLens): [Shape, Shape] => [
  { kind: 'biconic', radius: front, radius_x: front_x },
  { kind: 'biconic', radius: back, radius_x: back_x },
];

export const biaxial = defineBody<BiaxialLens>({
  kind: 'biaxial',
  title: 'Biaxial lens',
  meaning:
    'A round lens whose surfaces have one radius in the y–z section and another in the x–z section, its ' +
    'front vertex at the origin. Faces: front, back, rim.',
  first: { kind: 'biaxial', front: 40, front_x: 80, back: 'infinity', back_x: 'infinity', thickness: 5, semi: 12 },
  sketch: 'M7 1c-2 4 -2 8 0 12h3v-12z M10 1v12h3c2 -4 2 -8 0 -12z',
  solid: true,
  parameters: [
    radius('front', 'Front radius in y'),
    radius('front_x', 'Front radius in x'),
    radius('back', 'Back radius in y'),
    radius('back_x', 'Back radius in x'),
    THICKNESS,
    SEMI,
  ],
  objection: (record) => lensObjection(...biconics(record), record.thickness, record.semi),
  build(record) {
    const [front, back] = biconics(record);
    const { thickness, semi } = record;
    const [a, b] = [compileShape(front), compileShape(back)];
    // Rounding may take a place on the rim a hair beyond it.
    const onRim = (sag: (x: number, y: number) => number) => (x: number, y: number) => {
      const scale = semi / Math.hypot(x, y);
      return sag(x * scale, y * scale);
    };
    const rim = new RimFace(
      semi,
      onRim((x, y) => a.sag(x, y)),
      onRim((x, y) => thickness + b.sag(x, y)),
    );
    return [...lensFaces(front, back, thickness, semi), upright('rim', rim)];
  },
});
