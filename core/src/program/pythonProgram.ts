import { messageOf, type ProgramKind } from './program.ts'

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
  write: ({ address, url, seconds, fields }, secret) => [
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


def send(waiting):
    """Sends what waits. Returns whether it is done with, and how long the server asks to wait."""
    request = urllib.request.Request(
        SERVER + "/in",
        data=json.dumps(waiting).encode(),
        headers={
            "Content-Type": "application/json",
            "Authorization": "Bearer " + SECRETS["address"] + "." + SECRETS["secret"],
        },
    )
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            told = answer.read()
        for refused in json.loads(told).get("refused", []) if told else []:
            print("Refused:", refused["field"], "-", refused["reason"], flush=True)
        return True, 0
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
    while True:
        began = time.monotonic()
        reading = read()
        if time.time() > 1_700_000_000:
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
            next_try = time.monotonic() + max(wait, 0 if done else min(300, 2**min(failures, 8)))
        time.sleep(max(0.0, EVERY - (time.monotonic() - began)))


if __name__ == "__main__":
    main()
`,
    },
  ],
}
