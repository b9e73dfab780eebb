import { wavelengthName } from '../light/spectral-lines.ts';
import { spotDiagram, type SpotPicture } from '../imaging/point/spot-diagram.ts';
import { success } from '../math/outcome.ts';
import { CLIPPED, defineAnalysis, pupilWords, withoutNulls } from './analysis.ts';
import { ring } from './bundles.ts';
import { besideReason, roundScale } from './compact.ts';
import type { DotPanel } from './panels.ts';

/** Rays of a colour, as rings × arms. */
const SAMPLINGS = ['4 × 8', '6 × 12', '12 × 24', '24 × 48'] as const;

export const spots = defineAnalysis({
  id: 'spots',
  title: 'Spots',
  topic: 'rays',
  question: 'Is it sharp?',
  meaning:
    'Where the rays of a point arrive, for each field, all to one scale: about the centroid of all colours, or ' +
    'about the chief ray of the primary one. The ring is the Airy disk. Box: half the side of each picture, in µm ' +
    'or for an afocal lens in mrad; 0: what holds all rays.',
  settings: {
    reference: { kind: 'choice', title: 'About', options: ['centroid', 'chief'], fallback: 'centroid' },
    pupil: CLIPPED,
    sampling: { kind: 'choice', title: 'Rays', options: SAMPLINGS, fallback: '12 × 24' },
    box: { kind: 'number', title: 'Box ±', unit: '', min: 0, max: 1e6, fallback: 0 },
  },
  older({ sampling, ...given }) {
    // A sampling was kept by its place in the list.
    const named = typeof sampling === 'number' ? SAMPLINGS[sampling] : sampling;
    return { ...withoutNulls(given), ...(named !== undefined && { sampling: named }) };
  },
  exact: true,
  atOnce: true,
  // eslint-disable-next-line require-yield -- drawn at once
  *evaluate(lens, settings) {
    const [rings, arms] = settings.sampling.split(' × ').map(Number);
    const found = spotDiagram(lens, {
      reference: settings.reference === 'chief' ? 'chief' : 'centroid',
      pupil: settings.pupil === 'full' ? 'full' : 'clipped',
      rings,
      arms,
    });
    if (!found.ok) return found;
    const { pictures, unit } = found.value;
    const drawn = pictures.flatMap(({ spot }) => (spot.ok ? [spot.value] : []));
    const largest = Math.max(0, ...drawn.map((spot) => Math.max(spot.largest, ...(spot.airy ?? []))));
    const half = settings.box || roundScale(largest, unit === 'µm' ? 0.1 : 1e-4, 10);
    const axis = (title: string) => ({ title, unit, range: [-half, half] as const });
    const panels = pictures.map(({ field, spot }): DotPanel => {
      const empty = { kind: 'dots', title: field, x: axis('x'), y: axis('y'), groups: [], outlines: [] } as const;
      return spot.ok ? { ...empty, ...drawing(spot.value, unit) } : { ...empty, title: besideReason(field, 'no spot') };
    });
    return success({
      panels,
      compact: true,
      columns: panels.length,
      resolved: { box: half },
      missing: pictures.flatMap(({ field, spot }) => (spot.ok ? [] : [besideReason(field, spot.reason)])),
      about: [
        ...airyWords(drawn, unit),
        `box ±${Number(half.toPrecision(2))} ${unit}`,
        `about the ${settings.reference === 'chief' ? 'chief ray' : 'centroid'}`,
        `${settings.sampling} rays a colour`,
        ...pupilWords(lens, settings.pupil),
      ],
    });
  },
});

/** What a picture shows of a spot, with its radius and, if some are lost, how many of the rays it is of. */
function drawing(
  { colours, rms, airy, launched, arrived }: SpotPicture,
  unit: string,
): Pick<DotPanel, 'groups' | 'outlines' | 'figures'> {
  return {
    groups: colours.map(({ nm, x, y }) => ({ name: wavelengthName(nm), tint: { nm }, x: [...x], y: [...y] })),
    outlines: airy ? [ring('Airy', airy)] : [],
    figures: [
      { name: 'RMS', value: rms, unit },
      ...(arrived < launched
        ? [{ name: 'of the rays', value: Math.round((100 * arrived) / launched), unit: '%' }]
        : []),
    ],
  };
}

/** Semi-axes of the Airy rings of all fields, as a range if they differ in the digits shown. */
function airyWords(drawn: readonly SpotPicture[], unit: string): string[] {
  const semis = drawn.flatMap(({ airy }) => airy ?? []);
  if (semis.length === 0) return [];
  const [least, most] = [Math.min(...semis), Math.max(...semis)].map((semi) => Number(semi.toPrecision(2)));
  return [`Airy ${least === most ? least : `${least}–${most}`} ${unit}`];
}
