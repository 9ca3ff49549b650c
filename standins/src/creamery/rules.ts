import type { BodyOf, Device, RuleMode, routes } from '@jaunty-sparrow/contract'

type Rule = BodyOf<typeof routes.createRule>['rule']

/** A rule of the creamery's people. */
export interface StatedRule extends BodyOf<typeof routes.createRule> {
  readonly signalId: number
  readonly mode: RuleMode
}

const usual = {
  until: null,
  clock: null,
  otherwise: null,
  leastOn: 0,
  leastOff: 0,
  mostAnHour: null,
  whenUnknown: 'stay',
  safeAfterAway: false,
} as const

/** What acts by itself there: those of one signal in the order in which they are obeyed. */
export function rulesOf(devices: readonly Device[]): StatedRule[] {
  const idOf = (address: string, name: string, part = '') =>
    devices
      .find((device) => device.address === address)
      ?.signals.find((signal) => signal.name === name && signal.part === part)?.id
  const rules: StatedRule[] = []
  const state = (
    target: number | undefined,
    name: string,
    looksAt: Readonly<Record<string, number | undefined>>,
    rule: Omit<Rule, 'inputs'>,
    mode: RuleMode = 'on',
  ) => {
    const inputs = Object.entries(looksAt).flatMap(([called, signal]) =>
      signal === undefined ? [] : [{ name: called, signal }],
    )
    // Whoever deleted a device does without its rules.
    if (target !== undefined && inputs.length === Object.keys(looksAt).length)
      rules.push({ signalId: target, name, rule: { ...rule, inputs }, mode })
  }
  const fogger = idOf('cave-1', 'Fogger')
  state(
    fogger,
    'Being aired',
    { fan: idOf('cave-1', 'Fan') },
    { ...usual, when: { formula: 'fan == 1', atLeast: 30 }, value: 0 },
  )
  state(
    fogger,
    'Humidity low',
    { humidity: idOf('cave-1', 'Humidity') },
    {
      ...usual,
      when: { formula: 'humidity < 92.6', atLeast: 120 },
      until: { formula: 'humidity > 94', atLeast: 0 },
      value: 1,
      otherwise: 0,
      leastOff: 300,
      mostAnHour: 6,
      whenUnknown: 'rest',
    },
  )
  state(
    idOf('cave-2', 'Fan'),
    'Air used up',
    { co2: idOf('cave-2', 'CO₂') },
    {
      ...usual,
      when: { formula: 'co2 > 1500', atLeast: 300 },
      until: { formula: 'co2 < 1200', atLeast: 0 },
      value: 1,
      otherwise: 0,
      leastOn: 300,
      whenUnknown: 'act',
    },
    'trial',
  )
  state(
    idOf('milk-vat', 'Stirrer'),
    'Vat too warm',
    { milk: idOf('milk-vat', 'Milk,', 'middle') },
    {
      ...usual,
      when: { formula: 'milk > 20', atLeast: 60 },
      until: { formula: 'milk < 12', atLeast: 0 },
      value: 60,
    },
  )
  const evening = {
    days: [1, 2, 3, 4, 5, 6, 7],
    from: { of: 'sunset', minutes: 0 },
    to: { of: 'midnight', minutes: 22 * 60 + 30 },
  } as const
  for (const [channel, value] of [
    ['Red', 90],
    ['Green', 45],
    ['Blue', 10],
  ] as const)
    state(
      idOf('shop-lamp', channel),
      `After sunset, ${channel.toLowerCase()}`,
      {},
      {
        ...usual,
        when: null,
        clock: { ...evening, days: [...evening.days] },
        value,
      },
    )
  return rules
}
