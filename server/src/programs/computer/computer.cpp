// Runs a sketch as a board does.
#include <WiFi.h>

SerialMonitor Serial;
ComputerNetwork WiFi;

void setup();
void loop();

int main() {
  setup();
  while (true) loop();
}
