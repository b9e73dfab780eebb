import type { SceneEvaluation } from '../../imaging/evaluation/scene-evaluation.ts';
import { success } from '../../math/outcome.ts';
import { launchedFlux } from '../../scene/channels.ts';
import { detectorNumbers } from '../../scene/statistics.ts';
import { energyLines, energyOf } from '../../scene/tally.ts';
import { defineSceneAnalysis } from '../analysis.ts';
import { RAYS, tracedScene } from './detector.ts';

export const energyBook = defineSceneAnalysis({
  id: 'energy_book',
  title: 'Energy book',
  topic: 'ways',
  question: 'Where did all the light go?',
  meaning: 'Every watt that was launched, by where it ended. The lines add up to what was launched.',
  narrow: true,
  settings: { rays: RAYS },
  *evaluate(scene, { rays }, detail) {
    const found = yield* tracedScene(scene, rays, detail);
    if (!found.ok) return found;
    const { tally, about } = found.value;
    const energy = energyOf(tally);
    const rows = energyLines(energy).map(({ title, watts, share }) => [title, watts, 100 * share]);
    return success({
      panels: [
        {
          kind: 'table',
          title: 'Energy book',
          columns: [
            { title: 'where it ended', unit: '' },
            { title: 'flux', unit: 'W', digits: 4 },
            { title: 'share', unit: '%', digits: 3, bars: true },
          ],
          rows,
          total: ['launched', energy.launched, 100],
        },
      ],
      about,
    });
  },
});

/** What ends in each face and body, W. */
function endings({ model }: SceneEvaluation, faces: Float64Array, solids: Float64Array, chunks: number) {
  const name = (part: string) => model.scene.parts.find(({ id }) => id === part)?.name || part;
  const atFaces = model.faces.flatMap(({ part, name: face, finish, form, through }, i) =>
    through
      ? []
      : [{ part: name(part), where: face, finish: finish.name, watts: faces[i] / chunks, area: form.area ?? NaN }],
  );
  const inside = model.solids.map(({ part }, i) => ({
    part: name(part),
    where: 'inside',
    finish: '',
    watts: solids[i] / chunks,
    area: NaN,
  }));
  return [...atFaces, ...inside].filter(({ watts }) => watts > 0).sort((a, b) => b.watts - a.watts);
}

export const fluxByFace = defineSceneAnalysis({
  id: 'flux_by_face',
  title: 'Flux by face',
  topic: 'ways',
  question: 'Which face takes how much?',
  meaning:
    'What each face and the inside of each body absorb, the largest first: W, share of what was launched, and W/mm² over ' +
    'the area of the face. Faces of a pattern are listed one by one.',
  settings: {
    rows: { kind: 'integer', title: 'Faces listed', min: 1, max: 500, fallback: 30 },
    rays: RAYS,
  },
  *evaluate(scene, { rays, rows }, detail) {
    const found = yield* tracedScene(scene, rays, detail);
    if (!found.ok) return found;
    const { tally, about } = found.value;
    const launched = tally.ledger.launched / tally.chunks;
    const all = endings(scene, tally.faces, tally.solids, tally.chunks);
    const sum = all.reduce((whole, { watts }) => whole + watts, 0);
    return success({
      panels: [
        {
          kind: 'table',
          title: 'Flux by face',
          columns: [
            { title: 'part', unit: '' },
            { title: 'face', unit: '' },
            { title: 'finish', unit: '' },
            { title: 'absorbed', unit: 'W', digits: 4 },
            { title: 'share', unit: '%', digits: 3, bars: true },
            { title: 'per area', unit: 'W/mm²', digits: 3 },
          ],
          rows: all
            .slice(0, rows)
            .map(({ part, where, finish, watts, area }) => [
              part,
              where,
              finish,
              watts,
              (100 * watts) / launched,
              area > 0 ? watts / area : '',
            ]),
          total: ['absorbed in all', '', '', sum, (100 * sum) / launched, ''],
        },
      ],
      about: [
        ...about,
        all.length > rows ? `${rows} of ${all.length} faces and bodies` : `${all.length} faces and bodies`,
      ],
    });
  },
});

export const fluxBySource = defineSceneAnalysis({
  id: 'flux_by_source',
  title: 'Flux by source',
  topic: 'ways',
  question: 'What does each source give to each detector?',
  meaning:
    'By source: what it launches, the share of its rays that meet anything, and what each detector counts of it, with its ' +
    'standard error and as a share of what it launches.',
  settings: { rays: RAYS },
  *evaluate(scene, { rays }, detail) {
    const found = yield* tracedScene(scene, rays, detail);
    if (!found.ok) return found;
    const { tally, about } = found.value;
    const { model } = scene;
    const title = (id: string, list: readonly { readonly id: string; readonly name?: string }[]) =>
      list.find((one) => one.id === id)?.name || id;
    const flux = (d: number, source?: string) =>
      detectorNumbers(model.detectors[d], tally.detectors[d], tally.chunks, { source });
    const rows = model.sources.map(({ id, watts }, s) => [
      title(id, model.scene.sources),
      watts,
      (100 * tally.met[s]) / tally.launched[s],
      ...model.detectors.flatMap((_, d) => {
        const { value, standardError } = flux(d, id).flux;
        return [
          value,
          standardError,
          (100 * flux(d, id).flux.value) / launchedFlux(model, model.detectors[d].detector.light, id),
        ];
      }),
    ]);
    return success({
      panels: [
        {
          kind: 'table',
          title: 'Flux by source',
          columns: [
            { title: 'source', unit: '' },
            { title: 'launched', unit: 'W', digits: 4 },
            { title: 'rays that meet', unit: '%', digits: 3 },
            ...model.detectors.flatMap(({ detector }) => [
              { title: detector.name || detector.id, unit: detector.light === 'photometric' ? 'lm' : 'W', digits: 4 },
              { title: '±', unit: '', digits: 2 },
              { title: 'share', unit: '%', digits: 3, bars: true },
            ]),
          ],
          rows,
        },
      ],
      about,
    });
  },
});
