import { cppWifiBoard } from './cppWifiBoard.ts'
import type { ProgramKind } from './program.ts'

const text = `// Reads a line without its end. Whether one came in time.
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

// Sends what waits by HTTP, and reads what the server says to it.
inline Outcome post(Client& stream, const char* host, const char* waiting) {
  stream.print("POST /in HTTP/1.1\\r\\nHost: ");
  stream.print(host);
  stream.print("\\r\\nAuthorization: Bearer ");
  stream.print(ADDRESS);
  stream.print('.');
  stream.print(SECRET);
  stream.print("\\r\\nContent-Type: application/json\\r\\nConnection: close\\r\\nContent-Length: ");
  stream.print((unsigned long)strlen(waiting) + 2);
  stream.print("\\r\\n\\r\\n");
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
  if (status != 204 && status != 401) {
    Serial.print("The server answered ");
    Serial.print((long)status);
    Serial.print(": ");
    for (int told = 0, byte = 0; told < 400 && (byte = nextByte(stream, began)) >= 0; told++) Serial.print((char)byte);
    Serial.println();
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

const defaultPorts: Readonly<Record<string, number>> = { 'http:': 80, 'https:': 443 }

export const cppHttpProgram: ProgramKind = {
  key: 'cpp-http',
  name: 'C++ over Wi-Fi, by HTTP',
  says: 'For a Wi-Fi microcontroller that is programmed in C++; put the three files into one folder called board.',
  write: (target, secret) => {
    const { protocol, hostname, port } = new URL(target.url)
    return cppWifiBoard(target, secret, {
      header: 'sparrow_http.h',
      text,
      host: hostname,
      port: port === '' ? (defaultPorts[protocol] ?? 80) : Number(port),
      isEncrypted: protocol === 'https:',
    })
  },
}
