/** One direction of imports: core → contract → server, web. No cycles. */
const from = (path, to, name, comment) => ({ name, severity: 'error', comment, from: { path }, to: { path: to } });

/** Folders of the core, lowest level first: none imports from a level above its own. */
const LEVELS = [
  ['errors', 'units', 'numeric'],
  ['statistics', 'signal'],
  ['physics', 'battery', 'logs'],
  ['analysis'],
  ['bench', 'compare', 'courses', 'logger', 'ride-model'],
  ['planning', 'ride'],
];
function coreLevels() {
  return LEVELS.slice(0, -1).map((folders, level) => ({
    name: `core-level-${level + 1}`,
    severity: 'error',
    comment: `${folders.join(', ')}: below ${LEVELS[level + 1].join(', ')}.`,
    from: { path: `^packages/core/src/(${folders.join('|')})/`, pathNot: '\\.test\\.ts$' },
    to: {
      path: `^packages/core/src/(${LEVELS.slice(level + 1)
        .flat()
        .join('|')})/`,
    },
  }));
}

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-orphan-imports', severity: 'error', from: {}, to: { couldNotResolve: true } },
    from('^packages/core', '^(packages/contract|apps)/', 'core-is-alone', 'The core imports nothing of the rest.'),
    from(
      '^packages/contract',
      '^apps/',
      'contract-below-apps',
      'The contract is shared by server and web, not the other way.',
    ),
    from('^apps/web', '^apps/server', 'web-not-server', 'Web and server meet in the contract only.'),
    from('^apps/server', '^apps/web', 'server-not-web', 'Web and server meet in the contract only.'),
    {
      name: 'core-no-node',
      severity: 'error',
      comment: 'The core is free of I/O.',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    ...coreLevels(),
  ],
  options: {
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['source', 'import', 'require', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.cjs', '.json'],
    },
  },
};
