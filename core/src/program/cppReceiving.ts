import { cppText } from './cppMessage.ts'
import { type ProgramField, safeStates } from './program.ts'

/** The side of a board on a cable that is told something: it obeys no command twice, and goes safe when nobody is there. */
export function cppReceiving(controlled: readonly ProgramField[]): string {
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
const unsigned long SAFE_AFTER = 120;  // seconds without a word of the server: it says one a minute

// The other place to fill in: switch or set it. Return why not, if it must not be; else nullptr.
const char* obey(const char* name, const char* value) {
  // strcmp(name, "fogger") == 0: digitalWrite(FOGGER, strcmp(value, "true") == 0 ? HIGH : LOW);
  (void)name;
  (void)value;
  return nullptr;
}

// Copies what stands in a line of JSON for a member, without quotes round a name. Whether it is there and had room.
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
}

void recall() {
  startKeeping();
  for (size_t place = 0; place < sizeof controlled / sizeof controlled[0]; place++) {
    EEPROM.get(place * sizeof(uint32_t), controlled[place].obeyed);
    // So is memory that was never written.
    if (controlled[place].obeyed == 0xffffffffUL) controlled[place].obeyed = 0;
  }
}

// Obeys a command once, and says so.
void take(const char* line, Print& out) {
  char name[40], number[12], value[24];
  if (!member(line, "\\"set\\":", name, sizeof name, true) || !member(line, "\\"id\\":", number, sizeof number, false)) return;
  const char* says = "refused";
  const char* why = "this board has no such thing";
  const char* state = "";
  const uint32_t id = strtoul(number, nullptr, 10);
  for (size_t place = 0; place < sizeof controlled / sizeof controlled[0]; place++) {
    Controlled& one = controlled[place];
    if (strcmp(one.name, name) != 0) continue;
    says = "done";
    why = nullptr;
    state = one.state;
    if (id <= one.obeyed) break;
    if (!member(line, "\\"value\\":", value, sizeof value, false)) {
      says = "refused";
      why = "its value is longer than this board has room for";
      break;
    }
    one.obeyed = id;
    // Before it is done: cut off in between, it is not done twice.
    EEPROM.put(place * sizeof(uint32_t), id);
    finishKeeping();
    why = obey(name, value);
    if (why != nullptr) says = "refused";
    else if (one.safe[0] != 0) strcpy(one.state, value);
    break;
  }
  out.print(F("{\\"state\\":"));
  printText(out, name);
  out.print(F(",\\"id\\":"));
  out.print((unsigned long)id);
  out.print(F(",\\"says\\":\\""));
  out.print(says);
  out.print('"');
  if (why != nullptr) {
    out.print(F(",\\"why\\":"));
    printText(out, why);
  } else if (state[0] != 0) {
    out.print(F(",\\"value\\":"));
    out.print(state);
  }
  out.println('}');
}

void makeSafe() {
  for (Controlled& one : controlled) {
    if (one.safe[0] == 0 || strcmp(one.state, one.safe) == 0) continue;
    obey(one.name, one.safe);
    strcpy(one.state, one.safe);
  }
}

// Reads what came, line by line.
void listen(Stream& from, Print& out) {
  static char line[160];
  static size_t length = 0;
  static unsigned long heard = millis();
  while (from.available() > 0) {
    const int byte = from.read();
    heard = millis();
    if (byte == '\\n') {
      // One that is longer than its room is none of ours.
      line[length] = 0;
      if (length + 1 < sizeof line) take(line, out);
      length = 0;
    } else if (length + 1 < sizeof line) line[length++] = (char)byte;
  }
  if (millis() - heard > SAFE_AFTER * 1000UL) makeSafe();
}`
}

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
