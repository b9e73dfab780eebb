/**
 * Imports inside the core go one way: a folder may use the ranks below its own, and its own files. App, verification and
 * interface tests use the core through its front door only. ARCHITECTURE.md draws the arrows.
 */
const RANKS = [
  ['math'],
  ['compute'],
  ['light', 'materials', 'finishes'],
  ['shapes', 'phases', 'apertures'],
  ['bodies'],
  ['project'],
  ['sequence'],
  ['scene'],
  ['imaging'],
  ['measures'],
  ['analyses'],
  ['ask'],
  ['relations', 'operations'],
  ['improve', 'tolerance'],
  ['formats'],
  ['work'],
];

function rankOf(path) {
  const folder = /core\/src\/([^/]+)\//.exec(path)?.[1];
  if (folder === undefined) return null;
  const rank = RANKS.findIndex((folders) => folders.includes(folder));
  return { folder, rank };
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
    const here = rankOf(file);
    const inCore = file.includes('/core/src/');

    function check(node) {
      const source = node.source?.value;
      if (typeof source !== 'string') return;
      if (!inCore) {
        if (/@ulvex\/core\/(?!(?:relations|operations|improve)$)|(^|\/)core\/src\//.test(source))
          context.report({ node, messageId: 'inside' });
        return;
      }
      if (source.startsWith('@ulvex/') || source.startsWith('$lib')) context.report({ node, messageId: 'leaving' });
      if (!source.startsWith('.')) return;
      const target = new URL(source, `file://${file}`).pathname;
      if (!target.includes('/core/src/')) {
        context.report({ node, messageId: 'leaving' });
        return;
      }
      if (!here) return; // core/src/index.ts opens the front door
      if (here.rank < 0) {
        context.report({ node, messageId: 'unranked', data: { from: here.folder } });
        return;
      }
      const there = rankOf(target);
      if (there && there.rank > here.rank) {
        context.report({ node, messageId: 'upward', data: { from: here.folder, to: there.folder } });
      }
    }

    return {
      ImportDeclaration: check,
      ExportNamedDeclaration: check,
      ExportAllDeclaration: check,
      ImportExpression: check,
    };
  },
};
