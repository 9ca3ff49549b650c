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

/** The same for a shell: what is JSON is taken apart by awk. */
export const shellGuarding = `
ALONE_AFTER=60 # seconds without the server after which the board guards by itself
GUARD="$(dirname "$0")/limits.json" # the limits, in what is sent, and the priority of what nobody has seen: what was heard last
BEYOND='' # since when each signal is beyond its limits
LAMP='' BUZZER=''

# Another place to fill in: the lamp that says that something is beyond its limits.
show_lamp() {
  echo "lamp $1"
}

# And the buzzer. It is silent as soon as somebody says that they see to it.
sound_buzzer() {
  echo "buzzer $1"
}

# Kept, so that it holds when the line is cut, and after the power was.
heard_guard() {
  heard=$(printf '%s' "$1" | sed -n 's/.*"guard":\\({"limits":.*\\)}$/\\1/p')
  [ -z "$heard" ] || [ "$heard" = "$(cat "$GUARD" 2>/dev/null)" ] || printf '%s' "$heard" >"$GUARD"
}

# Every value of an object of JSON in a line of its own: a mark, where it stands, and what it is.
values_of() {
  awk -v mark="$1" '
    { text = text $0 }
    END {
      for (i = 1; i <= length(text); i++) {
        c = substr(text, i, 1)
        if (c == "{") { depth++; wants_name = 1 }
        else if (c == "}") depth--
        else if (c == ",") wants_name = 1
        else if (c != ":" && c != " ") {
          said = ""
          is_text = c == "\\""
          for (i += is_text; i <= length(text); i++) {
            c = substr(text, i, 1)
            if (is_text ? c == "\\"" : index(",}", c)) break
            if (is_text && c == "\\\\") c = substr(text, ++i, 1)
            said = said c
          }
          if (!is_text) i--
          if (wants_name) { name[depth] = said; wants_name = 0; continue }
          place = name[1]
          for (j = 2; j <= depth; j++) place = place "/" name[j]
          printf "%s\\t%s\\t%s\\n", mark, place, said
        }
      }
    }'
}

# By the same limits as every screen: what is on a limit is within it.
guard() {
  found=$({
    cat "$GUARD" 2>/dev/null | values_of guard
    printf '%s' "$1" | values_of reading
    printf '%s\\n' "$BEYOND"
  } | awk -F '\\t' -v now="$(date +%s)" '
    function is_past(by) {
      return ((n, "low") in bound && value[n] < bound[n, "low"] + by) || ((n, "lowLow") in bound && value[n] < bound[n, "lowLow"] + by) ||
        ((n, "high") in bound && value[n] > bound[n, "high"] - by) || ((n, "highHigh") in bound && value[n] > bound[n, "highHigh"] - by)
    }
    $1 == "guard" && $2 == "alarm" { alarm = $3 != "null" }
    $1 == "guard" && $2 ~ /^limits\\// {
      n = substr($2, 8); key = n
      sub(/.*\\//, "", key); sub(/\\/[^\\/]*$/, "", n)
      bound[n, key] = $3 + 0; names[n] = 1
    }
    $1 == "reading" && $3 ~ /^-?[0-9]/ { value[$2] = $3 + 0 }
    $1 == "beyond" { since[$2] = $3 }
    END {
      for (n in names) {
        if (!(n in value)) continue
        if (is_past(0)) { lamp = 1; if (!(n in since)) since[n] = now }
        else if (n in since && !is_past(bound[n, "deadband"])) delete since[n]
        if (n in since && now - since[n] >= bound[n, "after"]) waited = 1
      }
      for (n in since) printf "beyond\\t%s\\t%s\\n", n, since[n]
      printf "lamp %s\\nalarm %s\\nwaited %s\\n", lamp ? "on" : "off", alarm ? "on" : "off", waited ? "on" : "off"
    }')
  BEYOND=$(printf '%s\\n' "$found" | grep '^beyond')
  is_on=$(printf '%s\\n' "$found" | sed -n 's/^lamp //p')
  [ "$is_on" = "$LAMP" ] || show_lamp "$is_on"
  LAMP=$is_on
  is_on=$(printf '%s\\n' "$found" | sed -n "s/^$2 //p")
  [ "$is_on" = "$BUZZER" ] || sound_buzzer "$is_on"
  BUZZER=$is_on
}
`
