/** What drawings take from the page and a picture of its own has to bring along. */
const inherited = ['fill', 'stroke'] as const
const sharper = 2

/** A drawing as a file of its own: every colour written out, with its background. */
export function svgText(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const drawn = [svg, ...svg.querySelectorAll('*')]
  for (const [place, element] of [copy, ...copy.querySelectorAll('*')].entries()) {
    const source = drawn[place]
    if (!source) continue
    const look = getComputedStyle(source)
    for (const name of inherited)
      if (element.getAttribute(name)?.startsWith('var('))
        element.setAttribute(name, look.getPropertyValue(name))
    if (element.tagName === 'text') element.setAttribute('font-family', look.fontFamily)
  }
  const { width, height } = svg.getBoundingClientRect()
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.setAttribute('viewBox', `0 0 ${width} ${height}`)
  copy.style.background = getComputedStyle(document.documentElement).backgroundColor
  return new XMLSerializer().serializeToString(copy)
}

/** A drawing as pixels. @throws where the browser cannot draw it */
export async function drawPng(svg: SVGSVGElement): Promise<Blob> {
  const { width, height } = svg.getBoundingClientRect()
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgText(svg))}`
  await image.decode()
  const canvas = new OffscreenCanvas(width * sharper, height * sharper)
  const context = canvas.getContext('2d')
  if (!context) throw new Error('there is no canvas')
  context.fillStyle = getComputedStyle(document.documentElement).backgroundColor
  context.fillRect(0, 0, canvas.width, canvas.height)
  context.drawImage(image, 0, 0, canvas.width, canvas.height)
  return canvas.convertToBlob({ type: 'image/png' })
}
