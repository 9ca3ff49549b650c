export { Page, type PageChapter, type PageInstrument, type PageProps } from './Page.tsx'
