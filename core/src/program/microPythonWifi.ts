/** How a board with MicroPython gets onto its network; `secrets` holds its name and password. */
export const microPythonWifi = `def connect():
    wlan = network.WLAN(network.STA_IF)
    wlan.active(True)
    if not wlan.isconnected():
        wlan.connect(secrets.WIFI_NAME, secrets.WIFI_PASSWORD)
        for _ in range(40):
            if wlan.isconnected():
                break
            time.sleep(0.5)
    if not wlan.isconnected():
        print("No network: is", secrets.WIFI_NAME, "near, and its password right?")
    return wlan.isconnected()`
