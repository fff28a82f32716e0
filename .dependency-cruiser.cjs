/** Imports run one way: app, worker -> services -> core, db, gateways; core imports nothing above it. */
// Database tests make their rows with the services above what they test.
const up = (name, from, to, comment) => ({
  name,
  severity: 'error',
  comment,
  from: { path: from, pathNot: '\\.db\\.test\\.ts$' },
  to: { path: to },
});

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    up('core-is-pure', '^src/core', '^src/(?!core)', 'Core imports nothing of ours but core.'),
    {
      name: 'core-has-no-io',
      severity: 'error',
      from: { path: '^src/core', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'], pathNot: '^(node:)?crypto$' },
    },
    up(
      'db-knows-core-only',
      '^src/db',
      '^src/(services|gateways|standins|worker|app|ui)',
      'Arrows run downward.',
    ),
    up(
      'gateways-know-core-only',
      '^src/gateways',
      '^src/(services|db|standins|worker|app|ui)',
      'Arrows run downward.',
    ),
    up('standins-share-nothing', '^src/standins', '^src/(?!standins)', 'The outside world has its own code.'),
    up('services-do-not-rise', '^src/services', '^src/(standins|worker|app|ui)', 'Arrows run downward.'),
    up('worker-is-not-web', '^src/worker', '^src/(standins|app|ui)', 'Arrows run downward.'),
    up(
      'ui-does-not-fetch',
      '^src/ui',
      '^src/(db|services|gateways|standins|worker|app)',
      'Components get data as props.',
    ),
    up(
      'app-goes-through-services',
      '^src/app',
      '^src/(db|gateways|standins|worker)',
      'Routes call services.',
    ),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(\\.next|dist)/' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
  },
};
