// npm run docs: writes the pages anew that are made from the program itself.
import { spawnSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { main } from './application.mjs'
import { prepare, root } from './prepare.mjs'

await main(async () => {
  await prepare({})
  const { register } = await import('tsx/esm/api')
  const unregister = register()
  const { formulaDocs } = await import('@jaunty-sparrow/core/formula')
  writeFileSync(join(root, 'docs', 'formulas.md'), formulaDocs())
  const { kitFileSchema } = await import('@jaunty-sparrow/contract')
  writeFileSync(join(root, 'docs', 'kit.schema.json'), `${JSON.stringify(kitFileSchema, null, 2)}\n`)
  const { DashboardDocument } = await import('@jaunty-sparrow/contract')
  writeFileSync(
    join(root, 'docs', 'dashboard.schema.json'),
    `${JSON.stringify(DashboardDocument, null, 2)}\n`,
  )
  const { instruments } = await import('@jaunty-sparrow/drawings/registry')
  const { instrumentDocs } = await import('../server/src/paper/instrumentDocs.ts')
  const { instrumentSheet } = await import('../server/src/paper/instrumentSheet.tsx')
  writeFileSync(join(root, 'docs', 'instruments.md'), instrumentDocs())
  mkdirSync(join(root, 'docs', 'instruments'), { recursive: true })
  for (const instrument of instruments)
    writeFileSync(join(root, 'docs', 'instruments', `${instrument.kind}.png`), instrumentSheet(instrument))
  const { samplePaper } = await import('../server/src/paper/samplePaper.ts')
  for (const greys of [2, 4])
    writeFileSync(join(root, 'docs', 'instruments', `paper-${greys}.png`), samplePaper(greys))
  await unregister()
  // As the checks want it.
  spawnSync('npx', ['--no-install', 'biome', 'format', '--write', 'docs'], { cwd: root, stdio: 'inherit' })
})
