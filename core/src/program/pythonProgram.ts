import { pythonGuarding } from './guarding.ts'
import { inbox, messageOf, type ProgramField, type ProgramKind, safeStates } from './program.ts'

/** A value as Python writes it. */
export const literal = (value: unknown): string => {
  if (Array.isArray(value)) return `[${value.map(literal).join(', ')}]`
  if (typeof value === 'object' && value !== null)
    return `{${Object.entries(value)
      .map(([key, one]) => `${JSON.stringify(key)}: ${literal(one)}`)
      .join(', ')}}`
  if (typeof value === 'boolean') return value ? 'True' : 'False'
  return value === null || value === undefined ? 'None' : JSON.stringify(value)
}

export const pythonProgram: ProgramKind = {
  key: 'python',
  name: 'Python',
  says: 'For a small computer with Python 3.9 or later; nothing else is installed.',
  write: ({ address, url, seconds, fields, controlled, guards }, secret) => [
    {
      name: 'secrets.json',
      isSecret: true,
      text: `${JSON.stringify({ address, secret }, null, 2)}\n`,
    },
    {
      name: 'send.py',
      text: `#!/usr/bin/env python3
"""Sends what ${address} measures. Run it with: python3 send.py"""
import json
import time
import urllib.error
import urllib.request
from pathlib import Path

SERVER = ${JSON.stringify(url)}
EVERY = ${seconds}  # seconds
MOST_WAITING = 500  # readings that are kept while there is no way to the server
SECRETS = json.loads((Path(__file__).parent / "secrets.json").read_text())


def read():
    """The one place to fill in: what the sensors say now."""
    return ${literal(messageOf(fields))}


${controlled.length > 0 ? receiving(controlled) : ''}${guards ? pythonGuarding(files) : ''}def post(path, body):
    """Asks the server. Returns what it told, if anything."""
    request = urllib.request.Request(
        SERVER + path,
        data=json.dumps(body).encode(),
        headers={
            "Content-Type": "application/json",
            "Authorization": "Bearer " + SECRETS["address"] + "." + SECRETS["secret"],
        },
    )
    with urllib.request.urlopen(request, timeout=20) as answer:
        told = answer.read()
    return json.loads(told) if told else {}


def send(waiting):
    """Sends what waits. Returns whether it is done with, and how long the server asks to wait."""
    try:
        told = post("${inbox({ controlled, guards })}", waiting)
        for refused in told.get("refused", []):
            print("Refused:", refused["field"], "-", refused["reason"], flush=True)
${controlled.length > 0 ? '        for command in told.get("commands", []):\n            take(command)\n' : ''}${guards ? '        heard_guard(told.get("guard", GUARD))\n' : ''}        return True, 0
    except urllib.error.HTTPError as error:
        try:
            why = json.loads(error.read()).get("detail", error.reason)
        except ValueError:
            why = error.reason
        if error.code == 401:
            raise SystemExit(f"The server does not take this address and secret: {why} Put the right ones into secrets.json.")
        print(f"The server answered {error.code}: {why}", flush=True)
        # What is wrong in itself is wrong the next time too; what the server cannot take now is sent again.
        later = error.code == 429 or error.code >= 500
        return not later, int(error.headers.get("Retry-After") or 0)
    except OSError as error:
        print(f"No way to {SERVER}: {error}. It is tried again.", flush=True)
        return False, 0


def main():
    waiting = []
    failures = 0
    next_try = 0.0
${controlled.length > 0 || guards ? '    heard = time.monotonic()\n' : ''}    while True:
        began = time.monotonic()
        reading = read()
${controlled.length > 0 ? '        tell_states(reading)\n' : ''}        if time.time() > 1_700_000_000:
            reading["t"] = round(time.time(), 3)
        else:
            print("The clock is not set: the server stamps what it gets, and nothing is kept meanwhile.", flush=True)
            waiting = []
        waiting = (waiting + [reading])[-MOST_WAITING:]
        if began >= next_try:
            done, wait = send(waiting)
            failures = 0 if done else failures + 1
            if done:
                waiting = []
${controlled.length > 0 || guards ? '                heard = time.monotonic()\n' : ''}            next_try = time.monotonic() + max(wait, 0 if done else min(300, 2**min(failures, 8)))
${controlled.length > 0 ? '        if time.monotonic() - heard > SAFE_AFTER:\n            make_safe()\n' : ''}${guards ? '        guard(reading, time.monotonic() - heard > ALONE_AFTER)\n' : ''}        time.sleep(max(0.0, EVERY - (time.monotonic() - began)))


if __name__ == "__main__":
    main()
`,
    },
  ],
}

/** A computer has files beside the program. */
const files = {
  read: 'json.loads((Path(__file__).parent / "limits.json").read_text())',
  write: '(Path(__file__).parent / "limits.json").write_text(json.dumps(GUARD))',
  clock: 'time.monotonic()',
}

/** The side that is told something: it obeys no command twice and none that is late, and goes safe when nobody is there. */
const receiving = (
  controlled: readonly ProgramField[],
): string => `SAFE_AFTER = 120  # seconds without the server
SAFE = ${literal(safeStates(controlled))}  # what can be asked for, with its safe state; what is momentary has none
STATE = dict(SAFE)
OBEYED = Path(__file__).parent / "obeyed.json"  # the number of the last command of each
LAST = json.loads(OBEYED.read_text()) if OBEYED.exists() else {}


def obey(signal, value):
    """The other place to fill in: switch or set it. Return why not, if it must not be; else nothing."""
    print("sets", signal, "to", value, flush=True)


def make_safe():
    for signal, value in SAFE.items():
        if value is not None and STATE[signal] != value:
            obey(signal, value)
            STATE[signal] = value


def take(command):
    """Obeys a command once and in time, and says so."""
    signal, number = command["signal"], command["id"]
    answer = {"id": number, "says": "done"}
    if signal not in SAFE:
        answer.update(says="refused", why="this board has no " + signal)
    elif number > LAST.get(signal, 0):
        if time.time() * 1000 > command["until"]:
            answer["says"] = "expired"
        else:
            LAST[signal] = number
            # Before it is done: cut off in between, it is not done twice.
            OBEYED.write_text(json.dumps(LAST))
            why = obey(signal, command["value"])
            if why:
                answer.update(says="refused", why=why)
            elif SAFE[signal] is not None:
                STATE[signal] = command["value"]
    if answer["says"] == "done" and SAFE[signal] is not None:
        answer["value"] = STATE[signal]
    post("/state/" + signal, answer)


def tell_states(reading):
    """What each is now goes with what is measured."""
    for signal, value in STATE.items():
        if value is not None:
            *folders, name = signal.split("/")
            place = reading
            for folder in folders:
                place = place.setdefault(folder, {})
            place[name] = value


`
