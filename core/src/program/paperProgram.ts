import { microPythonWifi } from './microPythonWifi.ts'
import type { ProgramFile } from './program.ts'

/** What the program of a display of paper is written for. */
export interface PaperTarget {
  /** Where people reach the server, such as http://192.168.1.20:7600. */
  readonly url: string
  /** Of the link by which the page is shown. */
  readonly token: string
  /** px */
  readonly width: number
  readonly height: number
  readonly greys: 2 | 4
}

/**
 * The program of a display of paper: it asks once, shows what came, and sleeps until there is something new. In MicroPython; what
 * the display needs is one function to fill in.
 */
export const paperProgram = ({ url, token, width, height, greys }: PaperTarget): readonly ProgramFile[] => [
  {
    name: 'paper_secrets.py',
    isSecret: true,
    text: `WIFI_NAME = "PUT-THE-NETWORK-HERE"
WIFI_PASSWORD = "PUT-ITS-PASSWORD-HERE"
TOKEN = ${JSON.stringify(token)}
`,
  },
  {
    name: 'main.py',
    text: `# Shows a page on a display of paper, and sleeps until there is something new.
import io
import time

import deflate
import machine
import network
import urequests

import paper_secrets as secrets

SERVER = ${JSON.stringify(url)}
WIDTH = ${width}
HEIGHT = ${height}
GREYS = ${greys}
BITS = ${greys === 2 ? 1 : 2}  # of a pixel; most are white
LONGEST = 3600  # seconds
SEEN = "seen.txt"  # what is on the display; a board that sleeps forgets everything but files


def show(rows):
    # The one place to fill in: give the rows to the display, from the top. Each is bytes, the leftmost pixel in the highest bits.
    print("shows", len(rows), "rows of", len(rows[0]), "bytes")


${microPythonWifi}


def seen():
    try:
        with open(SEEN) as file:
            return file.read()
    except OSError:
        return ""


def remember(tag):
    with open(SEEN, "w") as file:
        file.write(tag)


def nearest(left, above, corner):
    # The filter of Paeth (PNG, 9.4).
    guess = left + above - corner
    off = (abs(guess - left), abs(guess - above), abs(guess - corner))
    return (left, above, corner)[off.index(min(off))]


def rows_of(png):
    # The rows of a grey picture (PNG, 3rd edition), without their filters.
    at = 8
    packed = b""
    while at < len(png):
        length = int.from_bytes(png[at : at + 4], "big")
        if png[at + 4 : at + 8] == b"IDAT":
            packed += png[at + 8 : at + 8 + length]
        at += length + 12
    lines = deflate.DeflateIO(io.BytesIO(packed), deflate.ZLIB).read()
    size = (WIDTH * BITS + 7) // 8
    rows = []
    above = bytes(size)
    for start in range(0, HEIGHT * (size + 1), size + 1):
        kind = lines[start]
        row = bytearray(lines[start + 1 : start + 1 + size])
        for x in range(size):
            left = row[x - 1] if x > 0 else 0
            corner = above[x - 1] if x > 0 else 0
            if kind == 1:
                row[x] = (row[x] + left) & 255
            elif kind == 2:
                row[x] = (row[x] + above[x]) & 255
            elif kind == 3:
                row[x] = (row[x] + (left + above[x]) // 2) & 255
            elif kind == 4:
                row[x] = (row[x] + nearest(left, above[x], corner)) & 255
        rows.append(bytes(row))
        above = row
    return rows


def header(answer, name):
    for key in answer.headers:
        if key.lower() == name:
            return answer.headers[key]
    return ""


def refresh():
    # Shows what is new. How long to sleep, in seconds.
    path = "/api/shared/" + secrets.TOKEN + "/paper.png?width=" + str(WIDTH) + "&height=" + str(HEIGHT)
    try:
        answer = urequests.get(SERVER + path + "&greys=" + str(GREYS), headers={"If-None-Match": seen()})
    except OSError as error:
        print("No way to", SERVER, ":", error, "It is tried again.")
        return 300
    status = answer.status_code
    pause = LONGEST
    for said in header(answer, "cache-control").split(","):
        if said.strip().startswith("max-age="):
            pause = int(said.strip()[8:])
    if status == 200:
        show(rows_of(answer.content))
        remember(header(answer, "etag"))
    elif status == 304:
        print("nothing is new")
    elif status == 429 or status >= 500:
        print("The server answered", status)
        pause = 300
    else:
        print("Nothing is shown by this link any more: the server answered", status, answer.text)
    answer.close()
    return max(60, min(LONGEST, pause))


machine.deepsleep((refresh() if connect() else 300) * 1000)
`,
  },
]
