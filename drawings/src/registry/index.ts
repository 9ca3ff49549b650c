export { instruments } from './instruments.ts'
export { instrumentOf, proposed, settingsOf, settingsSchema } from './registry.ts'
