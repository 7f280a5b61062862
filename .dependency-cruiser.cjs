const rooms = ['core', 'door', 'contract', 'server', 'web', 'demo', 'e2e', 'bench', 'scripts'];

/** Who may enter which room; arrows point inward. */
const may = {
  core: [],
  contract: ['core'],
  door: ['core'],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  demo: ['core', 'contract'],
  e2e: ['contract'],
  bench: ['core', 'contract', 'server', 'web', 'demo', 'scripts'],
  scripts: ['core', 'contract', 'server', 'demo', 'bench', 'door'],
};

/**
 * The server's floors, each with what it may stand on. `features` is what people do, one folder a task; `threads` and
 * the files beside the folders put everything together.
 */
const floors = {
  platform: [],
  ledger: ['platform'],
  knowledge: ['platform', 'ledger'],
  migrations: [],
  store: ['platform', 'ledger', 'knowledge', 'migrations'],
  reckoning: ['platform', 'ledger', 'knowledge'],
  standings: ['platform', 'ledger', 'knowledge', 'reckoning'],
  lists: ['platform', 'ledger', 'knowledge', 'reckoning', 'standings'],
  sheets: [],
  spreadsheets: ['platform'],
  features: ['platform', 'ledger', 'knowledge', 'reckoning', 'standings', 'lists', 'sheets', 'spreadsheets'],
  threads: ['platform', 'ledger', 'knowledge', 'store', 'reckoning', 'standings', 'lists', 'sheets', 'features'],
};

/** Tests of the core, and what several of them use. */
const TESTS = ['\\.test\\.ts$', '/testing[a-z-]*\\.ts$'];

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-folder-cycles', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
    ...Object.entries(floors).map(([floor, below]) => ({
      name: `server-${floor}-stands-on-what-is-below`,
      severity: 'error',
      from: { path: `^server/src/${floor}/`, pathNot: '\\.test\\.ts$' },
      to: { path: '^server/src/', pathNot: `^server/src/(${[floor, ...below].join('|')})/` },
    })),
    ...rooms.map((room) => ({
      name: `${room}-stays-in-its-room`,
      severity: 'error',
      from: { path: `^${room}/` },
      to: { path: `^(${rooms.filter((other) => other !== room && !may[room].includes(other)).join('|')})/` },
    })),
    {
      name: 'features-do-not-know-each-other',
      severity: 'error',
      comment: 'Saving any list and taking any change back serve them all.',
      from: { path: '^server/src/features/(?!(?:csv|changes)/)([^/]+)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^server/src/features/', pathNot: '^server/src/features/$1/' },
    },
    {
      name: 'web-features-do-not-know-each-other',
      severity: 'error',
      comment: 'The shell is the frame around them.',
      from: { path: '^web/src/features/(?!shell/)([^/]+)/' },
      to: { path: '^web/src/features/', pathNot: '^web/src/features/$1/' },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'No interface, database, clock or network in the core.',
      from: { path: '^core/src/', pathNot: TESTS },
      to: { path: '^(node:|node_modules/)|^(fs|net|http|path|crypto)$', dependencyTypesNot: ['local'] },
    },
    {
      name: 'tests-alone-take-what-tests-use',
      severity: 'error',
      from: { path: '^core/src/', pathNot: TESTS },
      to: { path: TESTS },
    },
    {
      name: 'contract-takes-zod-alone',
      severity: 'error',
      from: { path: '^contract/src/', pathNot: '\\.test\\.ts$' },
      to: { path: 'node_modules/(?!zod/)' },
    },
    {
      name: 'strip-model-without-react',
      severity: 'error',
      from: { path: '^web/src/editors/[^/]+/model/' },
      to: { path: '(^web/src/(ui|api|features)/)|node_modules/react' },
    },
    {
      name: 'ui-knows-no-feature',
      severity: 'error',
      from: { path: '^web/src/ui/' },
      to: { path: '^web/src/(features|editors)/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.cjs', '.json'],
    },
  },
};
