import {
  applyEdits,
  evaluateMeasure,
  Evaluation,
  findMeasure,
  JOBS,
  listParameters,
  projectText,
  readBackup,
  readMeasuresRequest,
  readMeshFile,
  readProject,
  readProjectText,
  readScanRequest,
  setByText,
  unkeepable,
  type Project,
} from '@ulvex/core';
import { formulaEvaluator, readRelationFormula, settle, type FormulaEvaluator } from '@ulvex/core/relations';
import { readFileSync } from 'node:fs';
import { mutated, mutatedText } from './mutate.ts';
import { Random } from './random.ts';

/** What became of one kind of cases. */
export interface Tally {
  readonly kind: string;
  cases: number;
  /** Of them, those that were read. */
  accepted: number;
  /** The longest one, ms of processor time. */
  slowest: number;
  /** What must not be: exceptions, what takes longer than `LONGEST`, what is accepted and cannot be read back. */
  readonly wrong: string[];
}

/** No case may take longer, ms of processor time. */
export const LONGEST = 5000;

const SAMPLES = ['tide-camera', 'ice-glass', 'sector-lantern', 'signal-lamp', 'sun-in-the-lens'];
const TABLES = {
  'index.csv': 'wavelength (nm), n, k\n400,1.53,2e-6\n500,1.52,1e-6\n600,1.515,1e-6\n',
  'glass.yml':
    'REFERENCES: "harbour workshop"\nDATA:\n  - type: formula 2\n    wavelength_range: 0.31 2.5\n    ' +
    'coefficients: 0 1.03961212 0.00600069867 0.231792344 0.0200179144 1.01046945 103.560653\n  - type: ' +
    'tabulated k\n    data: |\n      0.4 1e-8\n      0.7 1e-8\nCONDITIONS:\n  temperature: 22\n',
};
const PLATES = 'name,radius\nA1,12.5\nA2,-13\nB1,250\n';
const GRID = Array.from({ length: 49 }, (_, i) => `${(i % 7) - 3} ${Math.floor(i / 7) - 3} ${0.01 * (i % 5)}`).join(
  '\n',
);
const MESH =
  'solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 ' +
  '0\nendloop\nendfacet\nfacet normal 0 0 -1\nouter loop\nvertex 0 0 0\nvertex 0 1 0\nvertex 0 0 ' +
  '1\nendloop\nendfacet\nendsolid s\n';
const FORMULAS = [
  '-1 * lenses.tide.surfaces.l1_front.radius',
  '2mm + 3 * (lenses.tide.surfaces.l1_front.thickness - 0.5in)/2',
  'effective_focal_length * 1.02',
  'sqrt(abs(lenses.tide.surfaces.l2_back.radius/1mm)) * 1mm + max(1mm, 2mm)',
  'rms_spot_radius[worst] ^ 2 / 1µm',
];

/** Tries a case that has been made: `read` for one that is accepted, null for one that is refused. */
type Case = () => string | null;

/** Makes a case by random numbers. */
type Maker = (random: Random) => Case;

/** What cases are made from. */
interface Ground {
  readonly documents: readonly object[];
  readonly projects: readonly Project[];
  readonly evaluate: FormulaEvaluator;
}

/** The kinds of cases, each of which makes one. */
async function casesOf(): Promise<Readonly<Record<string, Maker>>> {
  const documents = SAMPLES.map((name) => JSON.parse(readFileSync(`samples/${name}.ulvex.json`, 'utf8')) as object);
  const projects = documents.map((document) => {
    const read = readProject(document);
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    return read.project;
  });
  const ground = { documents, projects, evaluate: await formulaEvaluator() };
  return { ...documentCases(ground), ...fileCases(ground), ...textCases(ground) };
}

/** A store with one project in it, which has a history of one entry. */
function backupOf(project: Project): object {
  const edit = (value: string) => ({ kind: 'set', path: 'notes', value });
  const entry = { parent: -1, label: 'a', time: 1, edits: [edit('n')], inverse: [edit('')] };
  const history = { entries: [entry], head: 0, redo: [] };
  const projects = [{ id: 'abcdef0123', savedAt: 1, tracked: { project, history } }];
  return { format: 'ulvex-store', version: 1, projects };
}

/** Projects and stores. */
function documentCases({ documents, projects, evaluate }: Ground): Readonly<Record<string, Maker>> {
  const texts = documents.map((document) => JSON.stringify(document));
  const backups = projects.map(backupOf);
  return {
    projects: (random) => {
      const text = JSON.stringify(mutated(random.of(documents), random).document);
      return () => read(readProjectText(text), evaluate, random);
    },
    'texts of projects': (random) => {
      const text = mutatedText(random.of(texts), random);
      return () => read(readProjectText(text), evaluate, random);
    },
    backups: (random) => {
      const text = JSON.stringify(mutated(random.of(backups), random).document);
      return () => {
        const found = readBackup(text);
        if (!found.ok) return null;
        // A project of a backup is read again when it is opened, one at a time: of hundreds, some are tried.
        for (const { tracked } of found.value.projects.slice(0, 12)) comesBack(tracked.project);
        return 'read';
      };
    },
  };
}

/** Files of tables, plates, sags and meshes. */
function fileCases({ projects: [tide] }: Ground): Readonly<Record<string, Maker>> {
  return {
    'index tables': (random) => {
      const [usual, full] = random.of(Object.entries(TABLES));
      const name = random.below(20) ? usual : mutatedText(usual, random);
      const text = mutatedText(full, random);
      return () => {
        const table = JOBS.material({ name, text });
        if (!table.ok) return null;
        comesBack({ ...tide, materials: [...tide.materials, { ...table.value, id: 'of_the_table' }] });
        return 'read';
      };
    },
    'plates and sags': (random) => {
      const [list, sags] = [mutatedText(PLATES, random), mutatedText(GRID, random)];
      return () => {
        const plates = JOBS.plateList({ text: list });
        const grid = JOBS.sagGrid(sags);
        if (plates.ok) comesBack({ ...tide, testPlates: { name: 'yard', plates: plates.value } });
        return plates.ok || grid.ok ? 'read' : null;
      };
    },
    meshes: (random) => {
      const bytes = random.below(2)
        ? new TextEncoder().encode(mutatedText(MESH, random))
        : Uint8Array.from({ length: random.below(400) }, (_, i) =>
            i < 80 ? 32 : i === 80 ? random.below(6) : random.below(256),
          );
      const name = random.of(['a.stl', 'a.obj', 'a.glb', 'a.txt']);
      return () => (readMeshFile(name, bytes).ok ? 'read' : null);
    },
  };
}

/** What is typed, and what other programs ask. */
function textCases({ projects, evaluate }: Ground): Readonly<Record<string, Maker>> {
  const [tide] = projects;
  return {
    formulas: (random) => {
      const text = mutatedText(random.of(FORMULAS), random);
      return () => {
        const formula = readRelationFormula(tide, text);
        if (!formula.ok) return null;
        const values = formula.value.names.map(({ target }) => ({
          value: 2,
          unit: target.kind === 'parameter' && target.parameter.spec.unit === 'mm' ? 'mm' : '',
        }));
        return evaluate(formula.value.expression, values).ok ? 'read' : null;
      };
    },
    'typed numbers': (random) => {
      const project = random.of(projects);
      const { address } = random.of(listParameters(project));
      const text = mutatedText(random.of(['12.5', '1in', '*1.02', '25.4/2', 'flat', '-3e-4 mm']), random);
      return () => {
        const next = setByText(project, address, text);
        if (!next.ok) return null;
        comesBack(next.value);
        return 'read';
      };
    },
    requests: (random) => {
      const request = {
        project: tide,
        measures: [{ measure: 'rms_spot_radius', lens: 'tide', settings: { field: 'worst' } }],
        set: { 'lenses.tide.surfaces.l1_front.radius': 13 },
        axes: [{ address: 'lenses.tide.surfaces.l1_front.radius', values: [13, 14] }],
      };
      const text = JSON.stringify(
        mutated(random.below(3) ? { ...request, project: { ...tide, lenses: tide.lenses } } : request, random).document,
      );
      return () => ([readMeasuresRequest(text), readScanRequest(text)].some(({ ok }) => ok) ? 'read' : null);
    },
  };
}

/** What is read must be written and read again, evaluate without an exception, and take typing. */
function read(found: ReturnType<typeof readProjectText>, evaluate: FormulaEvaluator, random: Random): string | null {
  if (!found.ok) {
    if (found.problems.length === 0 || found.problems.length > 20)
      throw new Error(`${found.problems.length} problems are told`);
    return null;
  }
  const { project } = found;
  comesBack(project);
  // What it costs is looked at elsewhere: here small ones are evaluated.
  const size = project.lenses.reduce(
    (sum, { surfaces, fields, wavelengths }) => sum + surfaces.length * fields.points.length * wavelengths.length,
    0,
  );
  if (size > 3000 || random.below(8) > 0) return 'read';
  const { project: settled, unfinished } = settle(project, evaluate, timeLimit());
  if (!unfinished) comesBack(settled);
  const evaluation = new Evaluation(settled);
  for (const measure of ['effective_focal_length', 'rms_spot_radius', 'distortion', 'total_length', 'findings'])
    for (const { id } of settled.lenses) {
      if (!findMeasure(measure)) throw new Error(`there is no measure ${measure}`);
      const value = evaluateMeasure(evaluation, { measure, lens: id, settings: {} });
      if (value.ok && !Number.isFinite(value.value.value)) throw new Error(`${measure} is ${value.value.value}`);
    }
  return 'read';
}

function timeLimit(): () => boolean {
  const from = performance.now();
  return () => performance.now() - from > 1000;
}

function comesBack(project: Project): void {
  const text = projectText(project);
  const again = readProjectText(text);
  if (!again.ok) throw new Error(`does not read back: ${again.problems[0].place}: ${again.problems[0].reason}`);
  if (projectText(again.project) !== text) throw new Error('reads back as something else');
  const [wrong] = unkeepable(project);
  if (wrong) throw new Error(`is not kept: ${wrong.place}: ${wrong.reason}`);
  const renamed = applyEdits(project, [{ kind: 'set', path: 'notes', value: 'x' }]);
  if (applyEdits(renamed.project, renamed.inverse).project.notes !== project.notes)
    throw new Error('an edit is not taken back');
}

/**
 * Tries so many cases of every kind; the same seed makes the same cases. Yields how it stands after each kind.
 *
 * @param weights - how many cases of a kind, as a share of `cases`; 1 for those not named
 */
export async function* fuzz(
  seed: number,
  cases: number,
  weights: Readonly<Record<string, number>> = {},
): AsyncGenerator<Tally> {
  for (const [kind, one] of Object.entries(await casesOf())) {
    const tally: Tally = { kind, cases: 0, accepted: 0, slowest: 0, wrong: [] };
    const count = Math.ceil(cases * (weights[kind] ?? 1));
    for (let i = 0; i < count; i++) {
      const tried = one(new Random(seed * 1_000_003 + i));
      const began = process.cpuUsage();
      try {
        if (tried() !== null) tally.accepted++;
      } catch (error) {
        tally.wrong.push(`case ${i}: ${(error as Error).stack?.split('\n').slice(0, 3).join(' | ')}`);
      }
      const { user, system } = process.cpuUsage(began);
      const took = (user + system) / 1000;
      if (took > LONGEST) tally.wrong.push(`case ${i}: ${took.toFixed(0)} ms`);
      tally.slowest = Math.max(tally.slowest, took);
      tally.cases++;
    }
    yield tally;
  }
}
