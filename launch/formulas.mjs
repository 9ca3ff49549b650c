// npm run formulas: writes docs/formulas.md anew from the functions of the language.
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { main } from './application.mjs'
import { prepare, root } from './prepare.mjs'

await main(async () => {
  await prepare({})
  const { register } = await import('tsx/esm/api')
  const unregister = register()
  const { formulaDocs } = await import('@jaunty-sparrow/core/formula')
  writeFileSync(join(root, 'docs', 'formulas.md'), formulaDocs())
  await unregister()
})
