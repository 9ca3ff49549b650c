import { cppText } from './cppMessage.ts'
import { messageOf, type ProgramField } from './program.ts'

/** The numbers of a message, by where they stand, such as `air/damp`. */
export function numbersOf(fields: readonly ProgramField[]): string[] {
  const found = (path: readonly string[], value: unknown): string[] => {
    if (typeof value === 'number') return [path.join('/')]
    if (typeof value !== 'object' || value === null) return []
    return Object.entries(value).flatMap(([key, one]) => found([...path, key], one))
  }
  return found([], messageOf(fields))
}

/**
 * The side that guards: a lamp by the limits that were heard last, a buzzer by what nobody has seen.
 * @param names the numbers it may be told limits of
 * @param keptAt where in its memory they are kept over a power cut, bytes
 * @param isCable whether its lines go to the server, and it prints nothing for people
 */
export const cppGuarding = (
  names: readonly string[],
  keptAt: number,
  isCable: boolean,
): string => `// By what the board guards: the limits it heard last, in what it sends. What is not stated is no number.
struct Bounds {
  double low;
  double high;
  double deadband;
  uint32_t after;  // seconds
};
struct Guarded {
  const char* name;
  Bounds bounds;
  double value;
  bool isBeyond;
  unsigned long since;
};
Guarded guarded[] = {
${names.map((name) => `  {${cppText(name)}, {NAN, NAN, 0, 0}, NAN, false, 0},`).join('\n')}
};
const size_t GUARDED = sizeof guarded / sizeof guarded[0];
const int GUARD_AT = ${keptAt};  // where they are kept
const unsigned long ALONE_AFTER = 60;  // seconds without the server after which the board guards by itself
bool hasAlarm = false;  // whether an alarm of it waits for a word
unsigned long guardHeard = 0;  // when it was told last, ms since this began

// Another place to fill in: the lamp that says that something is beyond its limits.
void showLamp(bool isOn) {
  // digitalWrite(LAMP, isOn ? HIGH : LOW);
  ${isCable ? '(void)isOn;' : 'Serial.println(isOn ? "lamp on" : "lamp off");'}
}

// And the buzzer. It is silent as soon as somebody says that they see to it.
void soundBuzzer(bool isOn) {
  // digitalWrite(BUZZER, isOn ? HIGH : LOW);
  ${isCable ? '(void)isOn;' : 'Serial.println(isOn ? "buzzer on" : "buzzer off");'}
}

bool isAlone() {
  return millis() - guardHeard > ALONE_AFTER * 1000UL;
}

void hears(const char* name, double value) {
  for (Guarded& one : guarded)
    if (strcmp(one.name, name) == 0) one.value = value;
}

// What it heard last holds after a power cut.
void recallGuard() {
  startKeeping();
  for (size_t place = 0; place < GUARDED; place++) {
    Bounds kept;
    EEPROM.get(GUARD_AT + place * sizeof(Bounds), kept);
    // So is memory that was never written.
    if (kept.after != 0xffffffffUL) guarded[place].bounds = kept;
  }
}

// A bound that stands in a line of JSON; the inner one where both are stated.
double boundIn(const char* line, const char* inner, const char* outer) {
  char text[24];
  if (member(line, inner, text, sizeof text, false) || member(line, outer, text, sizeof text, false)) return atof(text);
  return NAN;
}

// Takes what the server says that the board guards by.
void heardGuard(const char* said) {
  const char* limits = strstr(said, "\\"limits\\":{");
  if (limits == nullptr) return;
  guardHeard = millis();
  hasAlarm = strstr(limits, "\\"alarm\\":null") == nullptr;
  bool isOther = false;
  for (size_t place = 0; place < GUARDED; place++) {
    char key[48], line[140], text[24];
    snprintf(key, sizeof key, "\\"%s\\":{", guarded[place].name);
    const char* at = strstr(limits, key);
    const char* end = at == nullptr ? nullptr : strchr(at, '}');
    Bounds next = {NAN, NAN, 0, 0};
    if (end != nullptr && (size_t)(end - at) + 2 <= sizeof line) {
      memcpy(line, at, end - at + 1);
      line[end - at + 1] = 0;
      next.low = boundIn(line, "\\"low\\":", "\\"lowLow\\":");
      next.high = boundIn(line, "\\"high\\":", "\\"highHigh\\":");
      if (member(line, "\\"deadband\\":", text, sizeof text, false)) next.deadband = atof(text);
      if (member(line, "\\"after\\":", text, sizeof text, false)) next.after = strtoul(text, nullptr, 10);
    }
    Bounds& known = guarded[place].bounds;
    const bool isSame = (known.low == next.low || (isnan(known.low) && isnan(next.low))) &&
                        (known.high == next.high || (isnan(known.high) && isnan(next.high))) &&
                        known.deadband == next.deadband && known.after == next.after;
    if (isSame) continue;
    known = next;
    isOther = true;
    EEPROM.put(GUARD_AT + place * sizeof(Bounds), next);
  }
  if (isOther) finishKeeping();
}

// Whether it is beyond its limits, or not back from there by so much. What is on a limit is within it; nothing is beyond what is no number.
bool isPast(const Guarded& one, double by) {
  return one.value < one.bounds.low + by || one.value > one.bounds.high - by;
}

// By the same limits as every screen.
void guard() {
  static int lamp = -1, buzzer = -1;
  bool isBeyond = false, hasWaited = false;
  for (Guarded& one : guarded) {
    if (isnan(one.value)) continue;
    if (isPast(one, 0)) {
      isBeyond = true;
      if (!one.isBeyond) one.since = millis();
      one.isBeyond = true;
    } else if (one.isBeyond && !isPast(one, one.bounds.deadband)) {
      one.isBeyond = false;
    }
    if (one.isBeyond && millis() - one.since >= one.bounds.after * 1000UL) hasWaited = true;
  }
  const bool sounds = isAlone() ? hasWaited : hasAlarm;
  if (lamp != (int)isBeyond) showLamp(isBeyond);
  if (buzzer != (int)sounds) soundBuzzer(sounds);
  lamp = isBeyond;
  buzzer = sounds;
}`
