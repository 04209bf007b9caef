import { shareOf, type ListReading } from '../../notation'
import { readInterface } from './addresses'
import { readLine } from './words'

/** Whether a line says an address, what sort of device something is, or what it is joined to. */
const isOfNetwork = (line: string): boolean => {
  const read = readLine(line, 'elsewhere')
  if (!('refused' in read))
    return read.is !== 'device' || read.fields['addresses'] !== undefined || read.fields['type'] !== undefined
  const inner = readLine(line, 'device')
  return (
    !('refused' in inner) &&
    (inner.is !== 'cable' || line.split(/[\s,]+/).some((part) => readInterface(part) !== undefined))
  )
}

export const lists: readonly ListReading[] = [
  {
    id: 'devices',
    word: 'devices',
    title: 'The network',
    picture: 'zones',
    likeness: (lines) => Math.min(1, 1.5 * shareOf(lines, isOfNetwork)),
  },
]
