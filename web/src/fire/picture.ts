/** Marks that carry the picture; all else of an element's style is left to the reader. */
const kept = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linejoin',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
]
const svgNS = 'http://www.w3.org/2000/svg'
const headW = 110

/** A copy that looks the same without the page's styles. */
function standing(el: Element): Element {
  const copy = el.cloneNode(false) as Element
  const style = getComputedStyle(el)
  const parent = el.parentElement && getComputedStyle(el.parentElement)
  copy.removeAttribute('class')
  copy.removeAttribute('style')
  for (const a of [...copy.attributes]) if (a.name.startsWith('data-')) copy.removeAttribute(a.name)
  for (const name of kept) {
    const v = style.getPropertyValue(name)
    const inherits = name !== 'opacity' && el.tagName !== 'svg'
    if (v && !(inherits && parent?.getPropertyValue(name) === v && !el.hasAttribute(name))) copy.setAttribute(name, v)
  }
  for (const child of el.childNodes) copy.append(child instanceof Element ? standing(child) : child.cloneNode(true))
  return copy
}

/** The lanes of a chart as one SVG drawing, with their names at the side. */
export function drawing(plot: HTMLElement, title: string): SVGSVGElement {
  const out = document.createElementNS(svgNS, 'svg')
  const style = getComputedStyle(plot)
  const colour = style.getPropertyValue('--ink')
  let y = 34
  const text = (words: string, x: number, at: number, size: number) => {
    const t = document.createElementNS(svgNS, 'text')
    for (const [k, v] of Object.entries({ x, y: at, 'font-size': size, 'font-family': 'sans-serif', fill: colour }))
      t.setAttribute(k, String(v))
    t.textContent = words
    return t
  }
  const paper = document.createElementNS(svgNS, 'rect')
  out.append(paper, text(title, 12, 22, 16))
  let width = 0
  for (const svg of plot.querySelectorAll<SVGSVGElement>('svg.rail, svg.lane')) {
    const g = standing(svg)
    const height = svg.height.baseVal.value
    width = Math.max(width, svg.width.baseVal.value)
    g.setAttribute('x', String(headW))
    g.setAttribute('y', String(y))
    g.setAttribute('color', getComputedStyle(svg).color)
    out.append(g)
    if (svg.dataset.name) out.append(text(svg.dataset.name, 12, y + 24, 15))
    y += height
  }
  paper.setAttribute('width', '100%')
  paper.setAttribute('height', '100%')
  paper.setAttribute('fill', style.getPropertyValue('--board'))
  out.setAttribute('xmlns', svgNS)
  out.setAttribute('width', String(width + headW))
  out.setAttribute('height', String(y + 8))
  out.setAttribute('viewBox', `0 0 ${width + headW} ${y + 8}`)
  return out
}

export function save(blob: Blob, name: string) {
  const a = document.createElement('a')
  a.href = URL.createObjectURL(blob)
  a.download = name
  a.click()
  setTimeout(() => URL.revokeObjectURL(a.href), 10_000)
}

const source = (svg: SVGSVGElement) =>
  new Blob([new XMLSerializer().serializeToString(svg)], { type: 'image/svg+xml;charset=utf-8' })

export function saveSVG(plot: HTMLElement, title: string) {
  save(source(drawing(plot, title)), `${fileName(title)}.svg`)
}

/** Twice as many dots as on the screen, for print. */
export async function savePNG(plot: HTMLElement, title: string) {
  const svg = drawing(plot, title)
  const image = new Image()
  const url = URL.createObjectURL(source(svg))
  try {
    image.src = url
    await image.decode()
    const canvas = document.createElement('canvas')
    canvas.width = 2 * svg.width.baseVal.value
    canvas.height = 2 * svg.height.baseVal.value
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
    if (blob) save(blob, `${fileName(title)}.png`)
  } finally {
    URL.revokeObjectURL(url)
  }
}

const fileName = (title: string) =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
