import { fileURLToPath } from 'node:url'
import { run } from '../testing/run.ts'

const unit = fileURLToPath(new URL('../../../docs/recipes/jaunty-sparrow.service', import.meta.url))

it('the unit for a server that stays is one that systemd understands', async () => {
  expect(await run('systemd-analyze', ['verify', unit])).toEqual({ code: 0, out: '' })
})
