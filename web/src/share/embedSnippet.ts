const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;')

/** What is pasted into a page of one's own to have a chart in it. */
export const embedSnippet = (url: string, title: string): string =>
  `<iframe src="${escaped(url)}" title="${escaped(title)}" width="100%" height="260" style="border:0" loading="lazy"></iframe>`
