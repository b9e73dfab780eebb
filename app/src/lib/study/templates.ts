import type { BoardTile } from '@ulvex/core';

/** A board to begin with: what a designer asks first about one thing. */
export interface BoardTemplate {
  readonly id: string;
  readonly name: string;
  readonly question: string;
  /** What it looks at. */
  readonly of: 'lens' | 'scene';
  readonly tiles: readonly Omit<BoardTile, 'id' | 'settings'>[];
}

const tile = (kind: string, columns: number, rows = 2) => ({ kind, columns, rows });

const LENS_TEMPLATES: readonly Omit<BoardTemplate, 'of'>[] = [
  {
    id: 'first_look',
    name: 'First look',
    question: 'What is it, and is it sharp?',
    tiles: [tile('section', 6), tile('spots', 6), tile('ray_fans', 8), tile('first_order', 4)],
  },
  {
    id: 'colour',
    name: 'Colour',
    question: 'Do the colours come together?',
    tiles: [
      tile('focal_shift', 4),
      tile('lateral_colour', 4),
      tile('longitudinal', 4),
      tile('ray_fans', 8),
      tile('quality_colour', 4),
    ],
  },
  {
    id: 'field',
    name: 'Field',
    question: 'What changes from the axis to the edge?',
    tiles: [
      tile('field_curves', 8),
      tile('distortion_grid', 4),
      tile('quality_field', 4),
      tile('quality_focus', 4),
      tile('vignetting_field', 4),
    ],
  },
  {
    id: 'wavefront',
    name: 'Wavefront',
    question: 'How far is it from perfect?',
    tiles: [tile('opd_fans', 8), tile('zernike', 4), tile('wavefront_map', 8), tile('power_series', 4)],
  },
  {
    id: 'image',
    name: 'Image',
    question: 'What would the detector see?',
    tiles: [
      tile('point_spread', 8),
      tile('encircled_energy', 4),
      tile('mtf', 4),
      tile('mtf_focus', 4),
      tile('mtf_field', 4),
      tile('picture', 4),
      tile('line_edge', 4),
      tile('point_sections', 4),
    ],
  },
  {
    id: 'aberrations',
    name: 'Aberrations',
    question: 'Which surface makes which?',
    tiles: [tile('seidel', 6), tile('powers', 6), tile('incidence', 4), tile('heights', 4), tile('power_series', 4)],
  },
  {
    id: 'making',
    name: 'Making',
    question: 'Will it work when it is made?',
    tiles: [tile('made_spots', 12), tile('section', 6), tile('prescription', 6)],
  },
];

const SCENE_TEMPLATES: readonly Omit<BoardTemplate, 'of'>[] = [
  {
    id: 'first_light',
    name: 'First light',
    question: 'Does the light arrive, and how?',
    tiles: [tile('space', 6), tile('detector_map', 6), tile('energy_book', 4), tile('flux_by_source', 8)],
  },
  {
    id: 'ways',
    name: 'Where does it go',
    question: 'Where did all the light go?',
    tiles: [tile('energy_book', 4), tile('flux_by_source', 8), tile('flux_by_face', 6), tile('space', 6)],
  },
  {
    id: 'far_field',
    name: 'Far field',
    question: 'Where does the lamp throw its light?',
    tiles: [tile('intensity', 6), tile('detector_map', 6), tile('flux_within', 8), tile('energy_book', 4)],
  },
  {
    id: 'target',
    name: 'Target',
    question: 'Is the light where it is wanted, and even?',
    tiles: [tile('detector_map', 6), tile('light_sections', 6), tile('evenness', 6), tile('flux_within', 6)],
  },
];

/** Boards for common questions, in the order of the menu. */
export const BOARD_TEMPLATES: readonly BoardTemplate[] = [
  ...LENS_TEMPLATES.map((template) => ({ ...template, of: 'lens' as const })),
  ...SCENE_TEMPLATES.map((template) => ({ ...template, of: 'scene' as const })),
];
