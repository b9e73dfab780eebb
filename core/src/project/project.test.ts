import { expect } from 'chai';
import fc from 'fast-check';
import { applyEdit, applyEdits, EditError, valueAt, type Edit } from './edit.ts';
import { projectOf, quickProject } from './fixtures.ts';
import { commit, EMPTY_HISTORY, redo, returnTo, undo, undoDepth, type History, type Tracked } from './history.ts';
import { historyForward, migrate } from './migrate.ts';
import type { Project, Surface } from './model.ts';
import { findParameter, listParameters, setParameter } from './parameters.ts';
import { textProblem } from './outline.ts';
import { projectText, readProject, readProjectText } from './read.ts';

const SURFACES = 'lenses.single.surfaces';

function surfaceIds(project: Project): string[] {
  return project.lenses[0].surfaces.map((surface) => surface.id);
}

function newSurface(id: string): Surface {
  return {
    id,
    shape: { kind: 'plane' },
    aperture: { kind: 'automatic' },
    after: { thickness: 1, material: 'air' },
  };
}

/** The first complaint about the test project after one value of its plain JSON was replaced. */
function complaint(path: (string | number)[], value: unknown): { place: string; reason: string } {
  const json = JSON.parse(projectText(projectOf())) as Record<string, unknown>;
  let here = json as Record<string | number, unknown>;
  for (const part of path.slice(0, -1)) here = here[part] as Record<string | number, unknown>;
  here[path.at(-1)!] = value;
  const read = readProject(json);
  if (read.ok) throw new Error(`accepted ${JSON.stringify(value)} at ${path.join('.')}`);
  return read.problems[0];
}

describe('edits', () => {
  it('sets, inserts, removes and moves, sharing what is untouched', () => {
    const project = projectOf();
    const set = applyEdit(project, {
      kind: 'set',
      path: `${SURFACES}.front.shape.radius`,
      value: 60,
    }).project;
    expect(valueAt(set, `${SURFACES}.front.shape.radius`)).to.equal(60);
    expect(set.lenses[0].surfaces[1]).to.equal(project.lenses[0].surfaces[1]);
    expect(set.materials).to.equal(project.materials);
    const inserted = applyEdit(set, {
      kind: 'insert',
      list: SURFACES,
      after: 'front',
      item: newSurface('cement'),
    }).project;
    expect(surfaceIds(inserted)).to.deep.equal(['front', 'cement', 'back', 'image']);
    const moved = applyEdit(inserted, { kind: 'move', list: SURFACES, id: 'cement', after: null }).project;
    expect(surfaceIds(moved)).to.deep.equal(['cement', 'front', 'back', 'image']);
    const removed = applyEdit(moved, { kind: 'remove', list: SURFACES, id: 'cement' }).project;
    expect(removed).to.deep.equal(set);
    expect(project).to.deep.equal(projectOf());
  });

  it('removes a key by setting it undefined, and gives it back', () => {
    const named = applyEdit(projectOf(), { kind: 'set', path: `${SURFACES}.front.name`, value: 'Window' });
    const cleared = applyEdit(named.project, {
      kind: 'set',
      path: `${SURFACES}.front.name`,
      value: undefined,
    });
    expect(Object.hasOwn(cleared.project.lenses[0].surfaces[0], 'name')).to.equal(false);
    expect(applyEdit(cleared.project, cleared.inverse).project).to.deep.equal(named.project);
    expect(applyEdit(named.project, named.inverse).project).to.deep.equal(projectOf());
  });

  it('refuses what does not exist', () => {
    const refused: Edit[] = [
      { kind: 'set', path: `${SURFACES}.ghost.shape.radius`, value: 1 },
      { kind: 'set', path: 'lenses.single.nothing.here', value: 1 },
      { kind: 'insert', list: SURFACES, after: 'front', item: newSurface('back') },
      { kind: 'insert', list: 'name', after: null, item: newSurface('x') },
      { kind: 'remove', list: SURFACES, id: 'ghost' },
      { kind: 'move', list: SURFACES, id: 'front', after: 'front' },
      { kind: 'set', path: `${SURFACES}.front`, value: newSurface('other') },
    ];
    for (const edit of refused) expect(() => applyEdit(projectOf(), edit), JSON.stringify(edit)).to.throw(EditError);
  });
});

describe('history', () => {
  const number = fc.double({ min: 1, max: 100, noNaN: true });
  /** A gesture that is legal in any state: it looks at the project it is given. */
  const gesture = fc.tuple(fc.constantFrom('set', 'insert', 'remove', 'move'), fc.nat(20), number);

  function editFor(project: Project, [kind, pick, value]: [string, number, number], serial: number): Edit {
    const ids = surfaceIds(project);
    const chosen = ids[pick % ids.length];
    switch (kind) {
      case 'insert':
        return { kind: 'insert', list: SURFACES, after: chosen, item: newSurface(`s${serial}`) };
      case 'remove':
        return { kind: 'remove', list: SURFACES, id: chosen };
      case 'move':
        return { kind: 'move', list: SURFACES, id: chosen, after: null };
      default:
        return { kind: 'set', path: `${SURFACES}.${chosen}.shape`, value: { kind: 'sphere', radius: value } };
    }
  }

  it('walks back and forth through any edits', () => {
    fc.assert(
      fc.property(fc.array(gesture, { maxLength: 30 }), (gestures) => {
        let tracked: Tracked = { project: projectOf(), history: EMPTY_HISTORY };
        const seen = [tracked.project];
        gestures.forEach((one, serial) => {
          if (surfaceIds(tracked.project).length === 0) return;
          tracked = commit(tracked, [editFor(tracked.project, one, serial)], one[0], serial);
          seen.push(tracked.project);
        });
        for (let i = seen.length - 2; i >= 0; i--) {
          tracked = undo(tracked);
          expect(tracked.project).to.deep.equal(seen[i]);
        }
        expect(undo(tracked)).to.equal(tracked);
        for (let i = 1; i < seen.length; i++) {
          tracked = redo(tracked);
          expect(tracked.project).to.deep.equal(seen[i]);
        }
        expect(redo(tracked)).to.equal(tracked);
      }),
    );
  });

  it('returns to any entry of the tree, across branches', () => {
    const path = `${SURFACES}.front.shape.radius`;
    const set = (tracked: Tracked, value: number) =>
      commit(tracked, [{ kind: 'set', path, value }], String(value), value);
    let tracked: Tracked = { project: projectOf(), history: EMPTY_HISTORY };
    const seen: Project[] = [];
    const go = (value: number) => {
      tracked = set(tracked, value);
      seen.push(tracked.project);
    };
    go(51);
    go(52);
    go(53);
    tracked = undo(undo(tracked));
    go(54); // a branch from 51
    go(55);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1, max: 4 }), { minLength: 1, maxLength: 12 }), (way) => {
        let at = tracked;
        for (const entry of way) {
          at = returnTo(at, entry);
          expect(at.project).to.deep.equal(entry < 0 ? projectOf() : seen[entry]);
          expect(at.history.head).to.equal(entry);
          expect(at.history.entries).to.equal(tracked.history.entries);
        }
      }),
    );
    // Straight back along one's own way, redo leads on again.
    const back = returnTo(tracked, 0);
    expect(redo(redo(back)).project).to.deep.equal(tracked.project);
    expect(() => returnTo(tracked, 5)).to.throw(RangeError);
  });

  it('keeps a branch that was left, and redoes only along the newest way', () => {
    const path = `${SURFACES}.front.shape.radius`;
    let tracked: Tracked = { project: projectOf(), history: EMPTY_HISTORY };
    tracked = commit(tracked, [{ kind: 'set', path, value: 51 }], 'a', 1);
    tracked = undo(tracked);
    tracked = commit(tracked, [{ kind: 'set', path, value: 52 }], 'b', 2);
    expect(redo(tracked)).to.equal(tracked);
    expect(tracked.history.entries.map((entry) => [entry.label, entry.parent])).to.deep.equal([
      ['a', -1],
      ['b', -1],
    ]);
    expect(undoDepth(tracked.history)).to.equal(1);
    expect(commit(tracked, [], 'nothing', 3)).to.equal(tracked);
  });
});

describe('parameters', () => {
  it('finds every number by its address and sets it through its path', () => {
    const project = projectOf();
    const all = listParameters(project);
    expect(all.length).to.be.greaterThan(8);
    for (const parameter of all) {
      const found = findParameter(project, parameter.address);
      expect(found).to.deep.equal({ ok: true, value: parameter });
      expect(parameter.value, parameter.address).to.not.be.NaN;
    }
    const radius = findParameter(project, `${SURFACES}.front.radius`);
    if (!radius.ok) throw new Error(radius.reason);
    const edit = setParameter(radius.value, Infinity);
    if (!edit.ok) throw new Error(edit.reason);
    const { project: flat } = applyEdits(project, [edit.value]);
    expect(flat.lenses[0].surfaces[0].shape).to.deep.equal({ kind: 'sphere', radius: 'infinity' });
    expect(readProject(flat).ok).to.equal(true);
  });

  it('refuses illegal values and unknown addresses in words', () => {
    const project = projectOf();
    const refusal = (address: string, value: number) => {
      const found = findParameter(project, address);
      const set = found.ok ? setParameter(found.value, value) : found;
      return set.ok ? 'accepted' : set.reason;
    };
    expect(refusal(`${SURFACES}.front.radius`, 0)).to.match(/must not be 0/);
    expect(refusal(`${SURFACES}.front.thickness`, Infinity)).to.match(/finite/);
    expect(refusal(`${SURFACES}.front.thickness`, NaN)).to.match(/must be a number/);
    expect(refusal('lenses.single.aperture.value', 0)).to.match(/above 0/);
    expect(refusal('lenses.single.fields.axis.y', 90)).to.match(/below 90/);
    expect(refusal('lenses.single.pupil.obscuration', -0.1)).to.match(/at least 0/);
    expect(refusal(`${SURFACES}.front.conic`, 1)).to.match(/no parameter lenses\.single\.surfaces\.front\.conic/);
    expect(refusal('rubbish', 1)).to.match(/no parameter rubbish/);
  });
});

describe('project files', () => {
  it('come back exactly, with unknown keys and every bit of a double', () => {
    const project = { ...projectOf(), future: { kept: [1, 2] }, notes: 'ångström “µm” 光' };
    const lens = { ...project.lenses[0], aperture: { ...project.lenses[0].aperture, value: 0.1 + 0.2 } };
    const read = readProjectText(projectText({ ...project, lenses: [lens] }));
    expect(read).to.deep.equal({ ok: true, project: { ...project, lenses: [lens] }, from: 3 });
  });

  it('are refused with place and reason', () => {
    const read = readProjectText('{\n  "format": oops }');
    if (read.ok) throw new Error('accepted');
    expect(read.problems[0].place).to.equal('line 2, column 13');
    expect(read.problems[0].reason).to.match(/not JSON/);
    expect(complaint(['format'], 'other').reason).to.match(/no Ulvex project/);
    expect(complaint(['version'], 99).reason).to.match(/version 99; this Ulvex reads up to 3/);
    expect(complaint(['version'], 0).reason).to.match(/version 0 cannot be read/);
    expect(complaint(['version'], '1').reason).to.match(/whole number/);
    expect(readProject([]).ok).to.equal(false);
    expect(readProject(null).ok).to.equal(false);
  });

  it('are refused for each broken value, which is named by ids', () => {
    const front = ['lenses', 0, 'surfaces', 0];
    const at = `${SURFACES}.front`;
    expect(complaint([...front, 'shape', 'radius'], 'round')).to.deep.equal({
      place: `${at}.shape.radius`,
      reason: 'must be a number or "infinity"',
    });
    expect(complaint([...front, 'shape', 'kind'], 'saddle').reason).to.match(/one of: plane, sphere, conic/);
    expect(complaint([...front, 'shape'], null).place).to.match(/^lenses\.single\.surfaces\.front\.shape/);
    expect(complaint([...front, 'after', 'thickness'], '4').place).to.equal(`${at}.after.thickness`);
    expect(complaint([...front, 'after', 'thickness'], null).reason).to.match(/number/);
    expect(complaint([...front, 'aperture'], { kind: 'circle', semi: -1 }).reason).to.equal('must be above 0');
    expect(complaint([...front, 'id'], '2nd').reason).to.match(/starts with a letter/);
    expect(complaint([...front, 'id'], 'back').reason).to.match(/same id|the id back/);
    expect(complaint([...front, 'after'], null).reason).to.match(/medium after it/);
    expect(complaint(['lenses', 0, 'surfaces'], []).reason).to.match(/no image surface/);
    expect(complaint(['lenses', 0, 'surfaces'], {}).reason).to.match(/must be a list/);
    expect(complaint(['lenses', 0, 'fields', 'points', 0, 'y'], 90).reason).to.equal('must be below 90°');
    expect(complaint(['lenses', 0, 'wavelengths', 0, 'nm'], -5).reason).to.equal('must be above 0');
    expect(complaint(['lenses', 0, 'object', 'distance'], 0).reason).to.equal('must be above 0');
    const table = (nm: unknown, n: unknown) =>
      complaint(['materials', 0, 'dispersion'], { kind: 'table', nm, n }).reason;
    expect(table([400, 500, 450], [1, 1, 1])).to.match(/rise/);
    expect(table([400, 500], [1.5, '1.6'])).to.match(/entry 2 must be a number above 0/);
    expect(table([400], [1, 2])).to.match(/same length/);
    const grid = (change: object) =>
      complaint(['lenses', 0, 'surfaces', 0, 'shape'], {
        kind: 'sampled_sag',
        radius: 'infinity',
        grid: { x: -1, y: -1, dx: 1, dy: 1, columns: 4, z: new Array<number>(16).fill(0), ...change },
      }).reason;
    expect(grid({ z: [0, 0, 0] })).to.match(/whole rows, at least 4/);
    expect(grid({ dx: 0 })).to.match(/above 0/);
    expect(grid({ z: [...new Array<number>(15).fill(0), null] })).to.match(/entry 16 must be a finite number/);
    expect(
      complaint(['lenses', 0, 'surfaces', 0, 'phase'], { kind: 'grating', lines: 300, order: 0.5 }).reason,
    ).to.match(/whole number/);
    expect(complaint(['surroundings'], { temperature: -500 }).reason).to.match(/−273/);
    expect(complaint(['materials', 0, 'dispersion'], { kind: 'sellmeier', b: [1], c: [] }).place).to.match(
      /^materials\./,
    );
    expect(complaint(['materials', 0, 'range'], [900, 400]).reason).to.match(/rise/);
    expect(complaint(['name'], 5).place).to.equal('name');
    const tile = { id: 't1', kind: 'spots', columns: 13, rows: 2, settings: {} };
    expect(complaint(['boards'], [{ id: 'b', name: 'B', tiles: [tile] }])).to.deep.equal({
      place: 'boards.b.tiles.t1.columns',
      reason: 'must be at most 12',
    });
  });

  it('never make the reader throw', () => {
    fc.assert(fc.property(fc.string(), (text) => void readProjectText(text)));
    fc.assert(fc.property(fc.jsonValue(), (json) => void readProject(json)));
    const base = JSON.parse(projectText(projectOf())) as Record<string, unknown>;
    fc.assert(
      fc.property(fc.constantFrom(...Object.keys(base)), fc.jsonValue(), (key, value) => {
        void readProject({ ...base, [key]: value });
        const lens = (base.lenses as Record<string, unknown>[])[0];
        void readProject({ ...base, lenses: [{ ...lens, [key]: value, surfaces: value }] });
      }),
    );
  });

  it('carry a lens without stop, wavelengths or fields: that is a finding, no broken file', () => {
    const lens = {
      ...projectOf().lenses[0],
      stop: null,
      primary: null,
      wavelengths: [],
      fields: { kind: 'angle', points: [] },
    };
    expect(readProject({ ...projectOf(), lenses: [lens] }).ok).to.equal(true);
  });
});

describe('a file of version 1', () => {
  const distortion = (settings: object, more: object = {}) => ({
    id: 'd',
    measure: 'distortion',
    settings,
    ...more,
  });
  const old = {
    ...projectOf(),
    version: 1,
    requirements: [
      { ...distortion({ field: 'axis' }), lens: 'lens' },
      { id: 'f', measure: 'effective_focal_length', lens: 'lens', settings: {} },
    ],
    goals: [{ ...distortion({ field: 'axis', law: 'f·θ' }), kind: 'measure', of: 'lens', weight: 1, target: 0 }],
    boards: [
      {
        id: 'board',
        name: 'Board',
        tiles: [
          { id: 'curves', kind: 'field_curves', columns: 6, rows: 4, settings: {} },
          {
            id: 'scan',
            kind: 'scan',
            columns: 6,
            rows: 4,
            settings: { measures: [{ measure: 'magnification', settings: {} }] },
          },
          { id: 'spots', kind: 'spots', columns: 6, rows: 4, settings: {} },
        ],
      },
    ],
  };

  it('says that distortion and magnification were meant of the paraxial image, wherever they are asked for', () => {
    const read = readProject(old);
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const { project } = read;
    expect(project.version).to.equal(3);
    expect(project.requirements.map(({ settings }) => settings)).to.deep.equal([
      { scale: 'paraxial image', field: 'axis' },
      {},
    ]);
    expect(project.goals![0]).to.have.deep.property('settings', {
      scale: 'paraxial image',
      field: 'axis',
      law: 'f·θ',
    });
    const [curves, scan, spots] = project.boards![0].tiles;
    expect(curves.settings).to.deep.equal({ scale: 'paraxial image' });
    expect(scan.settings).to.deep.equal({
      measures: [{ measure: 'magnification', settings: { scale: 'paraxial image' } }],
    });
    expect(spots.settings).to.deep.equal({});
    // A file of today is left as it is: there the surface in use is meant unless it says otherwise.
    const today = readProject({ ...old, version: 2 });
    expect(today.ok && today.project.requirements[0].settings).to.deep.equal({ field: 'axis' });
  });

  it('keeps its history, whose edits say so too', () => {
    const read = readProject(old);
    if (!read.ok) throw new Error('not read');
    const edits: Edit[] = [
      { kind: 'set', path: 'requirements.d.settings', value: { field: 'axis', law: 'f·θ' } },
      { kind: 'insert', list: 'goals', after: null, item: { ...distortion({ field: 'axis' }), id: 'e' } },
      { kind: 'set', path: 'name', value: 'distortion' },
    ];
    const history: History = {
      entries: [{ parent: -1, label: 'x', time: 1, edits, inverse: edits }],
      head: 0,
      redo: [],
    };
    const [entry] = historyForward(history, 1, read.project).entries;
    for (const forward of [entry.edits, entry.inverse]) {
      expect(forward[0]).to.have.deep.property('value', {
        scale: 'paraxial image',
        field: 'axis',
        law: 'f·θ',
      });
      expect(forward[1]).to.have.deep.nested.property('item.settings', {
        scale: 'paraxial image',
        field: 'axis',
      });
      expect(forward[2]).to.deep.equal(edits[2]);
    }
    expect(historyForward(history, 2, read.project).entries[0].edits).to.deep.equal(edits);
    expect(historyForward(history, 3, read.project)).to.equal(history);
  });
});

describe('A file of version 2', () => {
  const film = { index: 1.38, thickness: 100 };
  const finish = { id: 'film', name: 'film', optics: { kind: 'coating', layers: [film, { ...film, index: 2.1 }] } };
  const old = { ...quickProject([{ t: 3, n: 1.5 }, { t: 10 }]), version: 2, finishes: [finish] };

  it('gives the films of its coatings ids, and so addresses', () => {
    const read = readProject(old);
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const at = (address: string) => {
      const found = findParameter(read.project, `finishes.film.optics.layers.${address}`);
      return found.ok ? found.value.value : found.reason;
    };
    expect(at('f1.index')).to.equal(1.38);
    expect(at('f2.index')).to.equal(2.1);
    expect(at('f2.thickness')).to.equal(100);
  });

  it('keeps a history in which finishes came and went', () => {
    const edit: Edit = { kind: 'set', path: 'finishes', value: [finish] };
    const history: History = {
      entries: [{ parent: -1, label: 'x', time: 1, edits: [edit], inverse: [edit] }],
      head: 0,
      redo: [],
    };
    const [{ edits }] = historyForward(history, 2, { requirements: [] }).entries;
    expect(edits[0]).to.have.deep.nested.property('value[0].optics.layers[1].id', 'f2');
  });
});

describe('migrate', () => {
  it('applies the steps in order and stamps the version', () => {
    const steps = {
      3: (document: Record<string, unknown>) => ({ ...document, first: true }),
      4: (document: Record<string, unknown>) => ({ ...document, second: document.first }),
    };
    expect(migrate({ version: 3 }, 3, steps, 5)).to.deep.equal({
      ok: true,
      value: { version: 5, first: true, second: true },
    });
  });

  it('says which step is missing or failed', () => {
    const failing = {
      1: () => {
        throw new Error('no lenses');
      },
    };
    expect(migrate({}, 1, failing, 2)).to.deep.equal({
      ok: false,
      reason: 'bringing the file from version 1 to 2 failed: no lenses',
    });
    expect(migrate({}, 1, {}, 2)).to.deep.equal({
      ok: false,
      reason: 'files of version 1 cannot be read any more',
    });
  });
});

describe('texts that no parser should be given', () => {
  it('are known by depth and number of values, whatever stands in their words', () => {
    expect(textProblem(JSON.stringify({ a: ['[[[[', { b: '\\"[', c: null }] }))).to.equal(null);
    expect(textProblem('['.repeat(61))).to.match(/deeper than 60/);
    expect(textProblem(`"${'['.repeat(100)}"`)).to.equal(null);
    expect(textProblem(`"\\"${'['.repeat(100)}`), 'a quote that is none').to.equal(null);
    expect(textProblem('[[1],'.repeat(3) + '1', 2)).to.match(/more than 2 values/);
    expect(textProblem('not json')).to.equal(null);
    const read = readProjectText(`{"x":[${'[[[1]]],'.repeat(4_000_000)}1]}`);
    expect(!read.ok && read.problems).to.deep.equal([
      { place: 'file', reason: 'the file holds more than 2,000,000 values' },
    ]);
  });
});
