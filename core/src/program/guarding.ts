/** How a kind of Python keeps what it heard: each reads and writes files in its own way. */
interface PythonFiles {
  /** An expression for what is kept; it raises OSError or ValueError where there is nothing. */
  readonly read: string
  /** A statement that keeps GUARD. */
  readonly write: string
  /** An expression for seconds that only run forward. */
  readonly clock: string
}

/** The side that guards in Python: a lamp by the limits that were heard last, a buzzer by what nobody has seen. */
export const pythonGuarding = ({
  read,
  write,
  clock,
}: PythonFiles): string => `ALONE_AFTER = 60  # seconds without the server after which the board guards by itself


def guard_kept():
    try:
        return ${read}
    except (OSError, ValueError):
        return {"limits": {}, "alarm": None}


GUARD = guard_kept()  # the limits, in what is sent, and the priority of what nobody has seen
BEYOND = {}  # since when each signal is beyond its limits
SHOWN = {"lamp": None, "buzzer": None}


def show_lamp(is_on):
    # Another place to fill in: the lamp that says that something is beyond its limits.
    print("lamp", "on" if is_on else "off")


def sound_buzzer(is_on):
    # And the buzzer. It is silent as soon as somebody says that they see to it.
    print("buzzer", "on" if is_on else "off")


def show(what, is_on, how):
    if SHOWN[what] != is_on:
        SHOWN[what] = is_on
        how(is_on)


def heard_guard(guard):
    # Kept, so that it holds when the line is cut, and after the power was.
    if guard != GUARD:
        GUARD.update(guard)
        ${write}


def value_at(reading, name):
    for part in name.split("/"):
        reading = reading.get(part) if isinstance(reading, dict) else None
    return reading if isinstance(reading, (int, float)) else None


def guard(reading, is_alone):
    # By the same limits as every screen: what is on a limit is within it.
    is_beyond = False
    has_waited = False
    for name, bounds in GUARD["limits"].items():
        value = value_at(reading, name)
        if value is None:
            continue
        lows = [bounds[key] for key in ("lowLow", "low") if key in bounds]
        highs = [bounds[key] for key in ("high", "highHigh") if key in bounds]
        if any(value < low for low in lows) or any(value > high for high in highs):
            is_beyond = True
            BEYOND.setdefault(name, ${clock})
        elif name in BEYOND:
            band = bounds["deadband"]
            if all(value >= low + band for low in lows) and all(value <= high - band for high in highs):
                del BEYOND[name]
        if name in BEYOND and ${clock} - BEYOND[name] >= bounds["after"]:
            has_waited = True
    show("lamp", is_beyond, show_lamp)
    show("buzzer", has_waited if is_alone else GUARD["alarm"] is not None, sound_buzzer)


`

/** The same for Node. */
export const nodeGuarding = `const aloneAfter = 60 // seconds without the server after which the board guards by itself
const guardFile = new URL('limits.json', import.meta.url)
/** The limits, in what is sent, and the priority of what nobody has seen. */
let guarded = existsSync(guardFile) ? JSON.parse(readFileSync(guardFile, 'utf8')) : { limits: {}, alarm: null }
const beyond = new Map() // since when each signal is beyond its limits
const shown = {}

/** Another place to fill in: the lamp that says that something is beyond its limits. */
function showLamp(isOn) {
  console.log('lamp ' + (isOn ? 'on' : 'off'))
}

/** And the buzzer. It is silent as soon as somebody says that they see to it. */
function soundBuzzer(isOn) {
  console.log('buzzer ' + (isOn ? 'on' : 'off'))
}

function show(what, isOn, how) {
  if (shown[what] === isOn) return
  shown[what] = isOn
  how(isOn)
}

/** Kept, so that it holds when the line is cut, and after the power was. */
function heardGuard(guard) {
  if (JSON.stringify(guard) === JSON.stringify(guarded)) return
  guarded = guard
  writeFileSync(guardFile, JSON.stringify(guard))
}

/** By the same limits as every screen: what is on a limit is within it. */
function guard(reading, isAlone) {
  let isBeyond = false
  let hasWaited = false
  for (const [name, bounds] of Object.entries(guarded.limits)) {
    const value = name.split('/').reduce((place, part) => place?.[part], reading)
    if (typeof value !== 'number') continue
    const lows = [bounds.lowLow, bounds.low].filter((low) => low !== undefined)
    const highs = [bounds.high, bounds.highHigh].filter((high) => high !== undefined)
    if (lows.some((low) => value < low) || highs.some((high) => value > high)) {
      isBeyond = true
      if (!beyond.has(name)) beyond.set(name, performance.now())
    } else if (
      lows.every((low) => value >= low + bounds.deadband) &&
      highs.every((high) => value <= high - bounds.deadband)
    )
      beyond.delete(name)
    if (beyond.has(name) && performance.now() - beyond.get(name) >= bounds.after * 1000) hasWaited = true
  }
  show('lamp', isBeyond, showLamp)
  show('buzzer', isAlone ? hasWaited : guarded.alarm !== null, soundBuzzer)
}

`
