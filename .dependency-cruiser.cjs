/** Imports point one way: web -> contract, server -> contract + core, contract -> core, core -> nothing. */
module.exports = {
  forbidden: [
    {
      name: 'no-circle',
      comment:
        'What is loaded when it is wanted may lead back: a page holds cards, which open pages',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only', 'dynamic-import'] } },
    },
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^core/src' },
      to: {
        pathNot: ['^core/src', 'node_modules/(date-fns|@date-fns/tz|papaparse|@types/papaparse)'],
      },
    },
    {
      name: 'contract-knows-core-only',
      severity: 'error',
      from: { path: '^contract/src' },
      to: { pathNot: ['^contract/src', '^core/src', 'node_modules/zod'] },
    },
    {
      name: 'demo-stands-alone',
      severity: 'error',
      from: { path: '^demo/src' },
      to: { path: '^(core|contract|server|web|e2e|bench)/' },
    },
    {
      name: 'web-knows-contract-and-core',
      severity: 'error',
      from: { path: '^web/src' },
      to: { path: '^(server|demo|e2e|bench)/' },
    },
    {
      name: 'web-takes-types-of-the-contract',
      comment: 'Zod stays on the server',
      severity: 'error',
      from: { path: '^web/src' },
      to: { path: '^contract/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'server-knows-contract-and-core',
      severity: 'error',
      from: { path: '^server/src' },
      to: { path: '^(web|e2e|bench)/' },
    },
    {
      name: 'server-features-apart',
      severity: 'error',
      from: { path: '^server/src/features/([^/]+)/' },
      to: { path: '^server/src/features/', pathNot: '^server/src/features/$1/' },
    },
    {
      name: 'domain-below-features',
      severity: 'error',
      from: { path: '^server/src/(domain|platform|db)/' },
      to: { path: '^server/src/features/' },
    },
    {
      name: 'sql-in-queries-and-domain',
      comment:
        'What a feature asks the database is in its queries.ts; what several ask is in domain',
      severity: 'error',
      from: { path: '^server/src/features/', pathNot: '/queries\\.ts$' },
      to: { path: '^server/src/db/schema/|node_modules/drizzle-orm' },
    },
    {
      name: 'platform-below-domain',
      comment: 'Platform knows nothing of handouts; the sample school is made of them',
      severity: 'error',
      from: { path: '^server/src/(platform|db)/', pathNot: '^server/src/db/sample-school' },
      to: { path: '^server/src/domain/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'db-below-platform',
      severity: 'error',
      from: { path: '^server/src/db/', pathNot: '^server/src/db/(seed|sample-school)' },
      to: { path: '^server/src/(platform|domain)/' },
    },
    {
      name: 'web-parts-stand-alone',
      severity: 'error',
      from: { path: '^web/src/ui/' },
      to: { path: '^web/src/(app|features)/' },
    },
    {
      name: 'web-features-apart',
      severity: 'error',
      from: { path: '^web/src/features/([^/]+)/' },
      to: { path: '^web/src/features/', pathNot: '^web/src/features/$1/' },
    },
    {
      name: 'no-unknown',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: '\\?url$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^[a-z]+/(dist|node_modules)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'node', 'default'],
      extensions: ['.ts', '.js', '.mjs', '.vue', '.json'],
    },
  },
};
