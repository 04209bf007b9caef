import { numberOf } from '../../../notation'
import { counted, type Day, type Entity, type Model, type View } from '../../../model'
import { covers } from '../../../model'
import type { Picture } from '../../../notation'
import { kit, wrap, type Box, type Item, type Mark, type Scene } from '../../../scene'
import { lostBy } from '../carried'
import { racks as gestures, UNIT_PX } from '../gestures'
import { freeUnits, heightOf, rackUnits, spanOf } from '../racked'
import { netShown, siteOfRack, type Device } from '../structure'
import { signOf } from './device'

export const racks: Picture = {
  ...gestures,
  draw,
  needs: [
    'rack.units',
    'rack.watts',
    'rack.site',
    'site beside',
    'site name',
    'device.network',
    'device.type',
    'device.rack',
    'device.unit',
    'device.height',
    'device.watts',
  ],
}

const RACK = { width: 220, rail: 18, gap: 44, head: 66 } as const
const MARGIN = 24
const CHIP = { height: 24, gap: 5 } as const

/** O(devices + racks · units). */
function draw(model: Model, view: View, day: Day): Scene {
  const net = netShown(model, view, day)
  const own = model.ofKind('rack').filter((rack) => covers(rack, day))
  const here = own.filter(
    (rack) => net.devices.some((device) => device.rack?.id === rack.id) || !isElsewhere(model, rack, net.devices),
  )
  const down = lostBy(
    net,
    new Set(Array.isArray(view.options['down']) ? (view.options['down'] as readonly string[]) : []),
  ).down
  const choices = { watts: view.options['watts'] !== false, numbers: view.options['numbers'] !== false }
  const highest = Math.max(1, ...here.map(rackUnits)) * UNIT_PX
  const items: Item[] = []
  const backdrop: Mark[] = []
  let [x, bottom] = [MARGIN, MARGIN + RACK.head + highest]
  for (const rack of here) {
    const devices = net.devices.filter((device) => device.rack?.id === rack.id)
    // Racks stand on one floor.
    const units = rackUnits(rack)
    const frame: Box = {
      x,
      y: MARGIN + RACK.head + highest - units * UNIT_PX,
      width: RACK.width,
      height: units * UNIT_PX,
    }
    backdrop.push(...frameMarks(rack, siteOfRack(model, rack), devices, frame, choices))
    items.push(rackItem(rack, frame))
    const loose = devices.filter((device) => spanOf(device) === undefined)
    for (const device of devices) {
      const span = spanOf(device)
      if (!span) continue
      const height = (span.to - span.from + 1) * UNIT_PX
      const box = {
        x: frame.x + RACK.rail,
        y: frame.y + frame.height - (span.from - 1) * UNIT_PX - height,
        width: RACK.width - 2 * RACK.rail,
        height,
      }
      items.push(deviceItem(device, box, down.nodes.has(net.devices.indexOf(device)), choices.watts))
    }
    loose.forEach((device, at) => {
      const y = frame.y + frame.height + 22 + at * (CHIP.height + CHIP.gap)
      if (at === 0)
        backdrop.push(kit.text(frame.x + RACK.rail, y - 7, 'no unit stated', { fill: 'ink-quiet', 'font-size': 10.5 }))
      items.push(
        deviceItem(
          device,
          { x: frame.x + RACK.rail, y, width: RACK.width - 2 * RACK.rail, height: CHIP.height },
          false,
          choices.watts,
        ),
      )
      bottom = Math.max(bottom, y + CHIP.height)
    })
    x += RACK.width + RACK.gap
  }
  const width = Math.max(2 * MARGIN + RACK.width, x - RACK.gap + MARGIN)
  const free = here.reduce(
    (sum, rack) =>
      sum +
      freeUnits(
        rack,
        net.devices.filter((device) => device.rack?.id === rack.id),
      ),
    0,
  )
  return {
    bounds: { x: 0, y: 0, width, height: bottom + MARGIN },
    backdrop,
    items,
    links: [],
    headline: `${counted(here.length, 'rack')}, ${counted(free, 'unit')} free`,
    summary: `Racks from the front: ${here.map(({ name }) => name).join(', ') || 'none'}.`,
  }
}

/** Whether all that stands in a rack is of other networks. */
const isElsewhere = (model: Model, rack: Entity, devices: readonly Device[]): boolean =>
  model
    .ofKind('device')
    .some(({ id, fields }) => fields['rack'] === rack.id && !devices.some((device) => device.id === id))

function frameMarks(
  rack: Entity,
  site: Entity | undefined,
  devices: readonly Device[],
  { x, y, width, height }: Box,
  choices: { readonly watts: boolean; readonly numbers: boolean },
): Mark[] {
  const units = rackUnits(rack)
  const drawn = devices.reduce((sum, { entity }) => sum + (numberOf(entity, 'watts') ?? 0), 0)
  const supply = numberOf(rack, 'watts')
  const isOver = supply !== undefined && drawn > supply
  const head = y - RACK.head
  const line = (words: string, at: number, size: number, bold: boolean): Mark =>
    kit.text(x, at, wrap(words, width, size, bold ? 'text700' : 'text400', 1)[0] ?? '', {
      fill: bold ? 'ink' : 'ink-quiet',
      'font-size': size,
      ...(bold ? { 'font-weight': 700 } : {}),
    })
  const inner = width - 2 * RACK.rail
  // No line goes through what is several units high: it would show where the device is faint.
  const borders = Array.from({ length: units - 1 }, (_, below) => below + 1).filter((below) =>
    devices.every((device) => {
      const span = spanOf(device)
      return !span || below < span.from || below >= span.to
    }),
  )
  return [
    line(rack.name, head + 13, 13, true),
    line(
      [site?.name, `${freeUnits(rack, devices)} of ${units} units free`].filter(Boolean).join(' · '),
      head + 29,
      11,
      false,
    ),
    ...(choices.watts && supply !== undefined
      ? [
          kit.rect({ x, y: head + 38, width, height: 7 }, { rx: 1, fill: 'sheet', stroke: 'outline' }),
          kit.rect(
            { x, y: head + 38, width: Math.min(width, (width * drawn) / (supply || 1)), height: 7 },
            { rx: 1, fill: isOver ? 'error' : 'bar-strong', stroke: 'none' },
          ),
          kit.text(x + width, head + 58, `${drawn.toLocaleString('en')} of ${supply.toLocaleString('en')} W`, {
            fill: isOver ? 'error' : 'ink-quiet',
            'font-size': 10.5,
            'text-anchor': 'end',
          }),
        ]
      : []),
    kit.rect({ x, y, width, height }, { rx: 2, fill: 'head', stroke: 'outline', 'stroke-width': 1.2 }),
    kit.rect({ x: x + RACK.rail, y, width: inner, height }, { fill: 'sheet', stroke: 'outline' }),
    kit.path(borders.map((below) => `M${x + RACK.rail} ${y + height - below * UNIT_PX}h${inner}`).join(''), {
      fill: 'none',
      stroke: 'hairline',
      'stroke-width': 1,
    }),
    ...(choices.numbers
      ? Array.from({ length: units }, (_, at): Mark =>
          kit.text(x + RACK.rail / 2, y + height - at * UNIT_PX - 5, String(at + 1), {
            fill: 'ink-quiet',
            'font-family': 'mono',
            'font-size': 9,
            'text-anchor': 'middle',
          }),
        )
      : []),
  ]
}

const rackItem = (rack: Entity, { x, y, width, height }: Box): Item => ({
  id: rack.id,
  facts: [rack.id],
  label: `rack ${rack.name}`,
  box: { x, y: y - RACK.head, width, height: height + RACK.head },
  marks: [],
  ground: true,
  texts: [{ part: 'name', label: 'Rack', value: rack.name, box: { x: -4, y: 0, width: width + 8, height: 20 } }],
})

function deviceItem(device: Device, box: Box, isDown: boolean, watts: boolean): Item {
  const { width, height } = box
  const power = watts ? numberOf(device.entity, 'watts') : undefined
  const words = power === undefined ? '' : `${power} W`
  const middle = height / 2
  const room = width - 30 - (words === '' ? 0 : 46)
  return {
    id: device.id,
    facts: [device.id],
    label: `${device.name}, ${heightOf(device.entity)} units${words && `, ${words}`}${isDown ? ', down' : ''}`,
    box,
    marks: [
      kit.rect(
        { x: 1, y: 1, width: width - 2, height: height - 2 },
        { rx: 2, fill: 'plate', stroke: isDown ? 'error' : 'ink-quiet', 'stroke-width': 1 },
      ),
      signOf(device.type, isDown ? 'error' : 'ink', 7, middle - 5.5),
      kit.text(24, middle + 4, wrap(device.name, room, 11, 'mono400', 1)[0] ?? '', {
        fill: 'ink',
        'font-family': 'mono',
        'font-size': 11,
        'font-weight': 700,
      }),
      ...(words === ''
        ? []
        : [kit.text(width - 7, middle + 4, words, { fill: 'ink-quiet', 'font-size': 10, 'text-anchor': 'end' })]),
      ...(isDown
        ? [kit.path(`M5 ${height - 4}L${width - 5} 4`, { fill: 'none', stroke: 'error', 'stroke-width': 1.6 })]
        : []),
    ],
    texts: [
      {
        part: 'name',
        label: 'Host',
        value: device.name,
        box: { x: 20, y: Math.max(0, middle - 11), width: room + 8, height: 22 },
      },
    ],
    handles: [{ id: 'unit', box: { x: 0, y: 0, width, height }, pulls: 'freely' }],
    ...(device.rack ? { parent: device.rack.id } : {}),
  }
}
