// A stream of bytes to somewhere, as boards have it.
#pragma once
#include <Arduino.h>

class Client : public Print {
 public:
  virtual int connect(const char* host, uint16_t port) = 0;
  virtual int available() = 0;
  virtual int read() = 0;
  virtual void stop() = 0;
  virtual uint8_t connected() = 0;
};
