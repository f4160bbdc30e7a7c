/** One direction of imports: core → contract → server, web. No cycles. */
const from = (path, to, name, comment) => ({ name, severity: 'error', comment, from: { path }, to: { path: to } });

/** Folders of the core, lowest level first: none imports from a level above its own. */
const LEVELS = [
  ['errors', 'units', 'numeric'],
  ['statistics', 'signal'],
  ['physics', 'battery', 'logs', 'track'],
  ['analysis'],
  ['bench', 'compare', 'costs', 'courses', 'life', 'logger', 'ride-model'],
  ['decision', 'planning', 'ride'],
  ['forecast'],
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

const WEB = '^apps/web/src';
/** Steps and tabs that stand in a page of another feature. */
const PAGE_PARTS = 'fitting|plans|stand';
/** The web's rooms, dynamic imports included: app → features → entities → shared. Tests stand outside. */
const notATest = '\\.test\\.tsx?$';
const webLevels = [
  ['shared', 'entities|features|app', 'Shared things know nothing of bikes.'],
  ['entities', 'features|app', 'Entities are what features are made of.'],
  ['features', 'app', 'The app puts the features together.'],
].map(([room, above, comment]) => ({
  name: `web-${room}`,
  severity: 'error',
  comment,
  from: { path: `${WEB}/${room}/`, pathNot: notATest },
  to: { path: `${WEB}/(${above})/` },
}));
const along = [
  {
    name: 'web-along-light',
    severity: 'error',
    comment: 'The phone’s app is loaded whole onto a phone: shared things and looks, none of the pages.',
    from: { path: `${WEB}/along/`, pathNot: notATest },
    to: { path: `${WEB}/(entities|features|app)/`, pathNot: '\\.css$' },
  },
  {
    name: 'web-pages-not-along',
    severity: 'error',
    comment: 'The pages know nothing of the phone’s app but its address.',
    from: { path: `${WEB}/(shared|entities|features|app)/` },
    to: { path: `${WEB}/along/` },
  },
];
const featuresApart = [
  {
    name: 'web-features-apart',
    severity: 'error',
    comment: 'A feature imports no other, but for the parts that stand in its pages. What two need is an entity.',
    from: { path: `${WEB}/features/([^/]+)/`, pathNot: notATest },
    to: { path: `${WEB}/features/`, pathNot: `${WEB}/features/($1|${PAGE_PARTS})/` },
  },
  {
    name: 'web-page-parts-apart',
    severity: 'error',
    comment: 'Parts of pages stand below the pages.',
    from: { path: `${WEB}/features/(${PAGE_PARTS})/`, pathNot: notATest },
    to: { path: `${WEB}/features/`, pathNot: `${WEB}/features/$1/` },
  },
];

const roomsByIndex = {
  name: 'web-rooms-by-index',
  severity: 'error',
  comment: 'A room reaches another through its index.ts only.',
  from: { path: `${WEB}/(entities|features)/([^/]+)/` },
  to: {
    path: `${WEB}/((entities|features)/[^/]+|shared/(charts|preferences|shortcuts))/`,
    pathNot: [`${WEB}/$1/$2/`, '/index\\.ts$'],
    // A part that is loaded when it is needed would bring all of its room along.
    dynamic: false,
  },
};

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
      from: { path: '^packages/core/src', pathNot: '(\\.test\\.ts$|/testing/)' },
      to: { dependencyTypes: ['core'] },
    },
    ...coreLevels(),
    ...webLevels,
    ...along,
    ...featuresApart,
    roomsByIndex,
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
