import * as alarm from './alarmRoutes.ts'
import * as arrival from './arrival.ts'
import * as calibration from './calibration.ts'
import * as capacity from './capacity.ts'
import * as claim from './claim.ts'
import * as command from './command.ts'
import * as condition from './condition.ts'
import * as conversionTrial from './conversionTrial.ts'
import * as dashboard from './dashboard.ts'
import * as derivationTrial from './derivationTrial.ts'
import * as device from './device.ts'
import * as event from './event.ts'
import * as file from './file.ts'
import * as history from './history.ts'
import * as invitation from './invitation.ts'
import * as kit from './kit.ts'
import * as member from './member.ts'
import * as notice from './notice.ts'
import * as ownPage from './ownPage.ts'
import * as people from './people.ts'
import * as programToken from './programToken.ts'
import * as reach from './reach.ts'
import * as recomputation from './recomputation.ts'
import * as rereading from './rereading.ts'
import type { Route } from './route.ts'
import * as rule from './rule.ts'
import * as serial from './serial.ts'
import * as share from './share.ts'
import * as signal from './signal.ts'
import * as site from './site.ts'
import * as strip from './strip.ts'
import * as trace from './trace.ts'
import * as valueExplanation from './valueExplanation.ts'

/** All routes of the people's API, in the order in which they are described. */
export const routes = {
  getSession: people.getSession,
  createOwner: people.createOwner,
  signIn: people.signIn,
  signInByLink: people.signInByLink,
  signOut: people.signOut,
  createSignInLink: people.createSignInLink,
  changePreferences: ownPage.changePreferences,
  changePassword: ownPage.changePassword,
  listSessions: ownPage.listSessions,
  endSession: ownPage.endSession,
  leave: ownPage.leave,
  leaveSite: ownPage.leaveSite,
  listPeople: member.listPeople,
  changeAccess: member.changeAccess,
  removePerson: member.removePerson,
  createSignInLinkFor: member.createSignInLinkFor,
  listInvitations: invitation.listInvitations,
  createInvitation: invitation.createInvitation,
  withdrawInvitation: invitation.withdrawInvitation,
  readInvitation: invitation.readInvitation,
  acceptInvitation: invitation.acceptInvitation,
  listTokens: programToken.listTokens,
  createToken: programToken.createToken,
  withdrawToken: programToken.withdrawToken,
  requestCommands: command.requestCommands,
  listCommands: command.listCommands,
  listRules: rule.listRules,
  createRule: rule.createRule,
  changeRule: rule.changeRule,
  deleteRule: rule.deleteRule,
  switchRule: rule.switchRule,
  listRuleActs: rule.listRuleActs,
  orderRules: rule.orderRules,
  resumeRules: rule.resumeRules,
  tryRule: rule.tryRule,
  listAlarms: alarm.listAlarms,
  moveAlarms: alarm.moveAlarms,
  getAlarmRecord: alarm.getAlarmRecord,
  getAlarm: alarm.getAlarm,
  listAlarmActs: alarm.listAlarmActs,
  tryAlarm: alarm.tryAlarm,
  testBuzzer: alarm.testBuzzer,
  testWalls: alarm.testWalls,
  listWays: notice.listWays,
  createWay: notice.createWay,
  getPushKey: notice.getPushKey,
  changeWay: notice.changeWay,
  deleteWay: notice.deleteWay,
  testWay: notice.testWay,
  listNotices: notice.listNotices,
  readSeenLink: notice.readSeenLink,
  useSeenLink: notice.useSeenLink,
  getMapTiles: site.getMapTiles,
  listSites: site.listSites,
  createSite: site.createSite,
  changeSite: site.changeSite,
  deleteSite: site.deleteSite,
  getSiteDay: strip.getSiteDay,
  listKits: kit.listKits,
  getKit: kit.getKit,
  createKit: kit.createKit,
  changeKit: kit.changeKit,
  deleteKit: kit.deleteKit,
  addSignalDefinition: kit.addSignalDefinition,
  listDevices: device.listDevices,
  getDevice: device.getDevice,
  createDevice: device.createDevice,
  changeDevice: device.changeDevice,
  getDeviceLoss: device.getDeviceLoss,
  deleteDevice: device.deleteDevice,
  replaceSecret: device.replaceSecret,
  replaceHardware: device.replaceHardware,
  previewKitExchange: device.previewKitExchange,
  exchangeKit: device.exchangeKit,
  listShareLinks: share.listShareLinks,
  createShareLink: share.createShareLink,
  listDashboardLinks: share.listDashboardLinks,
  createDashboardLink: share.createDashboardLink,
  withdrawShareLink: share.withdrawShareLink,
  getSharedPage: share.getSharedPage,
  getSharedTraces: share.getSharedTraces,
  getSharedTotals: share.getSharedTotals,
  getSharedLastReadings: share.getSharedLastReadings,
  getPaper: share.getPaper,
  changeSignalDefinition: signal.changeSignalDefinition,
  explainValue: valueExplanation.explainValue,
  previewRecomputation: recomputation.previewRecomputation,
  listRecomputations: recomputation.listRecomputations,
  createRecomputation: recomputation.createRecomputation,
  undoRecomputation: recomputation.undoRecomputation,
  changeDoubt: signal.changeDoubt,
  proposeFaults: signal.proposeFaults,
  tryConversion: conversionTrial.tryConversion,
  tryDerivation: derivationTrial.tryDerivation,
  changeOwnSettings: signal.changeOwnSettings,
  listDescriptionVersions: signal.listDescriptionVersions,
  listCalibrations: calibration.listCalibrations,
  addCalibration: calibration.addCalibration,
  takeBackCalibration: calibration.takeBackCalibration,
  followReadings: trace.followReadings,
  getTraces: trace.getTraces,
  getTotals: history.getTotals,
  getReadingsAt: history.getReadingsAt,
  getLastReadings: history.getLastReadings,
  getDescriptionsAt: history.getDescriptionsAt,
  listEvents: event.listEvents,
  createNote: event.createNote,
  deleteNote: event.deleteNote,
  listDashboards: dashboard.listDashboards,
  getDashboard: dashboard.getDashboard,
  createDashboard: dashboard.createDashboard,
  publishDashboard: dashboard.publishDashboard,
  deleteDashboard: dashboard.deleteDashboard,
  listDashboardVersions: dashboard.listDashboardVersions,
  getReach: reach.getReach,
  listArrivals: arrival.listArrivals,
  getArrival: arrival.getArrival,
  tryMessage: arrival.tryMessage,
  listUnclaimed: claim.listUnclaimed,
  listClaims: claim.listClaims,
  createClaim: claim.createClaim,
  deleteClaim: claim.deleteClaim,
  previewRereading: rereading.previewRereading,
  listRereadings: rereading.listRereadings,
  createRereading: rereading.createRereading,
  undoRereading: rereading.undoRereading,
  importFile: file.importFile,
  storeFile: file.storeFile,
  listSerialPorts: serial.listSerialPorts,
  setSerialPort: serial.setSerialPort,
  removeSerialPort: serial.removeSerialPort,
  pauseSerialPort: serial.pauseSerialPort,
  getCapacity: capacity.getCapacity,
  measureCapacity: capacity.measureCapacity,
  getCondition: condition.getCondition,
  confirmClock: condition.confirmClock,
} as const satisfies Record<string, Route>
