import fc from 'fast-check'
import { calibrate } from '../calibration/calibration.ts'
import { Quality } from '../signal/reading.ts'
import { aggregate } from './aggregate.ts'
import { calibrateSlot } from './calibrateSlot.ts'

it('what readings come to is corrected as if each had been', () => {
  const values = fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 1, maxLength: 50 })
  fc.assert(
    fc.property(values, fc.integer({ min: -8, max: 8 }), (all, gain) => {
      const calibrations = [{ gain, offset: 3, validFrom: 0 }]
      const readings = all.map((value, n) => ({ at: n * 10, value, quality: Quality.good }))
      const each = readings.map((reading) => ({
        ...reading,
        value: calibrate(calibrations, reading.at, reading.value),
      }))
      const [slot] = aggregate(readings, 1000, false).values()
      const [plain] = aggregate(each, 1000, false).values()
      if (!slot || !plain?.bucket) throw new Error('there is no bucket')
      const { bucket } = calibrateSlot(calibrations, slot)
      for (const [name, value] of Object.entries(plain.bucket)) {
        // Where several are the lowest, turned upside down it is another of them that comes first.
        if (gain === 0 && name.endsWith('estAt')) continue
        if (typeof value === 'number') expect(bucket?.[name as 'mean']).toBeCloseTo(value, 6)
      }
    }),
  )
})
