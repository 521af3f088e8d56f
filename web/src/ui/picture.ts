/** Takes the drawings of a page out as files: SVG as it is drawn, or PNG at twice its size. */

export interface Drawing {
  name: string
  svg: SVGSVGElement
}

const least = 120 // px; what is smaller is a mark in a line of text

/** The drawings that a page shows now, by what they say of themselves. */
export function drawings(): Drawing[] {
  const all = [...document.querySelectorAll<SVGSVGElement>('main svg')].filter((svg) => {
    const box = svg.getBoundingClientRect()
    return box.width >= least && box.height >= 24 && !svg.parentElement?.closest('svg')
  })
  return all.map((svg, i) => ({ svg, name: nameOf(svg) || `Picture ${i + 1}` }))
}

function nameOf(svg: SVGSVGElement): string {
  const said = svg.getAttribute('aria-label') ?? svg.querySelector('title')?.textContent ?? ''
  const head =
    svg.closest('section, article, li, tr, [data-testid], main')?.querySelector('h1, h2, h3, h4, b')?.textContent ?? ''
  const whole = said.includes(head.trim()) ? said : [head, said].filter(Boolean).join(': ')
  return whole.replace(/\s+/g, ' ').trim().slice(0, 90)
}

const drawn = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
  'opacity',
  'fill-opacity',
  'stroke-opacity',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
  'dominant-baseline',
  'visibility',
  'display',
]

/** The drawing by itself: what the page's styles say of it is written into it. */
export function asSvg({ svg, name }: Drawing): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const from = [svg, ...svg.querySelectorAll('*')]
  const to = [copy, ...copy.querySelectorAll('*')]
  from.forEach((el, i) => {
    const style = getComputedStyle(el)
    const target = to[i] as SVGElement
    target.setAttribute('style', drawn.map((p) => `${p}:${style.getPropertyValue(p)}`).join(';'))
    for (const name of ['class', ...drawn]) target.removeAttribute(name)
  })
  const box = svg.getBoundingClientRect()
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.setAttribute('width', String(Math.round(box.width)))
  copy.setAttribute('height', String(Math.round(box.height)))
  if (!copy.getAttribute('viewBox')) copy.setAttribute('viewBox', `0 0 ${box.width} ${box.height}`)
  const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect')
  const [x, y, w, h] = (copy.getAttribute('viewBox') ?? '').split(/[\s,]+/)
  for (const [k, v] of Object.entries({
    x,
    y,
    width: w,
    height: h,
    fill: getComputedStyle(document.body).backgroundColor,
  }))
    ground.setAttribute(k, v ?? '')
  copy.insertBefore(ground, copy.firstChild)
  if (!copy.querySelector('title')) {
    const title = document.createElementNS('http://www.w3.org/2000/svg', 'title')
    title.textContent = name
    copy.insertBefore(title, copy.firstChild)
  }
  return new XMLSerializer().serializeToString(copy)
}

const fileOf = (name: string, ending: string) =>
  `${
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'picture'
  }.${ending}`

function save(blob: Blob, file: string) {
  const a = document.createElement('a')
  a.href = URL.createObjectURL(blob)
  a.download = file
  a.click()
  setTimeout(() => URL.revokeObjectURL(a.href), 10_000)
}

export function saveSvg(d: Drawing) {
  save(new Blob([asSvg(d)], { type: 'image/svg+xml' }), fileOf(d.name, 'svg'))
}

/** PNG at twice the size, in the light that the page has. */
export async function savePng(d: Drawing) {
  const box = d.svg.getBoundingClientRect()
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(asSvg(d))}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(box.width) * 2
  canvas.height = Math.round(box.height) * 2
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
  if (blob) save(blob, fileOf(d.name, 'png'))
}
