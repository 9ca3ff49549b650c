import * as arrival from './arrival.ts'
import * as capacity from './capacity.ts'
import * as claim from './claim.ts'
import * as device from './device.ts'
import * as file from './file.ts'
import * as people from './people.ts'
import * as replay from './replay.ts'
import type { Route } from './route.ts'
import * as serial from './serial.ts'
import * as signal from './signal.ts'
import * as site from './site.ts'

/** All routes of the people's API, in the order in which they are described. */
export const routes = {
  getSession: people.getSession,
  createOwner: people.createOwner,
  signIn: people.signIn,
  signInByLink: people.signInByLink,
  signOut: people.signOut,
  createSignInLink: people.createSignInLink,
  listSites: site.listSites,
  createSite: site.createSite,
  changeSite: site.changeSite,
  deleteSite: site.deleteSite,
  createKit: device.createKit,
  listDevices: device.listDevices,
  createDevice: device.createDevice,
  changeDevice: device.changeDevice,
  getDeviceLoss: device.getDeviceLoss,
  deleteDevice: device.deleteDevice,
  replaceSecret: device.replaceSecret,
  changeSignalDefinition: signal.changeSignalDefinition,
  getTraces: signal.getTraces,
  getDoors: arrival.getDoors,
  listArrivals: arrival.listArrivals,
  getArrival: arrival.getArrival,
  tryMessage: arrival.tryMessage,
  listUnclaimed: claim.listUnclaimed,
  listClaims: claim.listClaims,
  createClaim: claim.createClaim,
  deleteClaim: claim.deleteClaim,
  previewReplay: replay.previewReplay,
  listReplays: replay.listReplays,
  createReplay: replay.createReplay,
  undoReplay: replay.undoReplay,
  importFile: file.importFile,
  listSerialPorts: serial.listSerialPorts,
  setSerialPort: serial.setSerialPort,
  removeSerialPort: serial.removeSerialPort,
  getCapacity: capacity.getCapacity,
  measureCapacity: capacity.measureCapacity,
} as const satisfies Record<string, Route>
