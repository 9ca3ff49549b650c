import { cppMessage, cppPrinting } from './cppMessage.ts'
import type { ProgramKind } from './program.ts'

/** What any serial line can be. */
const speed = 9600

export const cppSerialProgram: ProgramKind = {
  key: 'cpp-serial',
  name: 'C++, over a USB cable',
  says: `For any board on a cable to the server, or to a computer with the forwarder. It speaks ${speed} baud, and needs no secret.`,
  write: ({ address, seconds, fields }) => [
    {
      name: 'board.ino',
      text: `// Prints what ${address} measures, one line of JSON at a time.
#if !defined(ARDUINO)
#error "This program is for a microcontroller: choose your board in the menu of boards, then compile again."
#endif
#include <Arduino.h>
#include <math.h>

const unsigned long EVERY = ${seconds};  // seconds

// Both are said further down.
inline void printNumber(Print& out, double value);
inline void printText(Print& out, const char* text);

${cppMessage(fields)}

${cppPrinting}

void setup() {
  Serial.begin(${speed});
}

void loop() {
  const unsigned long began = millis();
  readSensors(Serial);
  Serial.println('}');
  while (millis() - began < EVERY * 1000UL) delay(1);
}
`,
    },
  ],
}
