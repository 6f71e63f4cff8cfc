/** Who may import whom; docs/decisions/0001-layout.md says why. Inside core, arrows go down the list only. */
const LAYERS = [
  'core/units',
  'core/solver',
  'core/colours',
  'core/catalogue',
  'core/(design|donors|shelf)',
  'core/(build|offers|costs)',
  'core/netting',
  'core/sourcing',
  'core/studies',
  'core/orders',
  'core/making',
  'core/settling',
  'core/records',
  'core/formats',
]
const TEST = '\\.test(-data)?\\.ts$'

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-unresolvable',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: '^bun:|^virtual:|highs/runtime' },
    },
    {
      name: 'core-is-alone',
      severity: 'error',
      from: { path: '^core/', pathNot: TEST },
      to: { pathNot: '^(core|node_modules)/' },
    },
    {
      name: 'core-has-no-node-or-browser-packages',
      severity: 'error',
      from: { path: '^core/', pathNot: TEST },
      to: { path: 'node_modules/(react|dexie|express|comlink|@tanstack)' },
    },
    ...LAYERS.map((layer, i) => ({
      name: `core-layers-${i}`,
      severity: 'error',
      from: { path: `^${layer}/`, pathNot: TEST },
      to: {
        path:
          LAYERS.slice(i + 1)
            .map((above) => `^${above}/`)
            .join('|') || '^nothing$',
      },
    })),
    {
      name: 'kernel-of-netting-is-arrays',
      severity: 'error',
      from: { path: '^core/netting/kernel/', pathNot: TEST },
      to: { path: '^core/(?!units|solver|netting/kernel)' },
    },
    {
      name: 'storage-on-core',
      severity: 'error',
      from: { path: '^storage/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(web|workers|market|server|demo|e2e|bench)/' },
    },
    {
      name: 'workers-on-core',
      severity: 'error',
      from: { path: '^workers/' },
      to: { path: '^(web|market/(?!wire)|server|demo|e2e|bench)/?' },
    },
    {
      name: 'only-workers-of-data-write',
      comment: 'The store worker reads and writes; the list worker writes the rows it read, where they already are.',
      severity: 'error',
      from: { path: '^workers/(?!(store|list)[.-])' },
      to: { path: '^storage/' },
    },
    {
      name: 'market-shares-no-planning',
      severity: 'error',
      from: { path: '^market/' },
      to: { path: '^(core/(?!units|catalogue)|web|storage|workers|server|demo)' },
    },
    {
      name: 'server-on-market',
      severity: 'error',
      from: { path: '^server/' },
      to: { path: '^(core|web|storage|workers|demo)/' },
    },
    {
      name: 'demo-on-core-and-storage',
      severity: 'error',
      from: { path: '^demo/', pathNot: TEST },
      to: { path: '^(web|workers|market|server)/' },
    },
    {
      name: 'web-reads-the-wire-only',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^(market/(?!wire)|server|e2e|bench)/?' },
    },
    {
      name: 'screens-stand-alone',
      severity: 'error',
      from: { path: '^web/screens/([^/]+)/' },
      to: { path: '^web/(screens/(?!$1/)|app/)' },
    },
    {
      name: 'ui-below-screens',
      severity: 'error',
      from: { path: '^web/(ui|store|pieces)/' },
      to: { path: '^web/(screens|app)/' },
    },
    {
      name: 'ui-knows-no-records',
      comment: 'Money, lengths and names are units; whatever knows a record is among the pieces.',
      severity: 'error',
      from: { path: '^web/ui/' },
      to: { path: '^(core/(?!units/)|storage|workers|market|demo|web/(?!ui/))' },
    },
    {
      name: 'store-draws-nothing',
      severity: 'error',
      from: { path: '^web/store/' },
      to: { path: '^web/(ui/.*[.]tsx$|pieces/|screens/|app/)' },
    },
    {
      name: 'journeys-see-the-page-only',
      severity: 'error',
      from: { path: '^e2e/' },
      to: { path: '^(core|web|storage|workers|market|server|demo|bench)/' },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.web.json' },
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.css'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
    },
  },
}
