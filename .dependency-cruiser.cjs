/** The import boundaries of the architecture page: core knows nobody, server and web don't know each other, screens don't know screens. */
const screens = ['shelf', 'carries', 'draft', 'handoff', 'fill', 'programme', 'outputs', 'air']
module.exports = {
  forbidden: [
    { name: 'core-stands-alone', severity: 'error', from: { path: '^core/src' }, to: { path: '^(server|web)/' } },
    { name: 'server-not-web', severity: 'error', from: { path: '^server/src' }, to: { path: '^web/' } },
    { name: 'web-not-server', severity: 'error', from: { path: '^web/src' }, to: { path: '^server/' } },
    {
      name: 'core-has-no-node',
      severity: 'error',
      from: { path: '^core/src', pathNot: '\\.test\\.ts$|/testing/' },
      to: { dependencyTypes: ['core'] },
    },
    ...screens.map((screen) => ({
      name: `screen-${screen}-alone`,
      severity: 'error',
      from: { path: `^web/src/${screen}/` },
      to: { path: `^web/src/(${screens.filter((s) => s !== screen).join('|')})/` },
    })),
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: false,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['source', 'import', 'default'] },
  },
}
