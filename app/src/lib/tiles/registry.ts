import { ANALYSES, looksAtScene, type AnalysisTopic } from '@ulvex/core';
import type { Component } from 'svelte';
import AnalysisTile from './AnalysisTile.svelte';
import RayTile from './RayTile.svelte';
import ScanTile from './ScanTile.svelte';
import SectionTile from './SectionTile.svelte';
import SpaceTile from './SpaceTile.svelte';

/** What every tile is given: its choices as the project holds them, and how to change them. */
export interface TileProps {
  /** Which kind of tile it is: one component may serve several. */
  kind: string;
  settings: unknown;
  onsettings: (settings: never) => void;
}

/** Under what the shelf lists a tile. */
export type Topic = AnalysisTopic;

export const TOPICS: Readonly<Record<Topic, string>> = {
  lens: 'The lens itself',
  rays: 'Rays',
  field: 'Field and colour',
  wavefront: 'Wavefront and surfaces',
  image: 'Image of a point, contrast',
  theory: 'Aberration theory, beams',
  light: 'Light on detectors',
  ways: 'Where light goes',
};

/** An analysis that can be put on a board. */
export interface TileKind {
  /** Stored in projects: never changed. */
  readonly kind: string;
  readonly title: string;
  /** The question that it answers, under which the shelf lists it. */
  readonly question: string;
  readonly topic: Topic;
  /** What it looks at; a tile of any serves both. */
  readonly of: 'lens' | 'scene' | 'any';
  readonly columns: number;
  readonly rows: number;
  readonly component: Component<TileProps>;
}

/** Each component checks its own settings, whatever a project holds; the registry forgets their types. */
function asTile(component: unknown): Component<TileProps> {
  return component as Component<TileProps>;
}

/** Every tile, in the order of the shelf. A new one is a component beside these and a line here. */
export const TILES: readonly TileKind[] = [
  {
    kind: 'scan',
    title: 'Scan',
    question: 'What does a number do to it?',
    topic: 'lens',
    of: 'any',
    columns: 6,
    rows: 2,
    component: asTile(ScanTile),
  },
  {
    kind: 'section',
    title: 'Section',
    question: 'What does it look like?',
    topic: 'lens',
    of: 'lens',
    columns: 6,
    rows: 2,
    component: asTile(SectionTile),
  },
  {
    kind: 'ray',
    title: 'Ray inspector',
    question: 'Where does this ray go?',
    topic: 'lens',
    of: 'lens',
    columns: 8,
    rows: 2,
    component: asTile(RayTile),
  },
  {
    kind: 'space',
    title: 'The scene in space',
    question: 'What stands where, and where do rays go?',
    topic: 'ways',
    of: 'scene',
    columns: 6,
    rows: 3,
    component: asTile(SpaceTile),
  },
  ...ANALYSES.map((analysis) => {
    const { id, title, question, topic, wide, narrow, tall } = analysis;
    return {
      kind: id,
      title,
      question,
      topic,
      of: looksAtScene(analysis) ? ('scene' as const) : ('lens' as const),
      columns: wide ? 8 : narrow ? 4 : 6,
      rows: tall ? 3 : 2,
      component: asTile(AnalysisTile),
    };
  }),
];

/** The tile that shows what a measure is made of; the section where there is no better one. */
export function tileOf(measure: string): TileKind {
  const kind = OF[measure]
    ? OF[measure]
    : /^ray_/.test(measure)
      ? 'ray'
      : /spot/.test(measure)
        ? 'spots'
        : FROM_RAYS.has(measure)
          ? 'section'
          : 'first_order';
  return TILES.find((tile) => tile.kind === kind)!;
}

/** Measures that a tile of their own shows. */
const OF: Readonly<Record<string, string>> = {
  detector_flux: 'detector_map',
  detector_mean: 'detector_map',
  detector_peak: 'detector_map',
  detector_uniformity: 'evenness',
  detector_centroid_x: 'detector_map',
  detector_centroid_y: 'detector_map',
  detector_rms_radius: 'flux_within',
  detector_encircled: 'flux_within',
  detector_efficiency: 'flux_by_source',
  detector_half_angle: 'intensity',
  part_absorbed: 'flux_by_face',
  mtf: 'mtf',
  rms_wavefront: 'opd_fans',
  wavefront_peak_to_valley: 'opd_fans',
  strehl_ratio: 'opd_fans',
  relative_illumination: 'field_curves',
  narrow_focus: 'field_curves',
  distortion: 'field_curves',
  encircled_radius: 'encircled_energy',
  point_peak: 'point_spread',
  lateral_colour: 'lateral_colour',
  axial_colour: 'focal_shift',
  petzval_radius: 'powers',
  zernike_coefficient: 'zernike',
  gaussian_beam: 'gaussian_beam',
  seidel_sum: 'seidel',
  seidel_waves: 'seidel',
};

const FROM_RAYS: ReadonlySet<string> = new Set(['chief_ray_angle', 'image_height', 'total_length']);
