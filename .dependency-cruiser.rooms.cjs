// Rooms form no circle: the production files of each layer, seen by folder.
module.exports = {
  forbidden: [
    {
      name: 'no circles between rooms',
      severity: 'error',
      scope: 'folder',
      from: {},
      to: { circular: true },
    },
  ],
  options: {
    includeOnly: '^src/(services|db|ui)/[^/.]+/',
    exclude: { path: '(\\.test\\.tsx?$)|/testing/' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
  },
};
