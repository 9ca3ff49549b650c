import { Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

export const getCapacity = defineRoute({
  method: 'get',
  path: '/api/capacity',
  summary: 'What a reading takes on the disk',
  role: 'viewer',
  at: 'somewhere',
  response: Type.Object({ bytesPerReading: Type.Number() }),
  status: 200,
})

export const measureCapacity = defineRoute({
  method: 'post',
  path: '/api/capacity',
  summary: 'Measure for a second how many readings a second the database can take',
  role: 'owner',
  at: 'everywhere',
  response: Type.Object({ readingsPerSecond: Type.Number() }),
  status: 200,
})
