/** One direction of imports: core → contract → server, web. No cycles. */
const from = (path, to, name, comment) => ({ name, severity: 'error', comment, from: { path }, to: { path: to } });
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
    {
      name: 'core-levels',
      severity: 'error',
      comment: 'units, errors → numeric → statistics, signal → physics and the rest.',
      from: { path: '^packages/core/src/(units|errors|numeric)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^packages/core/src/(statistics|signal|physics|logs|analysis|compare|ride-model|battery)/' },
    },
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
