/** Import direction between the folders, and no cycles anywhere. The linter says it in the editor, this proves it. */
const outside = (from, to, comment) => ({
  name: `${from}-not-${to}`,
  severity: 'error',
  comment,
  from: { path: `^${from}/`, pathNot: '(\\.test\\.ts$|/testing/)' },
  to: { path: `^(${to})/` },
});

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, dependencyTypesNot: ['type-only'] } },
    {
      name: 'resolvable',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: '^(bun|node):|\\?url$' },
    },
    outside('core', 'api|server|web|cli|demo|bench|e2e|runtime|print', 'core stands alone'),
    outside('api', 'server|web|cli|demo|bench|e2e|runtime|print', 'the border knows core only'),
    outside('print', 'api|server|web|cli|demo|bench|e2e|runtime', 'printing knows core only'),
    outside('runtime', 'api|server|web|cli|demo|bench|e2e', 'loading the kernel knows core only'),
    outside('server', 'web|cli|demo|bench|e2e', 'the server knows neither page nor demo'),
    outside('web', 'server|cli|demo|bench|e2e|runtime|print', 'the page reaches the server over its API'),
    outside('cli', 'server|web|demo|bench|e2e|api', 'the command line uses the core directly'),
    {
      name: 'public-face',
      severity: 'error',
      comment: 'another folder is imported by its index.ts',
      from: { path: '^(core|server|web|demo)/([^/]+)/' },
      to: {
        path: '^(core|server|web|demo)/[^/]+/',
        pathNot: ['/index\\.ts$', '^$1/$2/', '\\.json$', '^server/testing/', '/testing\\.ts$'],
      },
    },
    {
      name: 'testing-in-tests-only',
      severity: 'error',
      comment: 'what helps tests is no part of the product',
      from: { pathNot: '(\\.test\\.ts$|/testing\\.ts$|/testing/)' },
      to: { path: '(/testing\\.ts$|/testing/)' },
    },
    {
      name: 'kernel-behind-one-face',
      severity: 'error',
      from: { pathNot: '^(core/kernel|runtime)/|^web/workshop/kernel\\.ts$' },
      to: { path: 'node_modules/replicad' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.mjs', '.js', '.json'],
    },
  },
};
