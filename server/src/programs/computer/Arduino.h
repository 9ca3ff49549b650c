// A computer that stands in for a board: what every sketch has.
#pragma once
#include <math.h>
#include <poll.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cmath>

using std::isinf;
using std::isnan;
using std::max;
using std::min;

#define F(text) text

inline unsigned long millis() {
  using namespace std::chrono;
  return (unsigned long)duration_cast<milliseconds>(steady_clock::now().time_since_epoch()).count();
}

inline void delay(unsigned long ms) { usleep((useconds_t)(ms * 1000)); }

inline void configTime(long, int, const char*, const char* = nullptr) {}

class Print {
 public:
  virtual ~Print() {}
  virtual size_t write(uint8_t byte) = 0;
  virtual size_t write(const uint8_t* bytes, size_t size) {
    size_t written = 0;
    while (written < size && write(bytes[written]) == 1) written++;
    return written;
  }
  size_t print(const char* text) { return write((const uint8_t*)text, strlen(text)); }
  size_t print(char byte) { return write((uint8_t)byte); }
  size_t print(long number) { return formatted("%ld", number); }
  size_t print(int number) { return formatted("%ld", (long)number); }
  size_t print(unsigned long number) { return formatted("%lu", number); }
  size_t print(double number, int decimals = 2) {
    char text[400];
    snprintf(text, sizeof text, "%.*f", decimals, number);
    return print(text);
  }
  size_t println() { return print("\r\n"); }
  size_t println(const char* text) { return print(text) + println(); }
  size_t println(char byte) { return print(byte) + println(); }

 private:
  template <class Number>
  size_t formatted(const char* format, Number number) {
    char text[40];
    snprintf(text, sizeof text, format, number);
    return print(text);
  }
};

class Stream : public Print {
 public:
  virtual int available() = 0;
  virtual int read() = 0;
};

class SerialMonitor : public Stream {
 public:
  void begin(unsigned long) {}
  int available() override {
    pollfd input = {0, POLLIN, 0};
    return poll(&input, 1, 0) == 1 && (input.revents & POLLIN) != 0 ? 1 : 0;
  }
  int read() override {
    uint8_t byte;
    return ::read(0, &byte, 1) == 1 ? byte : -1;
  }
  size_t write(uint8_t byte) override {
    putchar(byte);
    if (byte == '\n') fflush(stdout);
    return 1;
  }
  using Print::write;
};

extern SerialMonitor Serial;
