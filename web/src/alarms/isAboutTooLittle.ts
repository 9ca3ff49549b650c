import { readAlarmAddress } from '@jaunty-sparrow/core/alarm'

/** Whether an alarm is about a lower limit: it is drawn pointing down. */
export const isAboutTooLittle = (alarmId: string | null): boolean =>
  alarmId !== null && (readAlarmAddress(alarmId)?.key.startsWith('low') ?? false)
