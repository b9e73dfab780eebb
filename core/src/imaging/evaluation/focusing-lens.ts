import type { Lens, Surface } from '../../project/model.ts';

/** Focal length of the ideal lens that is put behind an afocal one, mm: a mm of its image is a mrad of the tangent. */
export const FOCUSING = 1000;

/**
 * An afocal lens with an ideal lens of 1000 mm at its image surface, and the image in the focus of that: what is seen there is what would
 * be seen in angle. The ideal lens adds no aberration: paths through it are equal for parallel light of every direction. Null where light
 * goes back behind an odd number of mirrors.
 */
export function focused(lens: Lens): Lens | null {
  const before = lens.surfaces.slice(0, -1);
  const image = lens.surfaces.at(-1);
  const medium = before.at(-1)?.after;
  if (!image || !medium || before.filter(({ reflects }) => reflects).length % 2 === 1) return null;
  const ids = new Set(lens.surfaces.map(({ id }) => id));
  let id = 'focusing_lens';
  while (ids.has(id)) id += '_';
  const focusing: Surface = {
    id,
    shape: { kind: 'ideal_lens', focal_length: FOCUSING, object: 'infinity' },
    aperture: { kind: 'automatic' },
    ...(image.frame && { frame: image.frame }),
    after: { thickness: FOCUSING, material: medium.material },
  };
  const plane: Surface = {
    id: image.id,
    shape: { kind: 'plane' },
    aperture: { kind: 'automatic' },
    after: null,
  };
  return { ...lens, imageSpace: 'focal', surfaces: [...before, focusing, plane] };
}
