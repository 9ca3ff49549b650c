/** Hands a text or a picture to the browser to be kept as a file. */
export function saveFile(name: string, mediaType: string, content: BlobPart): void {
  const url = URL.createObjectURL(new Blob([content], { type: mediaType }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  URL.revokeObjectURL(url)
}
