import { select } from 'd3-selection'
import { zoom, zoomIdentity, type ZoomBehavior } from 'd3-zoom'

import { beginComments, type Picked } from './comments'

/** The page at which a view is read: moved and zoomed, searched, its links followed. It has the picture and nothing else of the workspace. */

const MOST = 8
const STEP = 1.4
const MARGIN = 12

/** In px of the layer. */
interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

type Zoom = ZoomBehavior<HTMLElement, unknown>

export function begin(): void {
  const stage = document.getElementById('stage')
  const views = document.querySelector<HTMLSelectElement>('#views')
  views?.addEventListener('change', () => window.location.assign(`?view=${encodeURIComponent(views.value)}`))
  const svg = stage?.querySelector('svg')
  if (!stage || !svg) return
  const layer = layered(svg)
  const size = { width: svg.viewBox.baseVal.width, height: svg.viewBox.baseVal.height }
  const whole = () =>
    Math.min(1, (stage.clientWidth - 2 * MARGIN) / size.width, (stage.clientHeight - 2 * MARGIN) / size.height)
  const behaviour: Zoom = zoom<HTMLElement, unknown>()
    .clickDistance(4)
    .scaleExtent([Math.min(whole(), 1) / 2, MOST])
    .on('zoom', ({ transform }: { transform: { x: number; y: number; k: number } }) => {
      layer.style.transform = `translate(${transform.x}px, ${transform.y}px) scale(${transform.k})`
    })
  const frame = select<HTMLElement, unknown>(stage).call(behaviour)
  const fit = () => {
    const k = whole()
    const at = zoomIdentity.translate((stage.clientWidth - size.width * k) / 2, MARGIN).scale(k)
    frame.call(behaviour.transform, at)
  }
  fit()
  window.addEventListener('resize', fit)
  document.getElementById('fit')?.addEventListener('click', fit)
  document.getElementById('larger')?.addEventListener('click', () => frame.call(behaviour.scaleBy, STEP))
  document.getElementById('smaller')?.addEventListener('click', () => frame.call(behaviour.scaleBy, 1 / STEP))
  stage.addEventListener('keydown', ({ key }) => {
    if (key === '+' || key === '=') frame.call(behaviour.scaleBy, STEP)
    else if (key === '-') frame.call(behaviour.scaleBy, 1 / STEP)
    else if (key === '0') fit()
    else if (key === 'ArrowLeft') frame.call(behaviour.translateBy, 60, 0)
    else if (key === 'ArrowRight') frame.call(behaviour.translateBy, -60, 0)
    else if (key === 'ArrowUp') frame.call(behaviour.translateBy, 0, 60)
    else if (key === 'ArrowDown') frame.call(behaviour.translateBy, 0, -60)
  })
  for (const link of svg.querySelectorAll('a'))
    if (/^https?:/.test(link.getAttribute('href') ?? '')) {
      link.setAttribute('target', '_blank')
      link.setAttribute('rel', 'noopener noreferrer')
    }
  const toBox = (box: Box) => {
    const k = Math.max(whole(), 0.9)
    const x = stage.clientWidth / 2 - (box.x + box.width / 2) * k
    const y = stage.clientHeight / 2 - (box.y + box.height / 2) * k
    frame.call(behaviour.transform, zoomIdentity.translate(x, y).scale(k))
  }
  searched(svg, layer, toBox)
  beginComments(stage, pickedOn(svg, layer, toBox))
}

/** The picture in a layer that is moved and scaled, at its own size. */
function layered(svg: SVGSVGElement): HTMLElement {
  const layer = document.createElement('div')
  layer.style.transformOrigin = '0 0'
  layer.style.position = 'absolute'
  const { width, height } = svg.viewBox.baseVal
  svg.setAttribute('width', String(width))
  svg.setAttribute('height', String(height))
  svg.replaceWith(layer)
  layer.append(svg)
  return layer
}

/** Finds words in the picture: the first of them comes into view, Enter goes on to the next. */
function searched(svg: SVGSVGElement, layer: HTMLElement, show: (box: Box) => void): void {
  const form = document.querySelector<HTMLFormElement>('#search')
  const field = form?.querySelector('input')
  const output = form?.querySelector('output')
  if (!form || !field || !output) return
  const texts = [...svg.querySelectorAll('text')]
  const mark = document.createElement('div')
  mark.style.cssText = 'position:absolute;pointer-events:none;border:3px solid #a8322a;border-radius:3px;display:none'
  mark.dataset['found'] = ''
  layer.append(mark)
  let [found, at]: [SVGTextElement[], number] = [[], 0]
  const go = () => {
    const one = found[at]
    output.textContent = field.value.trim() === '' ? '' : one ? `${at + 1} of ${found.length}` : 'not here'
    mark.style.display = one ? 'block' : 'none'
    if (!one) return
    const { x, y, width, height } = placeOf(one, svg)
    Object.assign(mark.style, {
      left: `${x - 6}px`,
      top: `${y - 5}px`,
      width: `${width + 12}px`,
      height: `${height + 10}px`,
    })
    show({ x, y, width, height })
    // What is found can be spoken of: the way without a pointer.
    one.dispatchEvent(new CustomEvent('found', { bubbles: true }))
  }
  field.addEventListener('input', () => {
    const words = field.value.trim().toLowerCase()
    found = words === '' ? [] : texts.filter((one) => one.textContent.toLowerCase().includes(words))
    at = 0
    go()
  })
  form.addEventListener('submit', (event) => {
    event.preventDefault()
    if (found.length > 0) at = (at + 1) % found.length
    go()
  })
}

/** Parts and places of a picture: its SVG is drawn in px of the scene, of which the layer’s begin at its upper left corner. */
function pickedOn(svg: SVGSVGElement, layer: HTMLElement, toBox: (box: Box) => void): Picked {
  const { x: left, y: top } = svg.viewBox.baseVal
  const mark = document.createElement('div')
  mark.style.cssText =
    'position:absolute;pointer-events:none;width:18px;height:18px;margin:-9px;border:3px solid #12565e;border-radius:50%;display:none'
  mark.dataset['place'] = ''
  layer.append(mark)
  return {
    show: (what) =>
      toBox(what instanceof Element ? placeOf(what, svg) : { x: what.x - left, y: what.y - top, width: 0, height: 0 }),
    placeAt: ({ clientX, clientY }) => {
      const whole = svg.getBoundingClientRect()
      const scale = whole.width / svg.viewBox.baseVal.width
      return { x: (clientX - whole.left) / scale + left, y: (clientY - whole.top) / scale + top }
    },
    mark: (place) => {
      mark.style.display = place ? 'block' : 'none'
      if (place) Object.assign(mark.style, { left: `${place.x - left}px`, top: `${place.y - top}px` })
    },
  }
}

/** Where a text or a part lies in the picture, from its upper left corner, in its own px. */
function placeOf(text: SVGGraphicsElement, svg: SVGSVGElement) {
  const scale = svg.getBoundingClientRect().width / svg.viewBox.baseVal.width
  const [own, whole] = [text.getBoundingClientRect(), svg.getBoundingClientRect()]
  return {
    x: (own.left - whole.left) / scale,
    y: (own.top - whole.top) / scale,
    width: own.width / scale,
    height: own.height / scale,
  }
}
