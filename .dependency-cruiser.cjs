const interfaceFolders = '^src/(app|workspace|shelf|footage-view|exports-view|interface)/';

/** The directions in which code may import (docs/architecture.md). */
module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-stands-alone',
      comment: 'The computation knows no interface, server, browser or library.',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^src/core/' },
    },
    {
      name: 'composing-stands-above',
      comment: 'What pictures are composed with knows nothing of composing.',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '^src/core/(compose|move|checks|formats|draft)/|\\.test\\.ts$' },
      to: { path: '^src/core/compose/' },
    },
    {
      name: 'footage-on-core',
      severity: 'error',
      from: { path: '^src/footage/' },
      to: { path: '^src/', pathNot: '^src/(core|footage)/' },
    },
    {
      name: 'render-on-core-and-footage',
      severity: 'error',
      from: { path: '^src/render/' },
      to: { path: '^src/', pathNot: '^src/(core|footage|render|wire)/' },
    },
    {
      name: 'wire-on-core',
      severity: 'error',
      from: { path: '^src/wire/' },
      to: { path: '^src/', pathNot: '^src/(core|wire)/' },
    },
    {
      name: 'server-knows-no-browser',
      severity: 'error',
      from: { path: '^src/server/' },
      to: {
        path: '^(src/(render|app|workspace|shelf|footage-view|exports-view|interface)/|node_modules/(react|konva|zustand|@mui))',
      },
    },
    {
      name: 'interface-never-touches-sql',
      severity: 'error',
      from: { path: interfaceFolders, pathNot: '^src/app/.*(page|route|layout)\\.tsx?$' },
      to: { path: '^(src/server/|node_modules/better-sqlite3)' },
    },
    {
      name: 'pages-and-routes-touch-no-sql-library',
      severity: 'error',
      from: { path: '^src/app/' },
      to: { path: 'node_modules/better-sqlite3' },
    },
    {
      name: 'nothing-imports-tests',
      severity: 'error',
      from: { path: '^src/', pathNot: '\\.test\\.tsx?$' },
      to: { path: '(\\.test\\.tsx?$|^e2e/|^bench/|^demo/)' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    exclude: { path: '\\.next' },
  },
};
