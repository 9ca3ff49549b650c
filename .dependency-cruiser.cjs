/** The arrows of docs/architecture.md, kept by the machine. */
const only = (from, allowed) => ({
  name: `${from}-depends-on-${allowed.length ? allowed.join('-and-') : 'nothing-of-ours'}`,
  severity: 'error',
  from: { path: `^${from}/` },
  to: {
    path: '^(core|contract|drawings|server|web|standins|e2e|bench)/',
    pathNot: `^(${[from, ...allowed].join('|')})/`,
  },
})

module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    only('core', []),
    only('contract', ['core']),
    only('drawings', ['core']),
    only('server', ['core', 'contract', 'drawings']),
    only('web', ['core', 'contract', 'drawings']),
    only('standins', ['core', 'contract']),
    only('e2e', []),
    only('bench', ['core', 'contract', 'server', 'drawings']),
    {
      name: 'core-is-pure',
      comment: 'No I/O in core: it runs the same in the server, a web worker and a test.',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^web/dist/' },
    tsConfig: { fileName: 'tsconfig.base.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.mjs'],
    },
  },
}
