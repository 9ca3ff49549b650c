import { cppGuarding, numbersOf } from './cppGuarding.ts'
import { cppMessage, cppPrinting } from './cppMessage.ts'
import { cppKeeping, cppMember, cppObeying, cppOnCable } from './cppReceiving.ts'
import type { ProgramKind } from './program.ts'

/** What any serial line can be. */
const speed = 9600

export const cppSerialProgram: ProgramKind = {
  key: 'cpp-serial',
  name: 'C++, over a USB cable',
  says: `For any board on a cable to the server, or to a computer with the forwarder. It speaks ${speed} baud, and needs no secret.`,
  write: ({ address, seconds, fields, controlled, guards }) => [
    {
      name: 'board.ino',
      text: `// Prints what ${address} measures, one line of JSON at a time.
#if !defined(ARDUINO)
#error "This program is for a microcontroller: choose your board in the menu of boards, then compile again."
#endif
#include <Arduino.h>
#include <math.h>
${controlled.length > 0 || guards ? `${cppKeeping}` : ''}
const unsigned long EVERY = ${seconds};  // seconds

// Both are said further down.
inline void printNumber(Print& out, double value);
inline void printText(Print& out, const char* text);

${controlled.length > 0 || guards ? `${cppMember}\n\n` : ''}${controlled.length > 0 ? `${cppObeying(controlled, true)}\n\n` : ''}${guards ? `${cppGuarding(numbersOf(fields), controlled.length * 4, true)}\n\n` : ''}${controlled.length > 0 || guards ? `${cppOnCable(controlled.length > 0, guards)}\n\n` : ''}${cppMessage(fields, controlled, guards)}

${cppPrinting}

void setup() {
  Serial.begin(${speed});
${controlled.length > 0 ? '  recall();\n' : ''}${guards ? '  recallGuard();\n' : ''}}

void loop() {
  const unsigned long began = millis();
  readSensors(Serial);
  Serial.println('}');
${guards ? '  if (guardHeard == 0 || isAlone()) Serial.println(F("limits?"));\n' : ''}
  while (millis() - began < EVERY * 1000UL) ${controlled.length > 0 || guards ? `{\n    listen(Serial, Serial);\n${guards ? '    guard();\n' : ''}    delay(1);\n  }` : 'delay(1);'}
}
`,
    },
  ],
}
