// A network that is there when it is asked for, and a stream of bytes by the sockets of the computer.
#pragma once
#include <Client.h>
#include <netdb.h>
#include <poll.h>
#include <signal.h>
#include <string>
#include <sys/socket.h>

enum WiFiStatus { WL_DISCONNECTED, WL_CONNECTED };

class ComputerNetwork {
 public:
  void begin(const char*, const char*) { status_ = WL_CONNECTED; }
  WiFiStatus status() const { return status_; }

 private:
  WiFiStatus status_ = WL_DISCONNECTED;
};

extern ComputerNetwork WiFi;

class WiFiClient : public Client {
 public:
  int connect(const char* host, uint16_t port) override {
    stop();
    addrinfo wanted = {};
    wanted.ai_socktype = SOCK_STREAM;
    addrinfo* found = nullptr;
    if (getaddrinfo(host, std::to_string(port).c_str(), &wanted, &found) != 0) return 0;
    const int line = socket(found->ai_family, SOCK_STREAM, 0);
    const bool isThere = ::connect(line, found->ai_addr, found->ai_addrlen) == 0;
    freeaddrinfo(found);
    if (!isThere) {
      close(line);
      return 0;
    }
    line_ = line;
    return 1;
  }
  size_t write(uint8_t byte) override { return write(&byte, 1); }
  size_t write(const uint8_t* bytes, size_t size) override {
    if (line_ < 0) return 0;
    const ssize_t written = send(line_, bytes, size, MSG_NOSIGNAL);
    return written < 0 ? 0 : (size_t)written;
  }
  int available() override {
    uint8_t byte;
    return line_ >= 0 && recv(line_, &byte, 1, MSG_PEEK | MSG_DONTWAIT) == 1 ? 1 : 0;
  }
  int read() override {
    uint8_t byte;
    return line_ >= 0 && recv(line_, &byte, 1, 0) == 1 ? byte : -1;
  }
  void stop() override {
    if (line_ >= 0) close(line_);
    line_ = -1;
  }
  uint8_t connected() override {
    if (line_ < 0) return 0;
    uint8_t byte;
    // Nothing to read from a line that the other end has closed.
    return recv(line_, &byte, 1, MSG_PEEK | MSG_DONTWAIT) != 0;
  }

 protected:
  int line_ = -1;
};
