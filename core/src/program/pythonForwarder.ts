import type { ProgramKind } from './program.ts'

export const pythonForwarder: ProgramKind = {
  key: 'forwarder-python',
  name: 'Forwarder in Python',
  says: 'For a board on a cable to some other computer: it sends what the board prints to the server. On Linux and macOS nothing else is installed.',
  write: ({ address, url }, secret) => [
    {
      name: 'secrets.json',
      isSecret: true,
      text: `${JSON.stringify({ address, secret }, null, 2)}\n`,
    },
    {
      name: 'forward.py',
      text: `#!/usr/bin/env python3
"""Sends what a board prints on a cable to the server, as ${address}. Run it with: python3 forward.py /dev/ttyUSB0 9600"""
import json
import os
import sys
import threading
import time
import urllib.error
import urllib.request
from collections import deque
from pathlib import Path

SERVER = ${JSON.stringify(url)}
MOST_WAITING = 5000  # lines that are kept while there is no way to the server
AT_ONCE = 200  # lines that are sent at a time
SECRETS = json.loads((Path(__file__).parent / "secrets.json").read_text())


def open_port(path, speed):
    try:
        import serial  # where it is installed, as it has to be on Windows: pip install pyserial
    except ImportError:
        import termios

        port = os.open(path, os.O_RDONLY | os.O_NOCTTY)
        modes = termios.tcgetattr(port)
        rate = getattr(termios, "B" + str(speed), None)
        if rate is None:
            print("This computer knows no speed of", speed, "baud.", flush=True)
            raise SystemExit(1)
        # Bytes as they are: no echo, no changed line ends, no signals.
        modes[0] = modes[1] = modes[3] = 0
        modes[2] = termios.CS8 | termios.CREAD | termios.CLOCAL
        modes[4] = modes[5] = rate
        termios.tcsetattr(port, termios.TCSANOW, modes)
        return os.fdopen(port, "rb", buffering=0)
    return serial.Serial(path, speed)


def listen(path, speed, waiting, came):
    """Reads lines for ever; a cable that was pulled is tried again."""
    is_told = False
    while True:
        try:
            with open_port(path, speed) as port:
                print("Listening to", path, "at", speed, "baud.", flush=True)
                is_told = False
                rest = b""
                while True:
                    piece = port.read(256) if not hasattr(port, "in_waiting") else port.read(port.in_waiting or 1)
                    if not piece:
                        raise OSError("it was pulled")
                    *lines, rest = (rest + piece)[-100000:].split(b"\\n")
                    for line in lines:
                        # What a board asks the server by cable has no answer here.
                        if line.strip() not in (b"", b"limits?"):
                            waiting.append((time.time(), line.strip()))
                            came.set()
        except OSError as error:
            if not is_told:
                print(path, "cannot be read:", error, "It is tried again every second.", flush=True)
            is_told = True
            time.sleep(1)


def body_of(lines):
    """What can be sent at once: objects of JSON together and with their times, any other line by itself."""
    readings = []
    for at, line in lines:
        try:
            reading = json.loads(line)
        except ValueError:
            reading = None
        if not isinstance(reading, dict):
            break
        reading.setdefault("t", round(at, 3))
        readings.append(reading)
    if readings:
        return len(readings), "application/json", json.dumps(readings).encode()
    line = lines[0][1]
    kind = "application/json" if line[:1] in (b"[", b"{") else "text/x.pairs"
    return 1, kind, line


def send(kind, body):
    """Returns whether it is done with, and how long the server asks to wait."""
    request = urllib.request.Request(
        SERVER + "/in",
        data=body,
        headers={
            "Content-Type": kind,
            "Authorization": "Bearer " + SECRETS["address"] + "." + SECRETS["secret"],
        },
    )
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            told = answer.read()
        if told:
            print("Partly refused:", told.decode(), flush=True)
        return True, 0
    except urllib.error.HTTPError as error:
        told = error.read().decode()
        if error.code == 401:
            print("The server does not take this address and secret. Put the right ones into secrets.json.", told, flush=True)
            os._exit(1)
        print("The server answered", error.code, told, flush=True)
        later = error.code == 429 or error.code >= 500
        return not later, int(error.headers.get("Retry-After", 0)) if later else 0
    except OSError as error:
        print("No way to", SERVER, ":", error, "It is tried again.", flush=True)
        return False, 0


def main():
    if len(sys.argv) < 2:
        print("Say which port, and how fast: python3 forward.py /dev/ttyUSB0 9600")
        raise SystemExit(1)
    path = sys.argv[1]
    speed = int(sys.argv[2]) if len(sys.argv) > 2 else 9600
    waiting = deque(maxlen=MOST_WAITING)
    came = threading.Event()
    threading.Thread(target=listen, args=(path, speed, waiting, came), daemon=True).start()
    failures = 0
    while True:
        came.wait()
        came.clear()
        while waiting:
            lines = [waiting[place] for place in range(min(AT_ONCE, len(waiting)))]
            count, kind, body = body_of(lines)
            done, wait = send(kind, body)
            if done:
                failures = 0
                # Meanwhile the oldest may have gone, where too many waited.
                sent = lines[:count]
                while waiting and sent and waiting[0] in sent:
                    waiting.popleft()
            else:
                failures = min(failures + 1, 8)
                time.sleep(max(wait, min(300, 2**failures)))


main()
`,
    },
  ],
}
