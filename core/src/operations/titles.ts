/** What operations are called, by id in menu order: lists need no more of them. */
export const OPERATION_TITLES = {
  turn_around: 'Turn the lens around',
  flip: 'Flip surfaces',
  refocus_by: 'Refocus by a criterion',
  scale_to_focal_length: 'Scale to a focal length',
  scale: 'Scale by a factor',
  split_element: 'Split an element',
  bend_element: 'Bend an element',
  achromatise: 'Achromatise a doublet',
  insert_doublet: 'Insert an achromat',
  insert_field_lens: 'Insert a field lens',
  fold_mirror: 'Fold by a mirror',
  move_stop: 'Move the stop',
} as const;
