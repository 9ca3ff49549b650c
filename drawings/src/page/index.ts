export { Page, type PageChapter, type PageInstrument, type PageProps, withRoom } from './Page.tsx'
