/** As large as a picture is shown, px; what is larger is made smaller before it is sent. */
const largestSide = 1280
const quality = 0.85

/** A picture as it is kept: small enough to be sent, and without what a camera wrote into it. @throws where it is none */
export async function smallPicture(file: Blob): Promise<string> {
  const picture = await createImageBitmap(file)
  const scale = Math.min(1, largestSide / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(picture.width * scale)
  canvas.height = Math.round(picture.height * scale)
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
  return canvas.toDataURL('image/jpeg', quality)
}
