/** What a pattern found in a topic. */
export interface TopicMatch {
  /** What stands where the pattern says `{device}`. */
  readonly device?: string
  /** What stands where the pattern says `{field}` or `#`: where the fields of the message belong. */
  readonly tail: string
}

const device = '{device}'
const field = '{field}'

/**
 * Says what is wrong with a topic pattern. Levels are literal, `+` for any, `{device}` for one that is the address of the
 * device, `{field}` for one that names a field, and at the end `#` for whatever else there is, which names fields too.
 * @returns undefined when nothing is wrong
 */
export function topicPatternProblem(pattern: string): string | undefined {
  if (pattern === '') return 'A pattern must not be empty.'
  const levels = pattern.split('/')
  if (levels.slice(0, -1).includes('#')) return '"#" stands for all the rest, so it must be the last level.'
  if (levels.filter((level) => level === device).length > 1) return 'A pattern names {device} at most once.'
  const odd = levels.find((level) => level !== '+' && level !== '#' && /[+#]/.test(level))
  if (odd) return `"${odd}" mixes a wildcard with text; + and # stand for whole levels.`
  const unknown = levels.find((level) => /[{}]/.test(level) && level !== device && level !== field)
  return unknown && `"${unknown}" is neither {device} nor {field}.`
}

/** Says what is wrong with an MQTT topic filter (MQTT 3.1.1, section 4.7): a pattern that names nothing. */
export function topicFilterProblem(filter: string): string | undefined {
  const named = [device, field].find((name) => filter.split('/').includes(name))
  return named
    ? `A topic that may be published to has no ${named}; use + for any level.`
    : topicPatternProblem(filter)
}

/** Matches a topic against a pattern, level by level (MQTT 3.1.1, section 4.7, with names for what is found). */
export function matchTopic(pattern: string, topic: string): TopicMatch | undefined {
  const wanted = pattern.split('/')
  const levels = topic.split('/')
  // A topic of the broker's own is never meant by a wildcard at the beginning.
  if (topic.startsWith('$') && wanted[0] !== levels[0]) return undefined
  const tail: string[] = []
  let found: string | undefined
  for (const [index, level] of wanted.entries()) {
    if (level === '#') {
      tail.push(...levels.slice(index))
      return { ...(found !== undefined && { device: found }), tail: tail.join('/') }
    }
    const actual = levels[index]
    if (actual === undefined) return undefined
    if (level === device) found = actual
    else if (level === field) tail.push(actual)
    else if (level !== '+' && level !== actual) return undefined
  }
  if (levels.length !== wanted.length) return undefined
  return { ...(found !== undefined && { device: found }), tail: tail.join('/') }
}

/** A topic nobody has claimed, and the beginning of what was published to it. */
export interface HeardTopic {
  readonly topic: string
  readonly sample: string
}

/**
 * The pattern that suits a topic nobody has claimed. A bare value is one field, and the topics beside it are likely the other
 * fields of the same device; what has fields of its own is likely all that a device says, unless a bare value stands beside it.
 * @param others further topics nobody has claimed
 */
export function suggestedPattern(heard: HeardTopic, others: readonly HeardTopic[]): string {
  const above = branchOf(heard)
  const family = [heard, ...others.filter((other) => branchOf(other) === above)]
  return above !== '' && family.some(isBareValue) ? `${above}/#` : `${heard.topic}/#`
}

const branchOf = ({ topic }: HeardTopic): string => topic.split('/').slice(0, -1).join('/')

const isBareValue = ({ sample }: HeardTopic): boolean => /^\s*[^\s{[]/.test(sample)
