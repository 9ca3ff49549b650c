import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { signalParams } from './signal.ts'

export const Calibration = Type.Object({
  id: Type.Integer(),
  gain: Type.Number(),
  offset: Type.Number(),
  validFrom: Type.Integer({ description: 'Epoch milliseconds.' }),
  evidence: Type.String(),
  person: Type.Union([Type.String(), Type.Null()]),
  takenBackAt: Type.Union([Type.Integer(), Type.Null()]),
})
export type Calibration = Static<typeof Calibration>

export const listCalibrations = defineRoute({
  method: 'get',
  path: '/api/signals/{signalId}/calibrations',
  summary: 'The corrections of a signal, the newest first, with those that were taken back',
  role: 'viewer',
  at: 'signal',
  params: signalParams,
  response: Type.Array(Calibration),
  status: 200,
})

export const addCalibration = defineRoute({
  method: 'post',
  path: '/api/signals/{signalId}/calibrations',
  summary: 'Correct a signal from an instant on; what is stored stays as it is',
  role: 'owner',
  at: 'signal',
  params: signalParams,
  body: Type.Object(
    {
      gain: Type.Number(),
      offset: Type.Number(),
      validFrom: Type.Integer({ minimum: 0, description: 'Epoch milliseconds.' }),
      evidence: Type.String({ minLength: 1, maxLength: 1000, pattern: '\\S' }),
    },
    { additionalProperties: false },
  ),
  response: Calibration,
  status: 201,
})

export const takeBackCalibration = defineRoute({
  method: 'delete',
  path: '/api/calibrations/{calibrationId}',
  summary: 'Take a correction back; that there was one stays known',
  role: 'owner',
  at: 'calibration',
  params: Type.Object({ calibrationId: Type.Integer() }),
  status: 204,
})
