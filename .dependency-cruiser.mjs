/** What each folder of src may import besides itself (docs/architecture.md): one row a layer, nothing else is allowed. */
const MAY_IMPORT = {
  core: [],
  demo: ['core'],
  engine: ['core'],
  contract: ['core'],
  picture: ['core', 'contract'],
  worker: ['core', 'contract', 'picture'],
  server: ['core', 'contract'],
  ui: ['core', 'contract', 'engine', 'worker', 'picture'],
  app: ['core', 'contract', 'server', 'ui'],
  cli: ['core', 'contract', 'server', 'demo'],
};

/** Packages that a layer must do without. */
const MAY_NOT_USE = {
  core: '^(react|next|better-sqlite3)$',
  ui: '^better-sqlite3$',
};

const layers = Object.entries(MAY_IMPORT).map(([layer, others]) => ({
  name: `${layer}-imports-only`,
  comment: `${layer} may import ${[...others, 'itself'].join(', ')}`,
  severity: 'error',
  from: { path: `^src/${layer}/` },
  to: { path: '^src/', pathNot: `^src/(${[layer, ...others].join('|')})/` },
}));

const packages = Object.entries(MAY_NOT_USE).map(([layer, names]) => ({
  name: `${layer}-does-without`,
  comment: `${layer} runs where these are not`,
  severity: 'error',
  from: { path: `^src/${layer}/` },
  to: { path: names.replace('^(', '^node_modules/(').replace('^better', '^node_modules/better').replace('$', '/') },
}));

export default {
  forbidden: [
    ...layers,
    ...packages,
    {
      name: 'no-node-in-the-page',
      comment: 'core and ui run in the browser as well',
      severity: 'error',
      from: { path: '^src/(core|ui|engine|worker|picture)/' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'no-circle-of-files',
      comment: 'files that import each other cannot be understood one by one',
      severity: 'error',
      from: { path: '^src/' },
      to: { circular: true },
    },
    {
      name: 'no-circle-of-core-folders',
      comment: 'each folder of the core stands on those before it: hit does not know of kit, recording not of hit',
      severity: 'error',
      scope: 'folder',
      from: { path: '^src/core/[^/]+$' },
      to: { circular: true },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    // Tests may look at anything.
    exclude: { path: '\\.(css|sql|grit)$|\\.test\\.tsx?$' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.mjs', '.js'] },
  },
};
