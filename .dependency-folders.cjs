/** Between folders too the arrows point down only. Tests are left out: they start the whole server. */
const { options } = require('./.dependency-cruiser.cjs')

module.exports = {
  forbidden: [
    {
      name: 'no-circles-of-folders',
      severity: 'error',
      scope: 'folder',
      from: { path: '^(core|drawings|server|web)/' },
      to: { circular: true },
    },
  ],
  options: { ...options, exclude: { path: '^web/dist/|\\.test\\.ts$|/testing/' } },
}
