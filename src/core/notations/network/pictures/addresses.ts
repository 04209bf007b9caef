import { placeCallouts } from '../../../layout'
import { counted, type Day, type Id, type Model, type View } from '../../../model'
import type { Picture } from '../../../notation'
import { kit, textWidth, wrap, type Item, type Mark, type Scene } from '../../../scene'
import { addressText, hostsOf, overlap, prefixOf, prefixText, readPrefix, type Prefix } from '../addresses'
import { addresses as gestures } from '../gestures'
import { netShown, type Stated } from '../structure'
import { nextFree, roomIn, subnetsOf, type Subnet } from '../subnets'

export const addresses: Picture = {
  ...gestures,
  draw,
  needs: [
    'subnet.network',
    'subnet.prefix',
    'subnet.gateway',
    'subnet.zone',
    'subnet.reserved',
    'zone beside',
    'zone.network',
    'zone name',
    'device.network',
    'device.addresses',
  ],
}

const MARGIN = 20
const LEFT = 172
const STRIP = { width: 560, height: 20 } as const
/** Above a strip stand its first and last address and how full it is. */
const ABOVE = 13
const BOTTOM = ABOVE + STRIP.height
const GAP = 16
/** Marks of one strip at most: what is narrower is drawn as a share of its place. */
const PLACES = 280
/** So many members of a strip are named at most. */
const MOST_NAMED = 40
/** A part that is looked into is cut into so many strips. */
const PARTS = 16

interface Row {
  readonly subnet: Subnet
  readonly prefix: Prefix
  readonly used: readonly Stated[]
  readonly isPart: boolean
}

/** O(addresses log addresses): no more marks than places for each strip, however many addresses there are. */
function draw(model: Model, view: View, day: Day): Scene {
  const net = netShown(model, view, day)
  const part = typeof view.options['part'] === 'string' ? readPrefix(view.options['part']) : undefined
  const subnets = subnetsOf(net)
  const rows = part
    ? subnets.filter(({ prefix }) => overlap(prefix, part)).flatMap((subnet) => partsOf(subnet, part))
    : subnets.map((subnet): Row => ({ subnet, prefix: subnet.prefix, used: subnet.used, isPart: false }))
  const showMembers = view.options['members'] !== false
  const items: Item[] = []
  const backdrop: Mark[] = []
  let y = MARGIN
  let zone: unknown
  for (const [at, row] of rows.entries()) {
    const own = row.subnet.entity.fields['zone']
    const named = net.zones.find(({ id }) => id === own)?.name
    if (!part && (at === 0 || own !== zone) && net.zones.length > 0) {
      y += at === 0 ? 0 : 8
      backdrop.push(
        kit.text(MARGIN, y + 11, named ?? 'In no zone', { fill: 'ink', 'font-size': 12, 'font-weight': 700 }),
        kit.path(`M${MARGIN} ${y + 17.5}H${MARGIN + LEFT + STRIP.width}`, { fill: 'none', stroke: 'hairline' }),
      )
      y += 28
    }
    zone = own
    const drawn = rowItem(row, y, showMembers)
    items.push(drawn.item)
    y += drawn.height + GAP
  }
  if (view.options['legend'] !== false && rows.length > 0) {
    backdrop.push(...legend(MARGIN + LEFT, y + 4))
    y += 30
  }
  const used = subnets.reduce((sum, subnet) => sum + subnet.used.length, 0)
  return {
    bounds: { x: 0, y: 0, width: LEFT + STRIP.width + 2 * MARGIN, height: Math.max(2 * MARGIN, y + MARGIN - GAP) },
    backdrop,
    items,
    links: [],
    headline: part
      ? `${prefixText(part)} in ${counted(rows.length, 'part')}`
      : `${counted(subnets.length, 'subnet')}, ${counted(used, 'address', 'addresses')} in use`,
    summary: `Subnets to scale: ${subnets.map(({ entity }) => entity.name).join(', ') || 'none'}.`,
  }
}

/** A part of a subnet in strips of equal size. */
function partsOf(subnet: Subnet, part: Prefix): Row[] {
  const whole = part.length > subnet.prefix.length ? part : subnet.prefix
  const bits = whole.family === 4 ? 32 : 128
  const length = Math.min(bits, whole.length + Math.log2(PARTS))
  const size = 1n << BigInt(bits - length)
  const count = Number((whole.last - whole.first + 1n) / size)
  const byPart = new Map<number, Stated[]>()
  for (const stated of subnet.used) {
    const { value } = stated.address
    if (value < whole.first || value > whole.last) continue
    const at = Number((value - whole.first) / size)
    byPart.set(at, [...(byPart.get(at) ?? []), stated])
  }
  return Array.from({ length: count }, (_, at): Row => ({
    subnet,
    prefix: prefixOf({ family: whole.family, value: whole.first + BigInt(at) * size }, length),
    used: byPart.get(at) ?? [],
    isPart: true,
  }))
}

/** Where an address lies on a strip, as a share of its width. */
const shareAt = ({ first, last }: Prefix, value: bigint): number => {
  const size = last - first + 1n
  // In thousandths of a millionth: numbers of IPv6 are too large for a plain division.
  return Number(((value - first) * 1_000_000_000n) / size) / 1e9
}

function rowItem(row: Row, y: number, showMembers: boolean): { item: Item; height: number } {
  const { subnet, prefix, used, isPart } = row
  const { entity } = subnet
  const room = roomIn(subnet)
  const size = prefix.last - prefix.first + 1n
  const marks: Mark[] = []
  const name = isPart ? prefixText(prefix) : entity.name
  marks.push(
    kit.text(0, 12, wrap(name, LEFT - 16, 12, 'text700', 1)[0] ?? '', {
      fill: 'ink',
      'font-size': 12,
      'font-weight': 700,
    }),
    kit.text(
      0,
      27,
      isPart ? `${used.length.toLocaleString('en')} of ${size.toLocaleString('en')} used` : prefixText(prefix),
      {
        fill: 'ink-quiet',
        'font-family': 'mono',
        'font-size': 10.5,
      },
    ),
  )
  const strip = { x: LEFT, y: ABOVE, width: STRIP.width, height: STRIP.height }
  marks.push(kit.rect(strip, { fill: 'sheet', stroke: 'none' }))
  const reserved = reservedPath(subnet, prefix)
  if (reserved !== '') marks.push(kit.path(reserved, { fill: 'none', stroke: 'line', 'stroke-width': 1 }))
  const taken = usedPath(used, prefix)
  if (taken !== '') marks.push(kit.path(taken, { fill: 'bar-done', stroke: 'none' }))
  const { first, last } = hostsOf(prefix)
  if (!isPart && first > prefix.first && size <= BigInt(PLACES)) {
    // Neither of the two outermost is for devices.
    const cell = STRIP.width / Number(size)
    marks.push(kit.rect({ x: LEFT, y: ABOVE, width: cell, height: STRIP.height }, { fill: 'hairline', stroke: 'none' }))
    if (last < prefix.last)
      marks.push(
        kit.rect(
          { x: LEFT + STRIP.width - cell, y: ABOVE, width: cell, height: STRIP.height },
          { fill: 'hairline', stroke: 'none' },
        ),
      )
  }
  if (!isPart && subnet.gateway !== undefined) {
    const read = readPrefix(subnet.gateway)
    if (read?.family === prefix.family && read.first >= prefix.first && read.first <= prefix.last) {
      const x = LEFT + shareAt(prefix, read.first) * STRIP.width
      marks.push(kit.path(`M${tidy(x)} ${BOTTOM}v-8l6 8Z`, GATEWAY))
    }
  }
  marks.push(kit.rect(strip, { fill: 'none', stroke: 'outline', 'stroke-width': 1 }))
  marks.push(...headOf(row, room))
  let height: number = Math.max(BOTTOM, 30)
  if (showMembers && used.length > 0 && used.length <= MOST_NAMED) {
    const named = membersOf(used, prefix, BOTTOM)
    marks.push(...named.marks)
    height = Math.max(height, BOTTOM + named.height)
  }
  return {
    height,
    item: {
      id: isPart ? (`${entity.id} ${prefixText(prefix)}` as Id) : entity.id,
      facts: [entity.id, ...used.slice(0, MOST_NAMED).map(({ device }) => device.id)],
      label: `subnet ${name}, ${used.length} of ${countWords(room.hosts)} used`,
      box: { x: MARGIN, y, width: LEFT + STRIP.width, height },
      marks,
      texts: isPart
        ? []
        : [{ part: 'name', label: 'Subnet', value: entity.name, box: { x: -4, y: -3, width: LEFT - 8, height: 20 } }],
    },
  }
}

/** Above a strip its first and last address and, between them, how full it is: as many of its words as there is room for. */
function headOf({ subnet, prefix, used, isPart }: Row, room: ReturnType<typeof roomIn>): Mark[] {
  const [first, last] = [prefix.first, prefix.last].map((value) => addressText({ family: prefix.family, value }))
  const ends = { fill: 'ink-quiet', 'font-family': 'mono', 'font-size': 9 } as const
  const marks: Mark[] = [
    kit.text(LEFT, ABOVE - 4, first ?? '', ends),
    kit.text(LEFT + STRIP.width, ABOVE - 4, last ?? '', { ...ends, 'text-anchor': 'end' }),
  ]
  if (isPart) return marks
  const from = textWidth(first ?? '', 9, 'mono400') + 12
  const to = STRIP.width - textWidth(last ?? '', 9, 'mono400') - 12
  const free = nextFree(subnet)
  const parts = [
    `${used.length.toLocaleString('en')} used`,
    `${countWords(room.free)} free`,
    ...(free === undefined ? [] : [`next ${free}`]),
    ...(room.reserved === 0n ? [] : [`${room.reserved.toLocaleString('en')} reserved`]),
  ]
  // In the order of what is told, the last of them left out first.
  const told = parts
    .map((_, at) => parts.slice(0, parts.length - at).join(', '))
    .find((one) => textWidth(one, 10, 'text400') <= to - from)
  if (told === undefined) return marks
  const middle = STRIP.width / 2
  const half = textWidth(told, 10, 'text400') / 2
  const x = Math.min(Math.max(middle, from + half), to - half)
  return [
    ...marks,
    kit.text(LEFT + x, ABOVE - 4, told, { fill: 'ink-quiet', 'font-size': 10, 'text-anchor': 'middle' }),
  ]
}

/** What stands where the gateway is: light on what is used, edged on what is not. */
const GATEWAY = { fill: 'sheet', stroke: 'ink', 'stroke-width': 1 } as const

const tidy = (value: number): number => Math.round(value * 100) / 100

/** Large counts as powers of two. */
function countWords(count: bigint): string {
  if (count < 1n << 40n) return count.toLocaleString('en')
  const digits = count.toString(2)
  return `2^${Math.round(digits.length - 1 + Math.log2(Number(`0b${digits.slice(0, 20)}`) / 2 ** 19))}`
}

/** Addresses in use: each its own place where there is room, else places as high as they are full. */
function usedPath(used: readonly Stated[], prefix: Prefix): string {
  const size = prefix.last - prefix.first + 1n
  const places = size < BigInt(PLACES) ? Number(size) : PLACES
  const perPlace = Number(size) / places
  const counts = new Float64Array(places)
  for (const { address } of used) {
    const at = Math.min(places - 1, Math.floor(shareAt(prefix, address.value) * places + 1e-9))
    counts[at] = (counts[at] ?? 0) + 1
  }
  const width = STRIP.width / places
  let d = ''
  for (let at = 0; at < places; at++) {
    const count = counts[at] ?? 0
    if (count === 0) continue
    // Neighbours that are as full are one mark.
    let end = at + 1
    while (end < places && counts[end] === count) end++
    const full = Math.min(1, Math.max(count / Math.max(1, perPlace), 0.16))
    const height = tidy(STRIP.height * full)
    d += `M${tidy(LEFT + at * width)} ${tidy(BOTTOM - height)}h${tidy((end - at) * width)}v${height}h${tidy((at - end) * width)}Z`
    at = end - 1
  }
  return d
}

const STRIPE = 5

/** What is kept back, as slanted strokes. */
function reservedPath({ reserved }: Subnet, prefix: Prefix): string {
  let d = ''
  for (const range of reserved) {
    const from = range.first > prefix.first ? range.first : prefix.first
    const to = range.last < prefix.last ? range.last : prefix.last
    if (from > to) continue
    const left = LEFT + shareAt(prefix, from) * STRIP.width
    const right =
      LEFT + shareAt(prefix, to) * STRIP.width + STRIP.width / Math.max(1, Number(prefix.last - prefix.first + 1n))
    for (let x = left; x < right; x += STRIPE) {
      const run = Math.min(STRIPE, right - x)
      d += `M${tidy(x)} ${BOTTOM}L${tidy(x + run)} ${tidy(BOTTOM - (STRIP.height * run) / STRIPE)}`
    }
  }
  return d
}

/** Names of devices beneath their addresses, none over another one. */
function membersOf(used: readonly Stated[], prefix: Prefix, top: number): { marks: Mark[]; height: number } {
  const size = Number(prefix.last - prefix.first + 1n)
  const sorted = [...used].sort((a, b) => (a.address.value < b.address.value ? -1 : 1))
  const texts = sorted.map(({ device, address }) => ({ name: device.name, last: lastPart(addressText(address)) }))
  const points = sorted.map(
    ({ address }) => LEFT + shareAt(prefix, address.value) * STRIP.width + Math.min(3, STRIP.width / size / 2),
  )
  const widths = texts.map(({ name, last }) => Math.ceil(textWidth(`${last} ${name}`, 9.5, 'mono400')) + 4)
  const places = placeCallouts(
    points.map((x, at) => ({
      // Texts near the right end begin further left, so that none leaves the picture.
      x: Math.min(x, LEFT + STRIP.width - (widths[at] ?? 0)),
      width: widths[at] ?? 0,
      height: 12,
      side: 'below' as const,
    })),
    6,
  )
  const marks: Mark[] = []
  let height = 0
  texts.forEach(({ name, last }, at) => {
    const [x, out] = [points[at] ?? 0, places[at]?.out ?? 0]
    const left = Math.min(x, LEFT + STRIP.width - (widths[at] ?? 0))
    marks.push(
      kit.path(`M${tidy(x)} ${BOTTOM}V${top + out + 10}`, { fill: 'none', stroke: 'hairline', 'stroke-width': 1 }),
      kit.text(left + 3, top + out + 9, `${last} ${name}`, { fill: 'ink', 'font-family': 'mono', 'font-size': 9.5 }),
    )
    height = Math.max(height, out + 12)
  })
  return { marks, height }
}

/** What tells an address from its neighbours. */
const lastPart = (text: string): string =>
  text.includes(':') ? `:${text.split(':').at(-1) ?? ''}` : `.${text.split('.').at(-1) ?? ''}`

function legend(x: number, y: number): Mark[] {
  const entry = (at: number, words: string, sign: readonly Mark[]): Mark[] => [
    ...sign,
    kit.text(x + at + 30, y + 11, words, { fill: 'ink-quiet', 'font-size': 10.5 }),
  ]
  const box = (at: number): Mark =>
    kit.rect({ x: x + at, y, width: 24, height: 14 }, { fill: 'none', stroke: 'outline' })
  return [
    ...entry(0, 'used', [kit.rect({ x, y, width: 24, height: 14 }, { fill: 'bar-done', stroke: 'none' }), box(0)]),
    ...entry(80, 'reserved', [
      kit.path(
        `M${x + 80} ${y + 14}l5 -14M${x + 85} ${y + 14}l5 -14M${x + 90} ${y + 14}l5 -14M${x + 95} ${y + 14}l5 -14`,
        { fill: 'none', stroke: 'line' },
      ),
      box(80),
    ]),
    ...entry(184, 'free', [
      kit.rect({ x: x + 184, y, width: 24, height: 14 }, { fill: 'sheet', stroke: 'none' }),
      box(184),
    ]),
    ...entry(262, 'not for devices', [
      kit.rect({ x: x + 262, y, width: 24, height: 14 }, { fill: 'hairline', stroke: 'none' }),
      box(262),
    ]),
    ...entry(396, 'gateway', [kit.path(`M${x + 410} ${y + 14}v-8l6 8Z`, GATEWAY)]),
  ]
}
