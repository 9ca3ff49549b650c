export { DayStrip, type Stretch, stripHeight } from './DayStrip.tsx'
