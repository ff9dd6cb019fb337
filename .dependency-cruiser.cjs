/** The arrows of the house: who may know whom. Run by `npm run lint`. */

/** The rooms of core, lowest first: each may know those before it, none those after it. */
const ROOMS = [
  'math',
  'units',
  'fields',
  'findings',
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
  'strength',
  'sizing',
  'sketch',
  'checks',
  'formats',
];
const TESTS = '(\\.spec\\.ts$|/testing/)';
const upward = ROOMS.slice(0, -1).map((room, i) => ({
  name: `core-${room}-knows-nothing-above`,
  severity: 'error',
  from: { path: `^core/${room}/`, pathNot: TESTS },
  to: { path: `^core/(${ROOMS.slice(i + 1).join('|')})/` },
}));

/** Areas of the page that stand beside each other. */
const FEATURES = ['train-map', 'layout', 'sheet', 'deck', 'steps', 'start'];

module.exports = {
  forbidden: [
    { name: 'no-circular', comment: 'Two files that need each other are one.', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-folder-circles', scope: 'folder', severity: 'error', from: { path: '^core/' }, to: { circular: true } },
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
      from: { path: '^(web/src|server/src|contract|cli|e2e|scripts)/', pathNot: TESTS },
      to: { path: '^core/(?!engine\\.ts|(document|elements|fields|formats|math|units)/)' },
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
    ...FEATURES.map((area) => ({
      name: `page-${area}-stands-alone`,
      comment: 'Areas of the page do not import each other.',
      severity: 'error',
      from: { path: `^web/src/app/${area}/` },
      to: { path: `^web/src/app/(${FEATURES.filter((f) => f !== area).join('|')})/` },
    })),
    {
      name: 'services-know-no-area',
      comment: 'What all areas use knows none of them, nor the workbench.',
      severity: 'error',
      from: { path: '^web/src/app/(services|shared|keeping|session)/' },
      to: { path: `^web/src/app/(${[...FEATURES, 'workbench'].join('|')})/` },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['node_modules/(?!@unirota)', '/dist/', '\\.spec\\.ts$', '^core/testing/'] },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types'], extensions: ['.ts', '.mjs', '.js'] },
  },
};
