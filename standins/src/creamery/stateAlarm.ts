import type { Alarm, Occasion, Priority } from '@jaunty-sparrow/core/signal'

type Told = Partial<Omit<Alarm, 'key' | 'occasion' | 'priority'>>

/** An alarm of the creamery's people: what it is about, how soon somebody has to come, and what they read then. */
export const stateAlarm = (key: string, occasion: Occasion, priority: Priority, told: Told): Alarm => ({
  key,
  name: '',
  occasion,
  priority,
  reason: '',
  cause: '',
  consequence: '',
  response: '',
  timeToAct: null,
  isLatching: false,
  unless: null,
  ...told,
})
