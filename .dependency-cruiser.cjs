/** The arrows of the house: who may know whom. Run by `npm run lint`. */

/** The rooms of core, lowest first: each may know those before it, none those after it. */
const ROOMS = [
  'math',
  'fits',
  'units',
  'fields',
  'findings',
  'solids',
  'shapes',
  'teeth',
  'cams',
  'elements',
  'interference',
  'joints',
  'couplings',
  'loads',
  'document',
  'kinematics',
  'forces',
  'motion',
  'assembly',
  'edits',
  'strength',
  'sizing',
  'sketch',
  'map',
  'checks',
  'search',
  'rating',
  'vibration',
  'tables',
  'drawing',
  'report',
  'formats',
];
const TESTS = '(\\.spec\\.ts$|/testing/)';
const upward = ROOMS.slice(0, -1).map((room, i) => ({
  name: `core-${room}-knows-nothing-above`,
  severity: 'error',
  from: { path: `^core/${room}/`, pathNot: TESTS },
  to: { path: `^core/(${ROOMS.slice(i + 1).join('|')})/` },
}));

/** Floors of the page, lowest first: what is drawn in space, workers, state, controls, features, the shell that joins them. */
const FLOORS = ['scene', 'engine', 'state', 'ui', 'features', 'shell'];
/** Floors of the server, lowest first. Designs have their documents checked by jobs, so jobs stand below them. */
const SERVER = ['database', 'jobs', 'accounts', 'designs', 'strength', 'stand-ins', 'http'];
/** Features of the page stand beside each other. */
const FEATURES = ['map', 'layout', 'shapes', 'sheet', 'deck', 'steps', 'guide', 'start', 'keeping', 'session', 'remarks'];
const above = (base, order) =>
  order.slice(0, -1).map((room, i) => ({
    name: `${base.split('/')[0]}-${room}-knows-nothing-above`,
    severity: 'error',
    from: { path: `^${base}/${room}/`, pathNot: TESTS },
    to: { path: `^${base}/(${order.slice(i + 1).join('|')})/` },
  }));

module.exports = {
  forbidden: [
    { name: 'no-circular', comment: 'Two files that need each other are one.', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-folder-circles', scope: 'folder', severity: 'error', from: { path: '^(core|web/src|server/src)/' }, to: { circular: true } },
    ...upward,
    {
      name: 'formats-are-known-by-nobody',
      comment: 'A format of files is for the programs at the edge.',
      severity: 'error',
      from: { path: '^core/', pathNot: ['^core/formats/', TESTS] },
      to: { path: '^core/formats/' },
    },
    {
      name: 'core-runs-anywhere',
      comment: 'No interface and no Node in the computation; the command line and tests read files.',
      severity: 'error',
      from: { path: '^core/', pathNot: TESTS },
      to: { path: '^(contract|server|web)/|node_modules/(express|mysql2|three|@angular|rxjs|d3-[a-z]+)/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'nobody-reaches-past-the-engine',
      comment: 'Page, server, contract and command line call core/engine.ts; only what a thing is stands open beside it.',
      severity: 'error',
      from: { path: '^(web/src|server/src|contract|cli|solids|e2e|scripts)/', pathNot: TESTS },
      to: { path: '^core/(?!engine\\.ts|(assembly|document|elements|fields|formats|math|shapes|solids|units)/)' },
    },
    { name: 'core-knows-no-facade', severity: 'error', from: { path: '^core/', pathNot: TESTS }, to: { path: '^(core/engine\\.ts|cli/)' } },
    { name: 'core-without-node', severity: 'error', from: { path: '^core/', pathNot: TESTS }, to: { dependencyTypes: ['core'] } },
    { name: 'contract-between', severity: 'error', from: { path: '^contract/' }, to: { path: '^(server|web)/|node_modules/(express|@angular)/' } },
    { name: 'server-knows-no-page', severity: 'error', from: { path: '^server/src/' }, to: { path: '^web/|node_modules/(@angular|three)/' } },
    {
      name: 'page-knows-no-server',
      severity: 'error',
      from: { path: '^web/src/', pathNot: TESTS },
      to: { path: '^server/|node_modules/(express|mysql2)/' },
    },
    ...above('web/src/app', FLOORS),
    ...above('server/src', SERVER),
    {
      name: 'server-base-knows-no-floor',
      comment: 'Refusals, settings and queues stand below all floors.',
      severity: 'error',
      from: { path: '^server/src/(refusal|config|issuers|loopback|fair-queue)\\.ts$' },
      to: { path: `^server/src/(${SERVER.join('|')})/` },
    },
    ...FEATURES.map((area) => ({
      name: `page-${area}-stands-alone`,
      comment: 'Features of the page do not import each other.',
      severity: 'error',
      from: { path: `^web/src/app/features/${area}/` },
      to: { path: `^web/src/app/features/(${FEATURES.filter((f) => f !== area).join('|')})/` },
    })),
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['node_modules/(?!@unirota)', '/dist/', '\\.spec\\.ts$', '^core/testing/'] },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types'], extensions: ['.ts', '.mjs', '.js'] },
  },
};
