import { cppText } from './cppMessage.ts'
import { cppWifiBoard } from './cppWifiBoard.ts'
import { inbox, type ProgramKind } from './program.ts'

const text = `// What the server says to a message, as far as there is room: what is asked for stands in it.
static char told[1600];

// Reads a line without its end. Whether one came in time.
inline bool readLine(Client& stream, char* line, size_t size, unsigned long began) {
  size_t length = 0;
  while (true) {
    const int byte = nextByte(stream, began);
    if (byte < 0) return false;
    if (byte == '\\n') break;
    if (byte != '\\r' && length + 1 < size) line[length++] = (char)byte;
  }
  line[length] = 0;
  return true;
}

// Begins a message to a path by HTTP, of so many bytes.
inline void beginPost(Client& stream, const char* host, const char* path, const char* rest, unsigned long size) {
  stream.print("POST ");
  stream.print(path);
  stream.print(rest);
  stream.print(" HTTP/1.1\\r\\nHost: ");
  stream.print(host);
  stream.print("\\r\\nAuthorization: Bearer ");
  stream.print(ADDRESS);
  stream.print('.');
  stream.print(SECRET);
  stream.print("\\r\\nContent-Type: application/json\\r\\nConnection: close\\r\\nContent-Length: ");
  stream.print(size);
  stream.print("\\r\\n\\r\\n");
}

// Sends what waits, and reads what the server says to it.
inline Outcome post(Client& stream, const char* host, const char* waiting) {
  beginPost(stream, host, "/in", ASKS, (unsigned long)strlen(waiting) + 2);
  writeArray(stream, waiting);

  const unsigned long began = millis();
  char line[200];
  if (!readLine(stream, line, sizeof line, began) || strlen(line) < 12) {
    Serial.println("The server did not answer in time. It is tried again.");
    return LATER;
  }
  const int status = atoi(line + 9);
  while (readLine(stream, line, sizeof line, began) && line[0] != 0) {
  }
  size_t length = 0;
  for (int byte = 0; status != 204 && length + 1 < sizeof told && (byte = nextByte(stream, began)) >= 0; length++)
    told[length] = (char)byte;
  told[length] = 0;
  if (status != 204 && status != 401 && strstr(told, "\\"refused\\":[]") == nullptr) {
    Serial.print("The server answered ");
    Serial.print((long)status);
    Serial.print(": ");
    Serial.println(told);
  }
  if (status == 401) return WRONG_SECRET;
  // What is wrong in itself is wrong the next time too; what the server cannot take now is sent again.
  return status == 429 || status >= 500 ? LATER : DONE;
}

template <class Stream>
inline Outcome deliver(Stream& stream, const char* host, uint16_t port, const char* waiting) {
#ifdef ENCRYPTED
  stream.setCACert(AUTHORITY);
#endif
  if (!reach(stream, host, port)) return LATER;
  const Outcome outcome = post(stream, host, waiting);
  stream.stop();
  return outcome;
}`

/** How a board says what it made of a command. */
const answering = `

// Answers a command; should that be lost, the server asks again.
template <class Stream>
inline void answerTo(Stream& stream, const char* host, uint16_t port, const char* name, const char* answer) {
  if (!reach(stream, host, port)) return;
  beginPost(stream, host, "/state/", name, (unsigned long)strlen(answer));
  stream.print(answer);
  char line[200];
  readLine(stream, line, sizeof line, millis());
  stream.stop();
}`

/** How a board that asks takes what the server tells it. */
const taking = `// Takes all that was asked for in what the server said last.
void takeAll() {
  for (const char* at = strstr(told, "{\\"id\\":"); at != nullptr; at = strstr(at + 1, "{\\"id\\":")) {
    char line[200], name[40], number[12], until[16];
    const char* end = strchr(at, '}');
    if (end == nullptr || (size_t)(end - at) + 2 > sizeof line) continue;
    memcpy(line, at, end - at + 1);
    line[end - at + 1] = 0;
    if (!member(line, "\\"id\\":", number, sizeof number, false) || !member(line, "\\"signal\\":", name, sizeof name, true) ||
        !member(line, "\\"until\\":", until, sizeof until, false))
      continue;
    const uint32_t id = strtoul(number, nullptr, 10);
    static char text[200];
    Text body(text, sizeof text);
    body.print('{');
    printAnswer(body, id, carryOut(name, id, line, isOver(until)));
    answerTo(stream, HOST, PORT, name, text);
  }
  told[0] = 0;
}`

const defaultPorts: Readonly<Record<string, number>> = { 'http:': 80, 'https:': 443 }

export const cppHttpProgram: ProgramKind = {
  key: 'cpp-http',
  name: 'C++ over Wi-Fi, by HTTP',
  says: 'For a Wi-Fi microcontroller that is programmed in C++; put the three files into one folder called board.',
  write: (target, secret) => {
    const { protocol, hostname, port } = new URL(target.url)
    return cppWifiBoard(target, secret, {
      header: 'sparrow_http.h',
      text: `const char ASKS[] = ${cppText(inbox(target).slice('/in'.length))};  // what it asks for beside\n\n${text}${target.controlled.length > 0 ? answering : ''}`,
      taking,
      guarding: 'heardGuard(told);',
      host: hostname,
      port: port === '' ? (defaultPorts[protocol] ?? 80) : Number(port),
      isEncrypted: protocol === 'https:',
    })
  },
}
