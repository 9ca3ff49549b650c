import { pythonGuarding } from './guarding.ts'
import { microPythonWifi } from './microPythonWifi.ts'
import { inbox, messageOf, type ProgramField, type ProgramKind, safeStates } from './program.ts'
import { literal } from './pythonProgram.ts'

export const microPythonProgram: ProgramKind = {
  key: 'micropython',
  name: 'MicroPython',
  says: 'For a Wi-Fi board with MicroPython; copy both files onto it. Tried with Python on a computer, over stand-ins for the board.',
  write: ({ address, url, seconds, sleeps, fields, controlled, guards }, secret) => [
    {
      name: 'board_secrets.py',
      isSecret: true,
      text: `WIFI_NAME = "PUT-THE-NETWORK-HERE"
WIFI_PASSWORD = "PUT-ITS-PASSWORD-HERE"
ADDRESS = ${JSON.stringify(address)}
SECRET = ${JSON.stringify(secret)}
`,
    },
    {
      name: 'main.py',
      text: `# Sends what ${address} measures.
import json
import time

import machine
import network
import ntptime
import urequests

import board_secrets as secrets

SERVER = ${JSON.stringify(url)}
EVERY = ${seconds}  # seconds
SLEEPS = ${sleeps ? 'True' : 'False'}  # whether the board sleeps in between, which forgets everything but files
MOST_WAITING = 30  # readings that are kept while there is no way to the server
WAITING = "waiting.json"


def read():
    # The one place to fill in: what the sensors say now.
    return ${literal(messageOf(fields))}


${microPythonWifi}


def clock():
    # Some boards count from 2000, some from 1970.
    now = time.time() + (946684800 if time.gmtime(0)[0] == 2000 else 0)
    return int(now) if now > 1700000000 else None


def set_clock():
    if clock() is None:
        try:
            ntptime.settime()
        except OSError:
            print("The clock is not set: the server stamps what it gets, and nothing is kept meanwhile.")


${controlled.length > 0 ? receiving(controlled) : ''}${guards ? `${boardFiles}${pythonGuarding(files)}` : ''}def post(path, body):
    return urequests.post(
        SERVER + path,
        data=json.dumps(body),
        headers={
            "Content-Type": "application/json",
            "Authorization": "Bearer " + secrets.ADDRESS + "." + secrets.SECRET,
        },
    )


def send(waiting):
    # Whether it is done with.
    try:
        answer = post("${inbox({ controlled, guards })}", waiting)
    except OSError as error:
        print("No way to", SERVER, ":", error, "It is tried again.")
        return False
    status = answer.status_code
    told = answer.text
    answer.close()
    if status == 401:
        print("The server does not take this address and secret. Put the right ones into board_secrets.py.", told)
        raise SystemExit(1)
    if status not in (200, 204):
        print("The server answered", status, told)
    elif told:
        told = json.loads(told)
        if told["refused"]:
            print("Partly refused:", told["refused"])
${
  controlled.length > 0
    ? `        for command in told["commands"]:
            try:
                take(command)
            except OSError as error:
                print("The answer did not get there:", error)
`
    : ''
}${guards ? '        heard_guard(told.get("guard", GUARD))\n' : ''}    # What is wrong in itself is wrong the next time too; what the server cannot take now is sent again.
    return status != 429 and status < 500


def kept():
    try:
        with open(WAITING) as file:
            return json.load(file)
    except (OSError, ValueError):
        return []


def keep(waiting):
    with open(WAITING, "w") as file:
        json.dump(waiting, file)


def main():
    waiting = kept() if SLEEPS else []
    failures = 0
    pause = 0
${controlled.length > 0 || guards ? '    heard = time.time()\n' : ''}    while True:
        began = time.time()
        is_there = connect()
        if is_there:
            set_clock()
        reading = read()
${controlled.length > 0 ? '        tell_states(reading)\n' : ''}        now = clock()
        if now is None:
            waiting = []
        else:
            reading["t"] = now
        waiting = (waiting + [reading])[-MOST_WAITING:]
        done = is_there and pause <= 0 and send(waiting)
        if done:
            waiting = []
            failures = 0
            pause = 0
${controlled.length > 0 || guards ? '            heard = time.time()\n' : ''}        elif pause <= 0:
            # Not too often, so that a server that comes back is not overrun.
            failures = min(failures + 1, 8)
            pause = min(300, 2**failures)
        pause -= EVERY
${controlled.length > 0 ? '        if time.time() - heard > SAFE_AFTER:\n            make_safe()\n' : ''}${guards ? '        guard(reading, time.time() - heard > ALONE_AFTER)\n' : ''}        if SLEEPS:
            if waiting or kept():
                keep(waiting)
            machine.deepsleep(EVERY * 1000)
        time.sleep(max(0, EVERY - (time.time() - began)))


main()
`,
    },
  ],
}

/** A board has files of its own. */
const files = {
  read: 'read_json("limits.json")',
  write: 'write_json("limits.json", GUARD)',
  clock: 'time.time()',
}
const boardFiles = `def read_json(name):
    with open(name) as file:
        return json.load(file)


def write_json(name, value):
    with open(name, "w") as file:
        json.dump(value, file)


`

/** The side that is told something: it obeys no command twice and none that is late, and goes safe when nobody is there. */
const receiving = (
  controlled: readonly ProgramField[],
): string => `SAFE_AFTER = 120  # seconds without the server
SAFE = ${literal(safeStates(controlled))}  # what can be asked for, with its safe state; what is momentary has none
OBEYED = "obeyed.json"  # the number of the last command of each, and what was set


def obeyed():
    try:
        with open(OBEYED) as file:
            return json.load(file)
    except (OSError, ValueError):
        return {"last": {}, "state": {}}


KEPT = obeyed()
LAST = KEPT["last"]
STATE = dict(SAFE)
STATE.update(KEPT["state"])


def keep_obeyed():
    with open(OBEYED, "w") as file:
        json.dump({"last": LAST, "state": STATE}, file)


def obey(signal, value):
    # The other place to fill in: switch or set it. Return why not, if it must not be; else nothing.
    print("sets", signal, "to", value)


def make_safe():
    for signal, value in SAFE.items():
        if value is not None and STATE[signal] != value:
            obey(signal, value)
            STATE[signal] = value
            keep_obeyed()


def take(command):
    # Obeys a command once and in time, and says so.
    signal, number = command["signal"], command["id"]
    answer = {"id": number, "says": "done"}
    now = clock()
    if signal not in SAFE:
        answer["says"] = "refused"
        answer["why"] = "this board has no " + signal
    elif number > LAST.get(signal, 0):
        if now is None or now * 1000 > command["until"]:
            answer["says"] = "expired"
        else:
            LAST[signal] = number
            # Before it is done: cut off in between, it is not done twice.
            keep_obeyed()
            why = obey(signal, command["value"])
            if why:
                answer["says"] = "refused"
                answer["why"] = why
            elif SAFE[signal] is not None:
                STATE[signal] = command["value"]
                keep_obeyed()
    if answer["says"] == "done" and SAFE[signal] is not None:
        answer["value"] = STATE[signal]
    post("/state/" + signal, answer).close()


def tell_states(reading):
    # What each is now goes with what is measured.
    for signal, value in STATE.items():
        if value is not None:
            folders = signal.split("/")
            place = reading
            for folder in folders[:-1]:
                place = place.setdefault(folder, {})
            place[folders[-1]] = value


`
