import { expect } from 'chai';
import { BODIES } from '../bodies/registry.ts';
import { SHELF_FINISHES } from '../finishes/shelf.ts';
import { glassOf, part, sceneProject, source } from './scene-fixtures.ts';
import { applyEdits } from './edit.ts';
import type { Project } from './model.ts';
import { findParameter, listParameters, setParameter } from './parameters.ts';
import { projectText, readProject, readProjectText } from './read.ts';
import {
  addBody,
  addCopy,
  addDetector,
  addGroup,
  addLens,
  addScene,
  addSource,
  freshThingId,
  removeThing,
  setExcluded,
  setFinish,
  setOf,
  type SceneGesture,
} from './scene-edits.ts';

const start = sceneProject({ materials: [glassOf(1.5)] });
const sceneIn = (project: Project) => project.scenes![0];

/** A project after gestures, each made on what the one before left; every one must leave a project that can be read. */
function after(project: Project, ...gestures: readonly ((project: Project) => SceneGesture)[]): Project {
  return gestures.reduce((now, gesture) => {
    const { edits } = gesture(now);
    const done = applyEdits(now, edits);
    const read = readProjectText(projectText(done.project));
    expect(read.ok, JSON.stringify(read)).to.equal(true);
    expect(applyEdits(done.project, done.inverse).project).to.deep.equal(now);
    return done.project;
  }, project);
}

describe('gestures on a scene', () => {
  it('add every kind of body, each of them legal, with ids of their own', () => {
    const all = after(
      start,
      ...BODIES.map(
        ({ kind }) =>
          (project: Project) =>
            addBody(project, sceneIn(project), kind, null),
      ),
    );
    expect(sceneIn(all).parts.map(({ id }) => id)).to.deep.equal(BODIES.map(({ kind }) => kind));
    expect(freshThingId(sceneIn(all), 'box')).to.equal('box_2');
  });

  it('add sources, detectors, groups and linked copies', () => {
    const all = after(
      start,
      (project) => addBody(project, sceneIn(project), 'box', null),
      (project) => addSource(sceneIn(project), 550),
      (project) => addDetector(sceneIn(project), { part: 'box', face: 'front' }),
      (project) => addDetector(sceneIn(project), null),
      (project) => addGroup(sceneIn(project), 'box'),
      (project) => addCopy(sceneIn(project), sceneIn(project).parts[0], 'x'),
    );
    const { parts, detectors } = sceneIn(all);
    expect(parts.map(({ id }) => id)).to.deep.equal(['box', 'box_copy', 'group']);
    expect(detectors.map(({ on }) => on.kind)).to.deep.equal(['face', 'rectangle']);
  });

  it('take out with a part what would be left without it', () => {
    const scene = {
      parts: [
        part('base', { kind: 'box', width: 1, height: 1, thickness: 1 }),
        part('twin', { kind: 'copy', of: 'base' }, { within: 'base' }),
        part('guest', { kind: 'sphere', radius: 1 }, { within: 'base' }),
      ],
      sources: [source({ region: { kind: 'face', part: 'base', face: 'front' } })],
      detectors: [
        {
          id: 'meter',
          on: { kind: 'face', part: 'base', face: 'back' },
          columns: 1,
          rows: 1,
          counts: 'incident',
          light: 'radiometric',
        },
      ] as const,
    };
    const gone = sceneIn(after(sceneProject(scene), (project) => removeThing(sceneIn(project), 'parts', 'base')));
    expect(gone.parts).to.deep.equal([{ id: 'guest', body: { kind: 'sphere', radius: 1 } }]);
    expect(gone.sources).to.deep.equal([]);
    expect(gone.detectors).to.deep.equal([]);
  });

  it('leave things out and take them in again without a trace', () => {
    const one = after(start, (project) => addSource(sceneIn(project), 550));
    const out = after(one, (project) => setExcluded(sceneIn(project), 'sources', 'source', true));
    expect(sceneIn(out).sources[0].excluded).to.equal(true);
    expect(after(out, (project) => setExcluded(sceneIn(project), 'sources', 'source', false))).to.deep.equal(one);
  });

  it('give finishes to faces, with their records, once', () => {
    const { finishes: none, ...withoutFinishes } = start;
    expect(none).to.deep.equal([]);
    const [film, paint] = [SHELF_FINISHES[0], SHELF_FINISHES.find(({ id }) => id === 'white_paint')!];
    const all = after(
      withoutFinishes,
      (project) => addBody(project, sceneIn(project), 'box', null),
      (project) => setFinish(project, sceneIn(project), [{ part: 'box', faces: ['front', 'back'] }], film),
      (project) => setFinish(project, sceneIn(project), [{ part: 'box', faces: ['back'] }], paint),
      (project) => setFinish(project, sceneIn(project), [{ part: 'box', faces: ['front'] }], film),
    );
    expect(all.finishes?.map(({ id }) => id)).to.deep.equal([film.id, paint.id]);
    expect(sceneIn(all).parts[0].faces).to.deep.equal({
      front: { finish: film.id },
      back: { finish: paint.id },
    });
    const bare = after(all, (project) =>
      setFinish(project, sceneIn(project), [{ part: 'box', faces: ['front', 'back'] }], null),
    );
    expect(sceneIn(bare).parts[0].faces).to.equal(undefined);
  });

  it('make a scene for a project that has none, with its lenses placed', () => {
    const lens = { id: 'eye', name: 'Eye' };
    const bare = { ...start, scenes: undefined as never };
    const { project } = applyEdits(bare, addScene({ ...bare, lenses: [lens as never] }));
    expect(sceneIn(project).parts).to.deep.equal([{ id: 'eye', name: 'Eye', body: { kind: 'lens', lens: 'eye' } }]);
    expect(after(project, (now) => addLens(sceneIn(now), lens, null)).scenes![0].parts[1].id).to.equal('eye_2');
  });
});

describe('numbers of a scene', () => {
  const project = after(
    start,
    (now) => addBody(now, sceneIn(now), 'tube', null),
    (now) => addSource(sceneIn(now), 550),
    (now) => addDetector(sceneIn(now), null),
    (now) => setOf(sceneIn(now), 'parts', 'tube', 'pattern', { kind: 'ring', count: 3, radius: 50 }, 'ring'),
  );

  it('all have addresses, can be read and set', () => {
    const addresses = listParameters(project).map(({ address }) => address);
    for (const address of [
      'scenes.scene.parts.tube.body.inner',
      'scenes.scene.parts.tube.pattern.count',
      'scenes.scene.sources.source.flux',
      'scenes.scene.sources.source.law.half',
      'scenes.scene.detectors.detector.on.width',
      'scenes.scene.sampling.rays',
    ])
      expect(addresses).to.include(address);
    // A frame that is not there yet can be set all the same.
    const place = findParameter(project, 'scenes.scene.parts.tube.frame.dz');
    if (!place.ok) throw new Error(place.reason);
    expect(place.value.value).to.equal(0);
    const edit = setParameter(place.value, 7);
    if (!edit.ok) throw new Error(edit.reason);
    expect(sceneIn(applyEdits(project, [edit.value]).project).parts[0].frame).to.deep.equal({ dz: 7 });
  });

  it('refuse what cannot be', () => {
    const set = (address: string, value: number) => {
      const found = findParameter(project, address);
      return found.ok ? setParameter(found.value, value) : found;
    };
    expect(set('scenes.scene.parts.tube.body.inner', -1)).to.deep.include({ ok: false });
    expect(set('scenes.scene.sources.source.law.half', 91)).to.deep.include({ ok: false });
    expect(set('scenes.scene.parts.tube.pattern.count', 2.5)).to.deep.include({ ok: false });
    expect(set('scenes.scene.parts.nothing.body.inner', 1)).to.deep.include({ ok: false });
  });
});

describe('scenes in files', () => {
  const wrong = (change: (scene: Record<string, unknown>) => void) => {
    const copy = structuredClone(
      after(
        start,
        (now) => addBody(now, sceneIn(now), 'tube', null),
        (now) => addSource(sceneIn(now), 550),
      ),
    ) as unknown as { scenes: Record<string, unknown>[] };
    change(copy.scenes[0]);
    const read = readProject(copy);
    return read.ok ? [] : read.problems.map(({ place, reason }) => `${place}: ${reason}`);
  };
  const at = (scene: Record<string, unknown>, list: string) => (scene[list] as Record<string, never>[])[0];

  it('are told where they are wrong, and how', () => {
    expect(wrong((scene) => Object.assign(at(scene, 'parts').body, { inner: -1 }))).to.deep.equal([
      'scenes.scene.parts.tube.body.inner: must be above 0',
    ]);
    expect(wrong((scene) => Object.assign(at(scene, 'parts').body, { kind: 'blob' }))[0]).to.match(
      /body\.kind: must be one of/,
    );
    expect(wrong((scene) => Object.assign(at(scene, 'sources'), { light: [] }))[0]).to.match(/light: has no line/);
    expect(wrong((scene) => Object.assign(at(scene, 'sources'), { flux: -1 }))[0]).to.match(/flux: must be at least 0/);
    expect(wrong((scene) => Object.assign(at(scene, 'sources').law, { half: 120 }))[0]).to.match(
      /half: must be at most 90/,
    );
    expect(
      wrong((scene) =>
        Object.assign(scene, { sampling: { rays: 0, seed: 1, splitting: 'both', threshold: 2, events: 1 } }),
      ),
    ).to.have.length(3);
    expect(
      wrong((scene) => Object.assign(at(scene, 'parts'), { faces: { front: { finish: 'No Good' } } }))[0],
    ).to.match(/faces/);
  });

  it('are read where numbers make no sense together: the scene says so', () => {
    expect(wrong((scene) => Object.assign(at(scene, 'parts').body, { inner: 99 }))).to.deep.equal([]);
    const finishes = [{ id: 'f', name: 'F', optics: { kind: 'split', reflectance: 0.9, transmittance: 0.6 } }];
    expect(readProject({ ...start, finishes }).ok).to.equal(true);
  });
});
