/**
 * Imports go one way, in the core and in the application: a folder may use those of the ranks before its own, those of its own rank,
 * and its own files. The application, verification and interface tests use the core through its front door. ARCHITECTURE.md draws the
 * arrows.
 */
const CORE = [
  ['physics'],
  ['math'],
  ['compute'],
  ['light', 'materials', 'finishes'],
  ['shapes', 'phases', 'apertures'],
  ['bodies'],
  ['emission', 'detectors'],
  ['project'],
  ['sequence'],
  ['scene'],
  ['imaging/evaluation'],
  ['imaging/field'],
  ['imaging/wavefront'],
  ['imaging/point'],
  ['imaging/transmission'],
  ['imaging/section'],
  ['tolerances'],
  ['measures'],
  ['analyses'],
  ['ask'],
  ['relations', 'operations'],
  ['improve', 'tolerance'],
  ['formats'],
  ['work'],
];

/** Folders of app/src/lib; `lib` are the files beside them. */
const APP = [
  ['lib'],
  ['compute', 'keeping', 'server'],
  ['desk'],
  ['components'],
  ['drawing', 'plots'],
  ['files', 'parameters'],
  ['states', 'surface'],
  ['tiles'],
  ['scene', 'operations'],
  ['study', 'prescription', 'shelf', 'improve', 'tolerance'],
  ['requirements'],
  ['brief', 'ask'],
  ['shell'],
  ['routes'],
];

const rankIn = (ranks, folder) => ({ folder, rank: ranks.findIndex((folders) => folders.includes(folder)) });

/** The folder of a file of the core, and its rank; null for one that stands beside the folders or elsewhere. `imaging` has folders of its own. */
function coreRank(path) {
  const folder = /core\/src\/(imaging\/[^/]+|[^/]+)\//.exec(path)?.[1];
  return folder === undefined ? null : rankIn(CORE, folder);
}

/** The same in the application. */
function appRank(path) {
  const rest = /app\/src\/(routes|lib)\/(.*)$/.exec(path);
  if (!rest) return null;
  const [, top, below] = rest;
  return rankIn(APP, top === 'routes' ? 'routes' : below.includes('/') ? below.split('/')[0] : 'lib');
}

/** @type {import('eslint').Rule.RuleModule} */
export default {
  meta: {
    type: 'problem',
    schema: [],
    messages: {
      upward: '{{from}} lies below {{to}}: imports go one way (see ARCHITECTURE.md).',
      unranked: 'The folder {{from}} has no rank: give it one in eslint/one-way-imports.js.',
      leaving: 'The core imports nothing from outside itself but packages.',
      inside: 'Use the core through “@ulvex/core” or one of its doors, not its files.',
    },
  },
  create(context) {
    const file = context.filename.replaceAll('\\', '/');
    const inCore = file.includes('/core/src/');
    const here = inCore ? coreRank(file) : appRank(file);

    /** Reports an import of `target` when it goes upward. */
    function compare(node, target, rankOf) {
      if (!here) return; // such as core/src/index.ts, which opens the front door
      if (here.rank < 0) {
        context.report({ node, messageId: 'unranked', data: { from: here.folder } });
        return;
      }
      const there = rankOf(target);
      if (there && there.rank > here.rank)
        context.report({ node, messageId: 'upward', data: { from: here.folder, to: there.folder } });
    }

    function checkOutside(node, source) {
      if (/@ulvex\/core\/(?!(?:relations|operations|improve|tolerance)$)|(^|\/)core\/src\//.test(source)) {
        context.report({ node, messageId: 'inside' });
        return;
      }
      if (source.startsWith('$lib/')) compare(node, `app/src/lib/${source.slice('$lib/'.length)}`, appRank);
      else if (source.startsWith('.')) compare(node, new URL(source, `file://${file}`).pathname, appRank);
    }

    function checkInside(node, source) {
      if (source.startsWith('@ulvex/') || source.startsWith('$lib')) context.report({ node, messageId: 'leaving' });
      if (!source.startsWith('.')) return;
      const target = new URL(source, `file://${file}`).pathname;
      if (target.includes('/core/src/')) compare(node, target, coreRank);
      else context.report({ node, messageId: 'leaving' });
    }

    function check(node) {
      const source = node.source?.value;
      if (typeof source !== 'string') return;
      if (inCore) checkInside(node, source);
      else checkOutside(node, source);
    }

    return {
      ImportDeclaration: check,
      ExportNamedDeclaration: check,
      ExportAllDeclaration: check,
      ImportExpression: check,
    };
  },
};
