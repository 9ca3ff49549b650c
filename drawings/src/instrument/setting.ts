/** What can be set of an instrument, as JSON Schema; its usual value tells what type it has. */
export interface Setting<T = unknown> {
  readonly type: 'string' | 'number' | 'boolean' | 'array'
  readonly title: string
  readonly default: T
  readonly description?: string
  /** With which it is edited, where that is not plain from its type. */
  readonly editor?: 'lines' | 'picture' | 'pins' | 'none'
  readonly [keyword: string]: unknown
}

/** What an instrument is set to. */
export type ValuesOf<P extends Readonly<Record<string, Setting>>> = {
  readonly [K in keyof P]: P[K]['default']
}

/** One of a few words; each has a title of its own. */
export const choice = <const T extends Record<string, string>>(
  title: string,
  titles: T,
  usual: keyof T & string,
): Setting<keyof T & string> & { readonly titles: T } => ({
  type: 'string',
  title,
  enum: Object.keys(titles),
  titles,
  default: usual,
})

/** Yes or no. */
export const flag = (title: string, usual: boolean): Setting<boolean> => ({
  type: 'boolean',
  title,
  default: usual,
})

export const number = (
  title: string,
  usual: number,
  more: Partial<Setting<number>> = {},
): Setting<number> => ({
  type: 'number',
  title,
  default: usual,
  ...more,
})

export const words = (
  title: string,
  usual: string,
  maxLength: number,
  more: Partial<Setting<string>> = {},
): Setting<string> => ({ type: 'string', title, default: usual, maxLength, ...more })

/** Over which span something is drawn. */
export const spanSetting = (usual: 'hour' | 'day' | 'week' | 'month') =>
  choice('Over', { hour: 'an hour', day: 'a day', week: 'a week', month: 'a month' }, usual)
