import type { DoorName } from '@jaunty-sparrow/contract'

/** How a door is called. */
export const doorNames: Record<DoorName, string> = {
  http: 'HTTP',
  mqtt: 'MQTT',
  serial: 'serial',
  coap: 'CoAP',
  file: 'file',
}
