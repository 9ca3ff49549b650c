import setWith from 'lodash-es/setWith.js'
import { wireName } from '../command/wire.ts'
import { pointerSegments } from '../message/field.ts'
import { shellGuarding } from './guarding.ts'
import { inbox, messageOf, type ProgramField, type ProgramKind, safeStates } from './program.ts'

/** A text within single quotes of a shell. */
const quoted = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`

export const shellProgram: ProgramKind = {
  key: 'shell',
  name: 'Shell',
  says: 'For anything with a POSIX shell and curl.',
  write: ({ address, url, seconds, fields, controlled, guards }, secret) => [
    {
      name: 'secrets.sh',
      isSecret: true,
      text: `ADDRESS=${quoted(address)}\nSECRET=${quoted(secret)}\n`,
    },
    {
      name: 'send.sh',
      text: `#!/bin/sh
# Sends what ${address} measures. Run it with: sh send.sh
SERVER=${quoted(url)}
EVERY=${seconds} # seconds
MOST_WAITING=100 # readings that are kept while there is no way to the server
. "$(dirname "$0")/secrets.sh"

# The one place to fill in: what the sensors say now, as JSON.
read_sensors() {
  printf '%s' ${messageWithStates(fields, controlled)}
}
${controlled.length > 0 ? receiving(controlled) : ''}${guards ? shellGuarding : ''}
# Keeps the secret out of the list of processes.
send() {
  printf 'header = "Authorization: Bearer %s.%s"\\n' "$ADDRESS" "$SECRET" |
    curl --silent --config - --max-time 20 --header 'Content-Type: application/json' \\
      --write-out '\\n%{http_code}' --data "$2" "$SERVER$1"
}

waiting=''
failures=0
pause=0
${controlled.length > 0 || guards ? 'silent=0\n' : ''}while :; do
  reading=$(read_sensors)
  now=$(date +%s)
  if [ "$now" -gt 1700000000 ]; then
    reading="\${reading%\\}},\\"t\\":$now}"
  else
    echo 'The clock is not set: the server stamps what it gets, and nothing is kept meanwhile.'
    waiting=''
  fi
  waiting=$(printf '%s\\n%s' "$waiting" "$reading" | sed '/^$/d' | tail -n "$MOST_WAITING")
  if [ "$pause" -le 0 ]; then
    answer=$(send '${inbox({ controlled, guards })}' "[$(printf '%s' "$waiting" | paste -s -d , -)]")
    status=$(printf '%s' "$answer" | tail -n 1)
    told=$(printf '%s' "$answer" | sed '$d')
    case "$status" in
      204) waiting='' failures=0 ;;
${
  controlled.length > 0 || guards
    ? `      200)
        waiting='' failures=0 silent=0
        case "$told" in *'"refused":[]'*) ;; *) echo "Partly refused: $told" ;; esac
${controlled.length > 0 ? '        take_all "$told"\n' : ''}${guards ? '        heard_guard "$told"\n' : ''}        ;;`
    : `      200) waiting='' failures=0 && echo "Partly refused: $told" ;;`
}
      401)
        echo "The server does not take this address and secret. Put the right ones into secrets.sh. $told" >&2
        exit 1
        ;;
      429 | 5*) failures=$((failures + 1)) && echo "The server cannot take it now ($status). It is tried again." ;;
      000) failures=$((failures + 1)) && echo "No way to $SERVER. It is tried again." ;;
      *) waiting='' failures=0 && echo "The server answered $status: $told" ;;
    esac
    if [ "$failures" -gt 0 ]; then
      pause=$((failures > 8 ? 300 : 1 << failures))
    fi
  fi
${controlled.length > 0 ? '  [ "$silent" -le "$SAFE_AFTER" ] || make_safe\n' : ''}${guards ? '  if [ "$silent" -le "$ALONE_AFTER" ]; then guard "$reading" alarm; else guard "$reading" waited; fi\n' : ''}${controlled.length > 0 || guards ? '  silent=$((silent + EVERY))\n' : ''}  pause=$((pause - EVERY))
  sleep "$EVERY"
done
`,
    },
  ],
}

/** What the sensors say and what each that is controlled is, as what a shell prints. */
function messageWithStates(fields: readonly ProgramField[], controlled: readonly ProgramField[]): string {
  const message = messageOf(fields)
  const mark = (name: string) => `@state of ${name}@`
  const names = controlled.flatMap(({ pointer, kind }) => {
    if (kind === 'momentary') return []
    setWith(message, pointerSegments(pointer), mark(wireName(pointer)), Object)
    return wireName(pointer)
  })
  return names.reduce(
    (text, name) => text.replace(JSON.stringify(mark(name)), `'"$(state ${quoted(name)})"'`),
    quoted(JSON.stringify(message)),
  )
}

/** The side that is told something: it obeys no command twice and none that is late, and goes safe when nobody is there. */
const receiving = (controlled: readonly ProgramField[]): string => `
SAFE_AFTER=120 # seconds without the server
# What can be asked for, a tab, and its safe state; what is momentary has none.
SAFE=${quoted(
  Object.entries(safeStates(controlled))
    .map(([name, value]) => `${name}\t${JSON.stringify(value)}`)
    .join('\n'),
)}
STATES=''
OBEYED="$(dirname "$0")/obeyed" # the numbers of the commands of each

# The other place to fill in: switch or set it. Where it must not be, say why, and return 1.
obey() {
  why=''
  echo "sets $1 to $2"
}

# The last that a list says of a name.
last_of() {
  printf '%s\\n' "$1" | awk -F '\\t' -v name="$2" '$1 == name { said = $2 } END { print said }'
}

# What it is now: what it was set to, else its safe state.
state() {
  last_of "$SAFE
$STATES" "$1"
}

keep_state() {
  STATES=$(printf '%s\\n%s\\t%s' "$STATES" "$1" "$2" | tail -n 200)
}

make_safe() {
  while IFS='	' read -r signal value; do
    [ "$value" = null ] || [ "$(state "$signal")" = "$value" ] || {
      obey "$signal" "$value" </dev/null
      keep_state "$signal" "$value"
    }
  done <<END
$SAFE
END
}

# Obeys a command once and in time, and says so.
take() {
  number=$1 signal=$2 until=$3 value=$4
  says=done why=''
  safe=$(last_of "$SAFE" "$signal")
  before=$(last_of "$(cat "$OBEYED" 2>/dev/null)" "$signal")
  if [ -z "$safe" ]; then
    says=refused why="this board has no $signal"
  elif [ "$number" -gt "\${before:-0}" ]; then
    if [ "$(date +%s)000" -gt "$until" ]; then
      says=expired
    else
      # Before it is done: cut off in between, it is not done twice.
      printf '%s\\t%s\\n' "$signal" "$number" >>"$OBEYED"
      if obey "$signal" "$value" </dev/null; then
        [ "$safe" = null ] || keep_state "$signal" "$value"
      else
        says=refused
      fi
    fi
  fi
  answer="{\\"id\\":$number,\\"says\\":\\"$says\\""
  [ -z "$why" ] || answer="$answer,\\"why\\":\\"$(printf '%s' "$why" | tr -d '"\\\\')\\""
  [ "$says" != done ] || [ "$safe" = null ] || answer="$answer,\\"value\\":$(state "$signal")"
  send "/state/$signal" "$answer}" </dev/null >/dev/null
}

# Takes what the server asks for, one after the other.
take_all() {
  while IFS='	' read -r number signal until value; do
    [ -z "$number" ] || take "$number" "$signal" "$until" "$value"
  done <<END
$(printf '%s' "$1" | tr '{' '\\n' |
  sed -n 's/^"id":\\([0-9]*\\),"signal":"\\([^"]*\\)","value":\\(.*\\),"until":\\([0-9]*\\)}.*$/\\1	\\2	\\4	\\3/p')
END
}
`
