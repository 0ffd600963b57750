// The arrows of docs/architecture.md: what may import what.
const folder = (name) => `^${name}/`;
const only = (name, allowed) => ({
  name: `arrows-of-${name.replace(/\W+/g, '-')}`,
  severity: 'error',
  comment: `${name} may import only itself and ${allowed.join(', ') || 'nothing'}`,
  from: { path: folder(name), pathNot: '\\.test\\.tsx?$' },
  to: { path: '^(src|demo|tests|bench)/', pathNot: [name, ...allowed].map(folder) },
});

module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    only('src/core', []),
    only('src/benchlink', ['src/core']),
    only('src/node', ['src/core']),
    only('src/standin', ['src/core', 'src/benchlink']),
    only('src/dav', ['src/core', 'src/messages']),
    only('src/server', ['src/core', 'src/benchlink', 'src/node', 'src/messages', 'src/dav']),
    {
      name: 'platform-knows-no-feature',
      severity: 'error',
      comment: 'what every feature stands on may not lean on one',
      from: { path: '^src/server/platform/' },
      to: { path: '^src/server/features/' },
    },
    only('src/cli', ['src/core', 'src/node', 'src/server', 'src/messages', 'src/dav']),
    only('src/app', ['src/ui', 'src/server', 'src/messages']),
    only('demo', ['src/core', 'src/server', 'src/node']),
    {
      name: 'pages-take-types-of-the-server',
      severity: 'error',
      comment: 'ui may use the core, and of the server only types and form schemas',
      from: { path: '^src/ui/', pathNot: '\\.test\\.tsx?$' },
      to: {
        path: '^src/(server|benchlink|standin|cli|app|node)/',
        pathNot:
          '^src/server/features/(media/new-medium|descriptions/new-description|rights/new-rights|parcels/new-parcel|receipts/new-receipt)\\.ts$',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'core takes no Node modules and no packages but the listed ones',
      from: { path: '^src/core/', pathNot: '\\.test\\.tsx?$' },
      to: {
        dependencyTypes: ['core', 'npm', 'npm-dev'],
        pathNot: 'node_modules/(cborg|fflate|zod)/',
      },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
    },
  },
};
