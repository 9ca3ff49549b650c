// What a worker is started with: it has no loader for TypeScript of its own.
import { register } from 'tsx/esm/api'

register()
await import('./decodingWorker.ts')
