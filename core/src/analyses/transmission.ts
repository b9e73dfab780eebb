import { wavelengthName } from '../light/spectral-lines.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { transmission, TRANSMISSION_SAMPLING, type Transmission } from '../imaging/transmission/transmission.ts';
import type { Detail } from '../imaging/wavefront/diffraction-pupil.ts';
import { success, type Outcome } from '../math/outcome.ts';
import { findFinish } from '../project/finish-edits.ts';
import { samplingLabel } from '../sequence/pupil-sampling.ts';
import {
  ALL_FIELDS,
  defineAnalysis,
  fieldsOf,
  ONE_COLOUR,
  ONE_FIELD,
  pupilWords,
  waveOf,
  waveWords,
} from './analysis.ts';
import type { Axis, Curve } from './panels.ts';
import { spectrumLine } from './quality.ts';

const SAMPLINGS = {
  draft: { kind: 'polar', rings: 3, arms: 6 },
  full: TRANSMISSION_SAMPLING,
} as const;

const percent = (found: Outcome<Transmission>) => (found.ok ? 100 * found.value.share : NaN);
const PERCENT: Axis = { title: 'transmission', unit: '%' };

/** Media without a record of their absorption, in words. */
function takenClear(found: readonly Outcome<Transmission>[]): string[] {
  const labels = new Set(found.flatMap((one) => (one.ok ? one.value.takenClear : [])));
  return labels.size > 0 ? [`${[...labels].join(', ')} taken as clear, without a record`] : [];
}

const words = (lens: LensEvaluation, detail: Detail) => [
  'of the rays that arrive',
  'unpolarised at every surface',
  samplingLabel(SAMPLINGS[detail]),
  pupilWords(lens, 'clipped')[1],
];

export const transmissionOverColour = defineAnalysis({
  id: 'transmission_colour',
  title: 'Transmission over wavelength',
  topic: 'field',
  question: 'How much of each colour comes through?',
  meaning:
    'Share of the light of each field that comes through the lens to the image by wavelength, from the shortest to the longest of the ' +
    'lens: losses by reflection at its surfaces, as their coatings make them, and absorption in its media. What apertures stop does not count.',
  settings: { field: ALL_FIELDS },
  *evaluate(lens, settings, detail) {
    const fields = fieldsOf(lens, settings.field);
    if (!fields.ok) return fields;
    const spectrum = spectrumLine(lens, detail === 'draft' ? 10 : 40);
    if (!spectrum.ok) return spectrum;
    const { nms, coloured } = spectrum.value;
    const curves: Curve[] = [];
    const all: Outcome<Transmission>[] = [];
    for (const field of fields.value) {
      const found: Outcome<Transmission>[] = [];
      for (const k of nms.keys()) {
        found.push(transmission(coloured, field, k + 1, SAMPLINGS[detail]));
        if (k % 8 === 7) yield;
      }
      const failed = found.every(({ ok }) => !ok) ? found[0] : undefined;
      if (failed && !failed.ok) return failed;
      all.push(...found);
      const tint = { field: lens.model.lens.fields.points.indexOf(field) };
      curves.push({ name: field.id, tint, x: nms, y: found.map(percent) });
    }
    return success({
      panels: [{ kind: 'curves', title: '', x: { title: 'wavelength', unit: 'nm' }, y: PERCENT, curves }],
      about: [...words(lens, detail), ...takenClear(all)],
    });
  },
});

export const transmissionOverField = defineAnalysis({
  id: 'transmission_field',
  title: 'Transmission over field',
  topic: 'field',
  question: 'Does it lose more light at the edge?',
  meaning:
    'Share of the light that comes through the lens to the image from the axis to the largest field, each colour: losses at its surfaces, as ' +
    'their coatings make them, and in its media. Vignetting and the cos⁴ law do not count: see the field curves.',
  settings: {},
  *evaluate(lens, _settings, detail) {
    const line = fieldLine(lens, detail === 'draft' ? 6 : 16);
    if (!line.ok) return line;
    const { fields, at, unit } = line.value;
    const { wavelengths, primary } = lens.model;
    const curves: Curve[] = [];
    const all: Outcome<Transmission>[] = [];
    for (const [wave, { nm, weight }] of wavelengths.entries()) {
      if (weight === 0 && wave !== primary) continue;
      const found = fields.map((field) => transmission(lens, field, wave, SAMPLINGS[detail]));
      yield;
      all.push(...found);
      curves.push({ name: wavelengthName(nm), tint: { nm }, x: at, y: found.map(percent) });
    }
    if (all.every(({ ok }) => !ok) && !all[0].ok) return all[0];
    return success({
      panels: [{ kind: 'curves', title: '', x: { title: 'field', unit, range: [0, at.at(-1)!] }, y: PERCENT, curves }],
      about: [...words(lens, detail), ...takenClear(all)],
    });
  },
});

export const lightLosses = defineAnalysis({
  id: 'light_losses',
  title: 'Light losses',
  topic: 'lens',
  question: 'Which surface costs how much light?',
  meaning:
    'What each surface reflects or absorbs, and what each medium absorbs, of the light of a field at one wavelength: shares of what was ' +
    'launched, which add up with what comes through to 100 %.',
  settings: { field: ONE_FIELD, colour: ONE_COLOUR },
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const fields = fieldsOf(lens, settings.field);
    if (!fields.ok) return fields;
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const [field] = fields.value;
    const found = transmission(lens, field, wave.value ?? lens.model.primary, SAMPLINGS.full);
    if (!found.ok) return found;
    const { share } = found.value;
    return success({
      panels: [
        {
          kind: 'table',
          title: 'Light losses',
          columns: [
            { title: 'at', unit: '', ids: true },
            { title: 'finish', unit: '' },
            { title: 'lost', unit: '%', digits: 4, bars: true },
          ],
          rows: lossRows(lens, found.value),
          total: ['comes through', '', 100 * share],
        },
      ],
      about: [`field ${field.id}`, waveWords(lens, wave.value), ...words(lens, 'full'), ...takenClear([found])],
    });
  },
});

/** Losses in the order in which light meets them; media that are taken as clear have none. */
function lossRows(lens: LensEvaluation, { atSurfaces, inMedia }: Transmission): (string | number)[][] {
  const { surfaces, media, lens: record } = lens.model;
  return surfaces.slice(0, -1).flatMap(({ id, reflects }, j) => {
    const { finish } = record.surfaces[j];
    const usual = reflects ? 'mirror' : 'bare';
    const named = finish === undefined ? usual : (findFinish(lens.project, finish)?.name ?? finish);
    const same = !reflects && finish === undefined && lens.model.indices.every((n) => n[j] === n[j + 1]);
    const medium = media[j]?.label ?? '';
    return [
      ...(inMedia[j] > 0 ? [[`in ${medium}`, '', 100 * inMedia[j]]] : []),
      ...(same ? [] : [[id, named, 100 * atSurfaces[j]]]),
    ];
  });
}
