import type { Lens } from '@ulvex/core';
import { fieldColours, namedOf } from '../colours.ts';
import { fieldLabels } from '../desk/lens-words.ts';
import type { LegendEntry } from '../report-frame.ts';
import { cssColour } from '../css-colour.ts';

/** Fields by their colours, for pictures in files. */
export function fieldLegend(lens: Lens | null): LegendEntry[] {
  const labels = [...fieldLabels(lens).values()];
  const ramp = fieldColours(labels.length);
  return namedOf(labels.length).map((i) => ({ name: labels[i], colour: cssColour(ramp[i]) }));
}
