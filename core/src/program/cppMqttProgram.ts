import { cppWifiBoard } from './cppWifiBoard.ts'
import type { ProgramKind } from './program.ts'

const text = `// The packets of MQTT 3.1.1 that a board needs, each by its section in the standard.

inline void writeByte(Client& stream, uint8_t byte) {
  stream.write(&byte, 1);
}

inline void writeNumber(Client& stream, uint16_t number) {
  writeByte(stream, number >> 8);
  writeByte(stream, number & 0xff);
}

inline void writeField(Client& stream, const char* text) {
  writeNumber(stream, (uint16_t)strlen(text));
  stream.write((const uint8_t*)text, strlen(text));
}

// The first byte of a packet and how long the rest is (2.2.3).
inline void writeHead(Client& stream, uint8_t kind, unsigned long length) {
  writeByte(stream, kind);
  do {
    const uint8_t digit = length % 128;
    length /= 128;
    writeByte(stream, length > 0 ? digit | 0x80 : digit);
  } while (length > 0);
}

#ifdef LISTENS
#ifdef GUARDS
// By what it guards, as it was told last.
static char toldGuard[GUARDS];
#endif
// What was asked for and not taken yet: a name, a tab and the command in each line.
static char told[1200];

// Keeps what a message that came down asks for (3.3), and says that it came (3.4).
inline void keepTold(Client& stream, int head, const char* packet, size_t length) {
  const size_t topic = length < 2 ? length : ((size_t)(uint8_t)packet[0] << 8) | (uint8_t)packet[1];
  const bool isSure = (head & 0x06) != 0;
  const size_t body = 2 + topic + (isSure ? 2 : 0);
  if (body > length) return;
  if (isSure) {
    writeHead(stream, 0x40, 2);
    writeByte(stream, (uint8_t)packet[2 + topic]);
    writeByte(stream, (uint8_t)packet[3 + topic]);
  }
#ifdef GUARDS
  const char limits[] = "/limits";
  if (topic >= sizeof limits - 1 && memcmp(packet + 2 + topic - (sizeof limits - 1), limits, sizeof limits - 1) == 0) {
    const size_t size = length - body;
    if (size + 1 > sizeof toldGuard) return;
    memcpy(toldGuard, packet + body, size);
    toldGuard[size] = 0;
    return;
  }
#endif
  const size_t before = strlen("sparrow/") + strlen(ADDRESS) + strlen("/set/");
  const size_t there = strlen(told);
  // What has no room is asked for again when it comes back.
  if (topic <= before || there + (topic - before) + (length - body) + 3 > sizeof told) return;
  char* to = told + there;
  memcpy(to, packet + 2 + before, topic - before);
  to += topic - before;
  *to++ = '\\t';
  memcpy(to, packet + body, length - body);
  to += length - body;
  *to++ = '\\n';
  *to = 0;
}
#endif

// Reads a packet. Its kind with its first two bytes, or -1 when none came in time.
inline int readPacket(Client& stream, uint8_t* two) {
  const unsigned long began = millis();
  const int head = nextByte(stream, began);
  if (head < 0) return -1;
  unsigned long length = 0;
  for (int shift = 0, digit = 0x80; shift < 28 && (digit & 0x80) != 0; shift += 7) {
    digit = nextByte(stream, began);
    if (digit < 0) return -1;
    length |= (unsigned long)(digit & 0x7f) << shift;
  }
#ifdef LISTENS
#ifdef GUARDS
  static char packet[GUARDS + 100];
#else
  static char packet[400];
#endif
#endif
  for (unsigned long at = 0; at < length; at++) {
    const int byte = nextByte(stream, began);
    if (byte < 0) return -1;
    if (at < 2) two[at] = (uint8_t)byte;
#ifdef LISTENS
    if (at < sizeof packet) packet[at] = (char)byte;
#endif
  }
#ifdef LISTENS
  if ((head & 0xf0) == 0x30 && length <= sizeof packet) keepTold(stream, head, packet, length);
#endif
  return head & 0xf0;
}

// Reads packets until one of a kind comes. Its first two bytes, or whether none came in time.
inline bool awaitPacket(Client& stream, uint8_t kind, uint8_t* two) {
  const unsigned long began = millis();
  while (millis() - began <= PATIENCE) {
    const int found = readPacket(stream, two);
    if (found < 0) return false;
    if (found == kind) return true;
  }
  return false;
}

#ifdef LISTENS
// Asks to be told something of its own (3.8).
inline Outcome subscribe(Client& stream, const char* what) {
  char set[60];
  Text topic(set, sizeof set);
  topic.print("sparrow/");
  topic.print(ADDRESS);
  topic.print(what);
  writeHead(stream, 0x82, 2 + 2 + strlen(set) + 1);
  writeNumber(stream, 1);
  writeField(stream, set);
  writeByte(stream, 1);
  uint8_t granted[2];
  return awaitPacket(stream, 0x90, granted) ? DONE : LATER;
}

// Answers a command. Should that be lost, what the board measures tells the same.
inline void answerTo(Client& stream, const char* name, const char* answer) {
  char state[100];
  Text topic(state, sizeof state);
  topic.print("sparrow/");
  topic.print(ADDRESS);
  topic.print("/state/");
  topic.print(name);
  writeHead(stream, 0x30, 2 + strlen(state) + strlen(answer));
  writeField(stream, state);
  stream.print(answer);
}

// Takes in what came meanwhile.
inline void listen(Client& stream) {
  uint8_t two[2];
  while (stream.connected() && stream.available() > 0 && readPacket(stream, two) >= 0) {
  }
}
#endif

// Says who it is (3.1), with what the broker is to say when the line breaks.
inline Outcome introduce(Client& stream) {
  char presence[60];
  Text topic(presence, sizeof presence);
  topic.print("sparrow/");
  topic.print(ADDRESS);
  topic.print("/presence");
  const char will[] = "gone";
  const unsigned long length =
      10 + 2 + strlen(ADDRESS) + 2 + strlen(presence) + 2 + strlen(will) + 2 + strlen(ADDRESS) + 2 + strlen(SECRET);
  writeHead(stream, 0x10, length);
  writeField(stream, "MQTT");
  writeByte(stream, 4);
  writeByte(stream, 0xc6);  // user name, password, a will, and nothing kept from before
  writeNumber(stream, KEEP_ALIVE);
  writeField(stream, ADDRESS);
  writeField(stream, presence);
  writeField(stream, will);
  writeField(stream, ADDRESS);
  writeField(stream, SECRET);
  uint8_t answer[2];
  if (!awaitPacket(stream, 0x20, answer)) {
    Serial.println("The server did not answer in time. It is tried again.");
    return LATER;
  }
  if (answer[1] == 4 || answer[1] == 5) return WRONG_SECRET;
  return answer[1] == 0 ? DONE : LATER;
}

// Sends what waits (3.3), and waits until the server says that it is stored (3.4).
inline Outcome publish(Client& stream, const char* waiting) {
  static uint16_t number = 0;
  number = number == 65535 ? 1 : number + 1;
  char in[60];
  Text topic(in, sizeof in);
  topic.print("sparrow/");
  topic.print(ADDRESS);
  topic.print("/in");
  writeHead(stream, 0x32, 2 + strlen(in) + 2 + strlen(waiting) + 2);
  writeField(stream, in);
  writeNumber(stream, number);
  writeArray(stream, waiting);
  uint8_t stored[2];
  if (awaitPacket(stream, 0x40, stored) && (uint16_t)((stored[0] << 8) | stored[1]) == number) return DONE;
  Serial.println("The server did not say that it is stored. It is sent again.");
  return LATER;
}

template <class Stream>
inline Outcome deliver(Stream& stream, const char* host, uint16_t port, const char* waiting) {
#ifdef ENCRYPTED
  stream.setCACert(AUTHORITY);
#endif
  const bool isNew = !stream.connected();
  if (!reach(stream, host, port)) return LATER;
  Outcome outcome = isNew ? introduce(stream) : DONE;
#ifdef TAKES
  if (isNew && outcome == DONE) outcome = subscribe(stream, "/set/#");
#endif
#ifdef GUARDS
  if (isNew && outcome == DONE) outcome = subscribe(stream, "/limits");
#endif
  if (outcome == DONE) outcome = publish(stream, waiting);
  if (outcome != DONE) stream.stop();
  return outcome;
}`

/** How a board that listens takes what it was told. */
const taking = `// Takes all that was asked for.
void takeAll() {
  for (char* at = told; *at != 0;) {
    char* end = strchr(at, '\\n');
    char* line = strchr(at, '\\t');
    if (end == nullptr || line == nullptr || line > end) break;
    *end = 0;
    *line++ = 0;
    char number[12], until[16];
    if (member(line, "\\"id\\":", number, sizeof number, false) && member(line, "\\"until\\":", until, sizeof until, false)) {
      const uint32_t id = strtoul(number, nullptr, 10);
      static char text[200];
      Text body(text, sizeof text);
      body.print('{');
      printAnswer(body, id, carryOut(at, id, line, isOver(until)));
      answerTo(stream, at, text);
    }
    at = end + 1;
  }
  told[0] = 0;
}`

/** What was told is taken once. */
const guarding = 'if (toldGuard[0] != 0) heardGuard(toldGuard), toldGuard[0] = 0;'

/** What a board may be silent at most before it counts as gone, s, as MQTT counts it. */
const keepAlive = (seconds: number): number => Math.min(65_535, Math.max(60, Math.ceil(seconds * 1.5)))

export const cppMqttProgram: ProgramKind = {
  key: 'cpp-mqtt',
  name: 'C++ over Wi-Fi, by MQTT',
  says: 'For a Wi-Fi microcontroller that is programmed in C++; put the three files into one folder called board.',
  write: (target, secret) => {
    const { host, port, isEncrypted } = target.mqtt
    const header = 'sparrow_mqtt.h'
    const takes = target.controlled.length > 0 ? '#define TAKES  // what the server asks for\n' : ''
    const guards = target.guards ? '#define GUARDS 1500  // bytes for what it guards by\n' : ''
    const listens = takes || guards ? `#define LISTENS\n${takes}${guards}` : ''
    const set = `${listens}const uint16_t KEEP_ALIVE = ${keepAlive(target.seconds)};  // seconds\n\n`
    return cppWifiBoard(target, secret, {
      header,
      text: set + text,
      taking,
      listening: (takesAny, guardsAny) =>
        [
          'listen(stream);',
          ...(takesAny ? ['takeAll();'] : []),
          ...(guardsAny ? [guarding, 'guard();'] : []),
        ].join('\n    '),
      guarding,
      host,
      port,
      isEncrypted,
    })
  },
}
