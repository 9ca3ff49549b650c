import { cppText } from './cppMessage.ts'
import { type ProgramField, safeStates } from './program.ts'

/**
 * What a board can be asked for, and how it obeys: no command twice, and safe when nobody is there.
 * @param isCable whether its lines go to the server, and it prints nothing for people
 */
export function cppObeying(controlled: readonly ProgramField[], isCable: boolean): string {
  const rows = Object.entries(safeStates(controlled)).map(([name, value]) => {
    const safe = value === null ? '' : JSON.stringify(value)
    return `  {${cppText(name)}, ${cppText(safe)}, ${cppText(safe)}, 0},`
  })
  return `// What can be asked for: its name, its safe state and what it is now as JSON (what is momentary has neither), and the number of
// its last command.
struct Controlled {
  const char* name;
  const char* safe;
  char state[24];
  uint32_t obeyed;
};
Controlled controlled[] = {
${rows.join('\n')}
};
const unsigned long SAFE_AFTER = 120;  // seconds without a word of the server

// The other place to fill in: switch or set it. Return why not, if it must not be; else nullptr.
const char* obey(const char* name, const char* value) {
  // strcmp(name, "fogger") == 0: digitalWrite(FOGGER, strcmp(value, "true") == 0 ? HIGH : LOW);
  ${isCable ? '(void)name;\n  (void)value;' : 'Serial.print("sets ");\n  Serial.print(name);\n  Serial.print(" to ");\n  Serial.println(value);'}
  return nullptr;
}

void recall() {
  startKeeping();
  for (size_t place = 0; place < sizeof controlled / sizeof controlled[0]; place++) {
    EEPROM.get(place * sizeof(uint32_t), controlled[place].obeyed);
    // So is memory that was never written.
    if (controlled[place].obeyed == 0xffffffffUL) controlled[place].obeyed = 0;
  }
}

// What is said to a command, and what it is now.
struct Answer {
  const char* says;
  const char* why;
  const char* state;
};

// Obeys a command once and in time. The line holds its value.
Answer carryOut(const char* name, uint32_t id, const char* line, bool isLate) {
  for (size_t place = 0; place < sizeof controlled / sizeof controlled[0]; place++) {
    Controlled& one = controlled[place];
    if (strcmp(one.name, name) != 0) continue;
    if (id <= one.obeyed) return {"done", nullptr, one.state};
    if (isLate) return {"expired", nullptr, ""};
    char value[24];
    if (!member(line, "\\"value\\":", value, sizeof value, false))
      return {"refused", "its value is longer than this board has room for", ""};
    one.obeyed = id;
    // Before it is done: cut off in between, it is not done twice.
    EEPROM.put(place * sizeof(uint32_t), id);
    finishKeeping();
    const char* why = obey(name, value);
    if (why != nullptr) return {"refused", why, ""};
    if (one.safe[0] != 0) strcpy(one.state, value);
    return {"done", nullptr, one.state};
  }
  static char none[60];
  snprintf(none, sizeof none, "this board has no %s", name);
  return {"refused", none, ""};
}

// Prints an answer, without the beginning of its object.
void printAnswer(Print& out, uint32_t id, const Answer& answer) {
  out.print(F("\\"id\\":"));
  out.print((unsigned long)id);
  out.print(F(",\\"says\\":\\""));
  out.print(answer.says);
  out.print('"');
  if (answer.why != nullptr) {
    out.print(F(",\\"why\\":"));
    printText(out, answer.why);
  } else if (answer.state[0] != 0) {
    out.print(F(",\\"value\\":"));
    out.print(answer.state);
  }
  out.print('}');
}

void makeSafe() {
  for (Controlled& one : controlled) {
    if (one.safe[0] == 0 || strcmp(one.state, one.safe) == 0) continue;
    obey(one.name, one.safe);
    strcpy(one.state, one.safe);
  }
}`
}

/** How a member of a line of JSON is found. */
export const cppMember = `// Copies what stands in a line of JSON for a member, without quotes round a name. Whether it is there and had room.
inline bool member(const char* line, const char* key, char* room, size_t size, bool isName) {
  const char* at = strstr(line, key);
  if (at == nullptr) return false;
  at += strlen(key);
  bool isQuoted = false;
  size_t length = 0;
  for (; *at != 0 && (isQuoted || (*at != ',' && *at != '}')); at++) {
    if (*at == '"') isQuoted = !isQuoted;
    if (*at == '"' && isName) continue;
    if (length + 1 >= size) return false;
    room[length++] = *at;
  }
  room[length] = 0;
  return length > 0;
}`

/** How a board on a cable is told something: a line for each command, and a word a minute. */
export const cppOnCable = (
  takes: boolean,
  guards: boolean,
): string => `${takes ? taking : ''}// Reads what came, line by line.
void listen(Stream& from, Print& out) {
  static char line[${guards ? 600 : 160}];
  static size_t length = 0;
${takes ? '  static unsigned long heard = millis();\n' : '  (void)out;\n'}  while (from.available() > 0) {
    const int byte = from.read();
${takes ? '    heard = millis();\n' : ''}    if (byte == '\\n') {
      // One that is longer than its room is none of ours.
      line[length] = 0;
${takes ? '      if (length + 1 < sizeof line) take(line, out);\n' : ''}${guards ? '      if (length + 1 < sizeof line) heardGuard(line);\n' : ''}      length = 0;
    } else if (length + 1 < sizeof line) line[length++] = (char)byte;
  }
${takes ? '  if (millis() - heard > SAFE_AFTER * 1000UL) makeSafe();\n' : ''}}`

const taking = `// Takes a line that may be a command, and answers it.
void take(const char* line, Print& out) {
  char name[40], number[12];
  if (!member(line, "\\"set\\":", name, sizeof name, true) || !member(line, "\\"id\\":", number, sizeof number, false)) return;
  const uint32_t id = strtoul(number, nullptr, 10);
  // One that came down the cable came at once; and there is no clock here.
  const Answer answer = carryOut(name, id, line, false);
  out.print(F("{\\"state\\":"));
  printText(out, name);
  out.print(',');
  printAnswer(out, id, answer);
  out.println();
}

`

/** What keeps numbers over a power cut, on boards that have memory for it and on those that imitate it. */
export const cppKeeping = `#include <EEPROM.h>

#if defined(ESP32) || defined(ESP8266)
inline void startKeeping() { EEPROM.begin(512); }
inline void finishKeeping() { EEPROM.commit(); }
#else
inline void startKeeping() {}
inline void finishKeeping() {}
#endif
`
