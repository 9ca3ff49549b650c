import { type Alarm, type Occasion, type Priority, untoldAlarm } from '@jaunty-sparrow/core/signal'

type Told = Partial<Omit<Alarm, 'key' | 'occasion' | 'priority'>>

/** An alarm of the creamery's people: what it is about, how soon somebody has to come, and what they read then. */
export const stateAlarm = (key: string, occasion: Occasion, priority: Priority, told: Told): Alarm => ({
  ...untoldAlarm,
  key,
  occasion,
  priority,
  ...told,
})
