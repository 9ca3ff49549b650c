import { Page, type PageProps } from '@jaunty-sparrow/drawings/page'
import { type Greys, greyPicture } from './greyPicture.tsx'

/** Draws a page for paper: the drawings of the screen, in two or four greys. @returns a PNG */
export const paperPicture = (page: PageProps, greys: Greys): Uint8Array =>
  greyPicture({ ...page, greys, drawn: <Page {...page} /> })
