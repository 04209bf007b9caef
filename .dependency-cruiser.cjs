/** The rooms of ARCHITECTURE.md: imports run downwards only. */
const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: from },
  to: { path: '^src/', pathNot: [from, ...allowed].join('|') },
})
const floors = ['model', 'graph', 'calendar', 'maps', 'layout', 'scene', 'tabular', 'findings', 'notation'].map(
  (room) => `^src/core/${room}/`,
)
const [model, graph, calendar, maps, layout, scene, tabular, findings, notation] = floors

/** How facts are stated, of every notation: its kinds, what they hang together as, and what is written of them. */
const STATED =
  'actions|edits|gestures|handling|kinds|lists|members|outline|registers|structure|telling|terms|ties|typed|types|words'
const stating = [
  '^src/core/notations/handling\\.ts$',
  `^src/core/notations/[^/]+/(${STATED})\\.ts$`,
  `^src/core/notations/[^/]+/[^/]+/(${STATED})\\.ts$`,
  '^src/core/notations/network/(addresses|ports|speed|vlans)\\.ts$',
  '^src/core/notations/organisation/(folds|handOver|selected|titled)\\.ts$',
  '^src/core/notations/process/(besides|drop|foreignPlaces|pasted|subprocess|written)\\.ts$',
  '^src/core/notations/schedule/(calendars|frame|shares|timelineOutline|work)\\.ts$',
  '^src/core/notations/uml/(renaming|schema/(facts|statements|table)|syntax/[^/]+)\\.ts$',
]

module.exports = {
  forbidden: [
    {
      name: 'no-circular',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'no-orphans',
      severity: 'error',
      from: {
        orphan: true,
        pathNot: ['\\.d\\.ts$', '\\.astro$', '^src/middleware', '^src/pages', '^src/worker/', '^src/reader/'],
      },
      to: {},
    },
    only('core-is-the-ground-floor', '^src/core/', []),
    only('model-imports-nothing', model, []),
    only('graph-on-model', graph, [model]),
    only('calendar-on-model', calendar, [model]),
    only('maps-on-nothing', maps, []),
    only('layout-on-graph', layout, [model, graph]),
    only('scene-on-model', scene, [model, layout]),
    only('tabular-on-notation', tabular, [model, notation, findings, scene, calendar]),
    only('findings-on-notation', findings, [model, notation, scene]),
    only('notation-on-the-floors', notation, [model, scene, layout, graph, calendar]),
    {
      name: 'notations-do-not-know-each-other',
      severity: 'error',
      from: { path: '^src/core/notations/([^/]+)/' },
      to: { path: '^src/core/notations/[^/]+/', pathNot: '^src/core/notations/$1/' },
    },
    only('worker-on-core', '^src/worker/', ['^src/core/']),
    only('server-on-core', '^src/server/', ['^src/core/', '^src/demo/']),
    only('cli-on-core', '^src/cli/', ['^src/core/', '^src/server/draw/']),
    only('app-on-worker', '^src/app/', ['^src/core/', '^src/worker/']),
    only('reader-on-nothing', '^src/reader/', []),
    only('standins-on-core', '^src/standins/', ['^src/core/', '^src/demo/']),
    only('demo-on-core', '^src/demo/', ['^src/core/']),
    {
      name: 'one-registry-import',
      comment:
        'Everything outside the notations reaches them through src/core/notations/index.ts, or handling.ts, alone.',
      severity: 'error',
      from: { path: '^src/(app|server|worker|cli|pages|core)/', pathNot: '^src/core/notations/' },
      to: { path: '^src/core/notations/[^/]+/' },
    },
    {
      name: 'the-page-works-nothing-out',
      comment:
        'Whatever follows from the facts is worked out by the worker. Of the rooms where something is, the page reaches only what is named here.',
      severity: 'error',
      from: { path: '^src/(app|core/notations/handling)' },
      to: {
        path: '^src/core/(layout|maps|graph|findings|notations)/',
        pathNot: [
          // One way through a graph, told in the order in which it hangs.
          '^src/core/graph/(reach|cycles|order)\\.ts$',
          // What a finding says, not what finds it.
          '^src/core/findings/(findings|time)\\.ts$',
          ...stating,
        ],
        reachable: true,
      },
    },
    {
      name: 'core-has-no-interface-and-no-io',
      severity: 'error',
      from: { path: '^src/core/' },
      to: { path: '^(react|react-dom|fs|path|node:|mysql2|astro)', dependencyTypesNot: ['type-only'] },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^(dist|node_modules|\\.astro)' },
  },
}
