/** The token of the link by which this page is looked at; undefined where somebody is signed in, or ought to be. */
export const sharedToken: string | undefined = /^\/shared\/([A-Za-z0-9_-]{1,200})$/.exec(
  globalThis.location?.pathname ?? '',
)?.[1]
