import { messageOf, type ProgramKind } from './program.ts'

/** A text within single quotes of a shell. */
const quoted = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`

export const shellProgram: ProgramKind = {
  key: 'shell',
  name: 'Shell',
  says: 'For anything with a POSIX shell and curl.',
  write: ({ address, url, seconds, fields }, secret) => [
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
  printf '%s' ${quoted(JSON.stringify(messageOf(fields)))}
}

# Keeps the secret out of the list of processes.
send() {
  printf 'header = "Authorization: Bearer %s.%s"\\n' "$ADDRESS" "$SECRET" |
    curl --silent --config - --max-time 20 --header 'Content-Type: application/json' \\
      --write-out '\\n%{http_code}' --data "$1" "$SERVER/in"
}

waiting=''
failures=0
pause=0
while :; do
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
    answer=$(send "[$(printf '%s' "$waiting" | paste -s -d , -)]")
    status=$(printf '%s' "$answer" | tail -n 1)
    told=$(printf '%s' "$answer" | sed '$d')
    case "$status" in
      204) waiting='' failures=0 ;;
      200) waiting='' failures=0 && echo "Partly refused: $told" ;;
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
  pause=$((pause - EVERY))
  sleep "$EVERY"
done
`,
    },
  ],
}
