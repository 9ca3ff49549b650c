import { cppGuarding, numbersOf } from './cppGuarding.ts'
import { cppMessage, cppPrinting, cppText } from './cppMessage.ts'
import { cppKeeping, cppMember, cppObeying } from './cppReceiving.ts'
import type { ProgramFile, ProgramTarget } from './program.ts'

/** How the readings get to the server: one of the two files a Wi-Fi board needs beside its secrets. */
export interface CppWay {
  /** Name of the header. */
  readonly header: string
  /** Its text, after what all have: it says \`Outcome send(Client& stream, const char* waiting)\`. */
  readonly text: string
  /** How what is asked for is taken, by `takeAll`; absent where nothing can be asked for that way. */
  readonly taking?: string
  /** What is done while it waits for its next turn, where something may come meanwhile. */
  readonly listening?: (takes: boolean, guards: boolean) => string
  /** How what it guards by is taken when a message was delivered. */
  readonly guarding: string
  readonly host: string
  readonly port: number
  readonly isEncrypted: boolean
}

/** The files of a program for a Wi-Fi board that sends in one way or another. */
export function cppWifiBoard(target: ProgramTarget, secret: string, way: CppWay): ProgramFile[] {
  const { address, seconds, sleeps, fields } = target
  const controlled = way.taking === undefined ? [] : target.controlled
  const takes = controlled.length > 0
  const { guards } = target
  const keeps = takes || guards
  return [
    { name: 'board_secrets.h', isSecret: true, text: secrets(target, secret, way) },
    {
      name: 'board.ino',
      text: `// Sends what ${address} measures.
#if !__has_include(<WiFi.h>)
#error "This program is for a board with Wi-Fi: choose yours in the menu of boards, then compile again."
#endif
#include <WiFi.h>
#include <math.h>
#include <time.h>
${way.isEncrypted ? '#include <WiFiClientSecure.h>\n' : ''}#if __has_include(<esp_sleep.h>)
#include <esp_sleep.h>
#define CAN_SLEEP
#endif
#include "board_secrets.h"
#include "${way.header}"
${keeps ? cppKeeping : ''}
const char HOST[] = ${cppText(way.host)};
const uint16_t PORT = ${way.port};
const unsigned long EVERY = ${seconds};  // seconds
const bool SLEEPS = ${sleeps};  // whether the board sleeps in between, where it can

${keeps ? `${cppMember}\n\n` : ''}${takes ? `${cppObeying(controlled, false)}\n\n` : ''}${guards ? `${cppGuarding(numbersOf(fields), controlled.length * 4, false)}\n\n` : ''}${cppMessage(fields, controlled, guards)}

${way.isEncrypted ? 'WiFiClientSecure' : 'WiFiClient'} stream;
KEPT char waiting[3000];  // readings that have not been sent, one a line; the oldest go when it is full
KEPT long pause_ = 0;  // seconds until it is tried again
KEPT unsigned failures = 0;
${takes ? 'unsigned long heard = 0;  // when the server was there last, ms since this began\n' : ''}
bool connectWifi() {
  if (WiFi.status() == WL_CONNECTED) return true;
  WiFi.begin(WIFI_NAME, WIFI_PASSWORD);
  for (int turn = 0; turn < 40 && WiFi.status() != WL_CONNECTED; turn++) delay(500);
  if (WiFi.status() == WL_CONNECTED) return true;
  Serial.println("No network: is it near, and its password right?");
  return false;
}

bool isClockSet() {
  return time(nullptr) > 1700000000;
}

void setClock() {
  if (isClockSet()) return;
  configTime(0, 0, "pool.ntp.org", "time.nist.gov");
  for (int turn = 0; turn < 20 && !isClockSet(); turn++) delay(500);
  if (!isClockSet())
    Serial.println("The clock is not set: the server stamps what it gets, and nothing is kept meanwhile.");
}

${takes ? `${late}\n\n${way.taking}\n\n` : ''}// Takes a reading with its time to those that wait.
void measure() {
  static char text[1000];
  Text reading(text, sizeof text);
  readSensors(reading);
  if (isClockSet()) {
    reading.print(",\\"t\\":");
    reading.print((unsigned long)time(nullptr));
  } else {
    waiting[0] = 0;
  }
  reading.print('}');
  if (!reading.isWhole()) Serial.println("A reading is longer than its room of 1000 bytes: make that larger.");
  else keep(waiting, sizeof waiting, text);
}

void setup() {
  Serial.begin(115200);
${takes ? '  recall();\n' : ''}${guards ? '  recallGuard();\n' : ''}}

void loop() {
  const unsigned long began = millis();
  const bool isThere = connectWifi();
  if (isThere) setClock();
  measure();
  if (pause_ <= 0) {
    Outcome outcome = LATER;
    if (isThere) outcome = deliver(stream, HOST, PORT, waiting);
    if (outcome == WRONG_SECRET) {
      Serial.println("The server does not take this address and secret. Put the right ones into board_secrets.h.");
      // Trying again would change nothing.
      while (true) delay(60000);
    }
    if (outcome == DONE) {
      waiting[0] = 0;
      failures = 0;
${guards ? `      ${way.guarding}\n` : ''}${takes ? '      heard = millis();\n      takeAll();\n' : ''}    } else {
      // Not too often, so that a server that comes back is not overrun.
      if (failures < 8) failures++;
      pause_ = min(300L, 1L << failures);
    }
  }
${takes ? '  if (millis() - heard > SAFE_AFTER * 1000UL) makeSafe();\n' : ''}${guards ? '  guard();\n' : ''}  pause_ -= (long)EVERY;
#ifdef CAN_SLEEP
  if (SLEEPS) esp_deep_sleep(EVERY * 1000000ULL);
#endif
  while (millis() - began < EVERY * 1000UL) ${(takes || guards) && way.listening ? `{\n    ${way.listening(takes, guards)}\n    delay(10);\n  }` : 'delay(10);'}
}
`,
    },
    { name: way.header, text: `${beginning}\n\n${way.text}\n` },
  ]
}

const secrets = ({ address, authority }: ProgramTarget, secret: string, way: CppWay): string => `#pragma once
const char WIFI_NAME[] = "PUT-THE-NETWORK-HERE";
const char WIFI_PASSWORD[] = "PUT-ITS-PASSWORD-HERE";
const char ADDRESS[] = ${cppText(address)};
const char SECRET[] = ${cppText(secret)};
${
  way.isEncrypted
    ? `// Who vouches for the server: the certificate its own is signed by.
const char AUTHORITY[] = R"(
${authority?.trim() ?? 'PUT-THE-CERTIFICATE-HERE'}
)";
#define ENCRYPTED
`
    : ''
}`

/** Until when a command holds. */
const late = `// Whether the time of a command is over, which is told in thousandths of a second.
bool isOver(char* until) {
  const size_t digits = strlen(until);
  if (digits > 3) until[digits - 3] = 0;
  return isClockSet() && strtoul(until, nullptr, 10) < (unsigned long)time(nullptr);
}`

/** What both ways have: bytes that are printed into memory, readings that wait, and the line to the server. */
const beginning = `// Speaks with the server over any stream of bytes.
#pragma once
#include <Arduino.h>
#include <Client.h>
#include <math.h>
#include <string.h>

// What a sleeping board keeps, where it can.
#ifdef RTC_DATA_ATTR
#define KEPT RTC_DATA_ATTR
#else
#define KEPT
#endif

enum Outcome { DONE, LATER, WRONG_SECRET };

const unsigned long PATIENCE = 15000;  // ms that the server may take to answer

// Prints into memory, and knows whether all of it had room.
class Text : public Print {
 public:
  Text(char* room, size_t size) : room_(room), size_(size) { room_[0] = 0; }
  size_t write(uint8_t byte) override {
    if (length_ + 1 >= size_) {
      isWhole_ = false;
      return 0;
    }
    room_[length_++] = (char)byte;
    room_[length_] = 0;
    return 1;
  }
  bool isWhole() const { return isWhole_; }

 private:
  char* room_;
  size_t size_;
  size_t length_ = 0;
  bool isWhole_ = true;
};

${cppPrinting}

// Puts a line to those that wait; the oldest go where there is no room.
inline void keep(char* waiting, size_t size, const char* line) {
  const size_t needed = strlen(line) + 2;
  if (needed > size) return;
  while (waiting[0] != 0 && strlen(waiting) + needed > size) {
    const char* next = strchr(waiting, '\\n');
    if (next == nullptr) waiting[0] = 0;
    else memmove(waiting, next + 1, strlen(next + 1) + 1);
  }
  if (waiting[0] != 0) strcat(waiting, "\\n");
  strcat(waiting, line);
}

// Writes all that waits as one array of JSON: two bytes longer than it is kept.
inline void writeArray(Client& stream, const char* waiting) {
  stream.write((const uint8_t*)"[", 1);
  for (const char* at = waiting; *at != 0;) {
    const char* end = strchr(at, '\\n');
    const size_t length = end == nullptr ? strlen(at) : (size_t)(end - at);
    stream.write((const uint8_t*)at, length);
    at += length;
    if (*at == '\\n') {
      stream.write((const uint8_t*)",", 1);
      at++;
    }
  }
  stream.write((const uint8_t*)"]", 1);
}

// The next byte, or -1 when none comes in time.
inline int nextByte(Client& stream, unsigned long began) {
  while (!stream.available()) {
    if (!stream.connected() || millis() - began > PATIENCE) return -1;
    delay(1);
  }
  return stream.read();
}

inline bool reach(Client& stream, const char* host, uint16_t port) {
  if (stream.connected()) return true;
  if (stream.connect(host, port)) return true;
  Serial.print("No way to ");
  Serial.print(host);
  Serial.print(':');
  Serial.print((unsigned long)port);
  Serial.println(". It is tried again.");
  return false;
}`
