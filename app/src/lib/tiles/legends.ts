import { wavelengthName, type Lens } from '@ulvex/core';
import { fieldColours, namedOf, waveColour } from '../colours.ts';
import { fieldLabels } from '../desk/lens-words.ts';
import type { LegendEntry } from '../report-frame.ts';
import { cssColour } from '../css-colour.ts';

/** Fields by their colours, for pictures in files. */
export function fieldLegend(lens: Lens | null): LegendEntry[] {
  const labels = [...fieldLabels(lens).values()];
  const ramp = fieldColours(labels.length);
  return namedOf(labels.length).map((i) => ({ name: labels[i], colour: cssColour(ramp[i]) }));
}

/** Weighted wavelengths by their colours. */
export function waveLegend(lens: Lens | null): LegendEntry[] {
  return (lens?.wavelengths ?? [])
    .filter(({ weight }) => weight > 0)
    .map(({ nm }) => ({ name: wavelengthName(nm), colour: cssColour(waveColour(nm)) }));
}
