// Imports run one way: app, worker, web -> services -> core, db, gateways; core imports nothing above it.
const ROOM = '^src/(services|db|ui)/([^/.]+)/';
// Database tests make their rows with the services above what they test, and reach the bench's mailboxes.
const up = (name, path, to) => ({
  name: `arrows run downward: ${name}`,
  severity: 'error',
  from: { path, pathNot: ['\\.db\\.test\\.ts$', '/testing/'] },
  to: { path: to },
});

module.exports = {
  forbidden: [
    { name: 'no circles between files', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'what lies deeper in a room is its own',
      severity: 'error',
      from: { path: '^src/(app|worker|web|commands|demo|[^/]+$)', pathNot: '\\.test\\.tsx?$' },
      to: { path: `${ROOM}[^/]+/`, pathNot: '/testing/' },
    },
    {
      name: 'what lies deeper in a room is its own (room to room)',
      severity: 'error',
      from: { path: ROOM, pathNot: '\\.test\\.tsx?$' },
      to: { path: `${ROOM}[^/]+/`, pathNot: ['^src/$1/$2/', '/testing/'] },
    },
    {
      name: 'core has no input or output',
      severity: 'error',
      from: { path: '^src/core', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'], pathNot: '^(node:)?crypto$' },
    },
    up('core', '^src/core', '^src/(?!core)'),
    up('db', '^src/db', '^src/(?!core|db)'),
    up('gateways', '^src/gateways', '^src/(?!core|gateways|log)'),
    up('the outside world shares nothing', '^src/standins', '^src/(?!standins)'),
    up('services', '^src/services', '^src/(standins|worker|web|app|ui)'),
    up('worker', '^src/worker', '^src/(standins|web|app|ui)'),
    up('ui does not fetch', '^src/ui', '^src/(?!core|ui)'),
    up('app goes through services', '^src/app', '^src/(db|gateways|standins|worker)'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(\\.next|dist)/' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
  },
};
