"""A Wi-Fi that is there when it is asked for."""
STA_IF = 0


class WLAN:
    def __init__(self, interface):
        self.is_connected = False

    def active(self, on):
        pass

    def isconnected(self):
        return self.is_connected

    def connect(self, name, password):
        self.is_connected = True
