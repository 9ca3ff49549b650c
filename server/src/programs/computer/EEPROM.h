// Keeps in a file what a board keeps in memory that needs no power.
#pragma once
#include <Arduino.h>

class KeptMemory {
 public:
  template <class Value>
  void get(size_t place, Value& value) {
    memset(&value, 0xff, sizeof value);
    FILE* file = fopen("eeprom", "rb");
    if (file == nullptr) return;
    fseek(file, (long)place, SEEK_SET);
    if (fread(&value, sizeof value, 1, file) != 1) memset(&value, 0xff, sizeof value);
    fclose(file);
  }
  template <class Value>
  void put(size_t place, const Value& value) {
    FILE* file = fopen("eeprom", "r+b");
    if (file == nullptr) file = fopen("eeprom", "w+b");
    fseek(file, (long)place, SEEK_SET);
    fwrite(&value, sizeof value, 1, file);
    fclose(file);
  }
};

inline KeptMemory EEPROM;
