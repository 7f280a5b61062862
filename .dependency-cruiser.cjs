const rooms = ['core', 'contract', 'server', 'web', 'demo', 'e2e', 'bench', 'scripts'];

/** Who may enter which room; arrows point inward. */
const may = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  demo: ['core', 'contract'],
  e2e: ['contract'],
  bench: ['core', 'contract', 'server', 'demo', 'scripts'],
  scripts: ['core', 'contract', 'server', 'demo', 'bench'],
};

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    ...rooms.map((room) => ({
      name: `${room}-stays-in-its-room`,
      severity: 'error',
      from: { path: `^${room}/` },
      to: { path: `^(${rooms.filter((other) => other !== room && !may[room].includes(other)).join('|')})/` },
    })),
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'No interface, database, clock or network in the core.',
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(node:|node_modules/)|^(fs|net|http|path|crypto)$', dependencyTypesNot: ['local'] },
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
