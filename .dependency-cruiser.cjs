/** Who may import whom. Every rule has been seen to fire (see docs/architecture.md). */
const inside = (name, from, to, comment) => ({ name, severity: 'error', comment, from: { path: from }, to });
module.exports = {
  forbidden: [
    inside(
      'no-cycles',
      '^(core|contract|server|web|simulators|crew|e2e|bench)/',
      { circular: true },
      'A cycle hides who owns what; that holds for types, too.',
    ),
    inside(
      'core-is-pure',
      '^core/(?!.*\\.test\\.ts$)',
      {
        pathNot:
          '^core/|node_modules/(@date-fns/tz|date-fns|rrule-temporal|temporal-polyfill|earcut|clipper2-ts|d3-contour|d3-array|internmap|js-aruco2|jsqr|jstat)/',
      },
      'core knows only core, and packages that only compute.',
    ),
    inside(
      'contract-knows-core',
      '^contract/',
      { path: '^(server|web|simulators|crew|e2e|bench|scripts)/' },
      'What crosses a wire depends on nobody at its ends.',
    ),
    inside('server-not-web', '^server/', { path: '^(web|crew|e2e|bench)/' }, 'server imports contract and core.'),
    {
      name: 'server-not-stand-ins',
      severity: 'error',
      comment: 'What runs knows printers by the machine protocol alone; tests put both ends of it into one process.',
      from: { path: '^server/', pathNot: '(^server/testing/lockStep|\\.test)\\.ts$' },
      to: { path: '^simulators/' },
    },
    inside(
      'web-not-server',
      '^web/',
      { path: '^(server|simulators|crew|e2e|bench)/' },
      'web imports contract and core.',
    ),
    inside(
      'stand-ins-alone',
      '^simulators/',
      { path: '^(server|web|crew|e2e|bench)/|^contract/api/' },
      'Stand-ins speak contract/machine only.',
    ),
    inside(
      'crew-by-the-api',
      '^crew/',
      { path: '^(server|web|simulators|e2e|bench)/' },
      'The crew knows the contract, and computes with core.',
    ),
    inside(
      'e2e-black-box',
      '^e2e/',
      { path: '^(core|server|web|simulators|crew|bench)/' },
      'Browser tests see the product from outside.',
    ),
    inside(
      'bench-imported-by-none',
      '^(core|contract|server|web|simulators|crew|e2e)/',
      { path: '^bench/' },
      'bench may import all and is imported by none.',
    ),
    inside(
      'features-apart',
      '^web/features/([^/]+)/',
      { path: '^web/features/([^/]+)/', pathNot: '^web/features/$1/' },
      'Features never import each other.',
    ),
    inside('ui-knows-no-domain', '^web/ui/', { path: '^web/(?!ui/)|^contract/' }, 'ui is a kit.'),
    inside(
      'usecases-not-http',
      '^server/(usecases|db|ports)/',
      { path: '^server/(http|devices|ingest)/' },
      'http → use cases → ports and data.',
    ),
    inside(
      'shop-holds-ports',
      '^server/shop\\.ts$',
      { path: '^server/(http|devices|ingest|render|clock|files|work/(?!kinds))' },
      'Use cases are handed ports; main.ts joins them with what stands behind.',
    ),
    inside('ports-are-small', '^server/ports/', { path: '^server/(?!ports/)' }, 'A port knows no adapter.'),
    inside('main-joins', '^(?!server/main\\.ts)', { path: '^server/main\\.ts$' }, 'Only main.ts sees all.'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.css', '.json'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
    },
  },
};
