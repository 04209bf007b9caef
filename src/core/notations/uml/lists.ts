import { shareOf, type ListReading } from '../../notation'
import { readMember } from './syntax/members'
import { isFault } from './syntax/scan'
import { readLine as readCallLine } from './sequences/words'
import { readLine as readStateLine } from './states/words'
import { readLine as readUseLine } from './usecases/words'
import { readLine } from './words'

/** Whether a line is a member with its visibility or type, a tie in our words, or says that it is a class. */
function isOfClasses(line: string): boolean {
  if (/^[-+#~]\s*\/?\s*[\p{L}_][^:]*:\s*\S/u.test(line) || /^[-+#~]\s*[\p{L}_][\p{L}\p{N}_]*\(/u.test(line))
    return !isFault(readMember(line))
  if (/\((?:package|class|interface|enumeration|data type|abstract)\b/i.test(line)) {
    const read = readLine(line, 'elsewhere')
    return !('refused' in read) && (read.is === 'package' || Object.keys(read.fields).length > 0)
  }
  const read = readLine(line, 'class')
  return !('refused' in read) && read.is === 'association' && read.fields['targetMultiplicity'] !== undefined
}

/** Whether a line says what leads from one state to another. */
const isLeading = (line: string): boolean => {
  const read = /(?:->|→)/.test(line) ? readStateLine(line, 'state') : undefined
  return read !== undefined && !('refused' in read) && read.is === 'transition'
}

/** Whether a line says who asks, tells or answers whom. */
const isSaying = (line: string): boolean => {
  const read = /\s(?:asks|tells|answers|makes|ends)\s/i.test(line) ? readCallLine(line) : undefined
  return read !== undefined && !('refused' in read) && read.is === 'call'
}

/** Whether a line says who takes part in what, or what a use case includes or extends. */
const isUsing = (line: string): boolean => {
  const read = readUseLine(line, /^(?:includes|extends)\s/i.test(line) ? 'use-case' : 'elsewhere')
  return !('refused' in read) && (read.is === 'include' || read.is === 'extend' || read.is === 'participation')
}
/** `includes Pay`, `Passenger (actor)`: no other list has such a line. */
const TELLING = /^(?:includes|extends)\s|\((?:actor|use case)\)\s*$/i

export const lists: readonly ListReading[] = [
  {
    id: 'classes',
    word: 'classes',
    title: 'The classes',
    picture: 'classes',
    likeness: (lines) => Math.min(1, 1.6 * shareOf(lines, isOfClasses)),
  },
  {
    id: 'states',
    word: 'states',
    title: 'The states',
    picture: 'states',
    likeness: (lines) => Math.min(1, 2 * shareOf(lines, isLeading)),
  },
  {
    id: 'messages',
    word: 'messages',
    title: 'The sequence',
    picture: 'sequence',
    likeness: (lines) => Math.min(1, 2 * shareOf(lines, isSaying)),
  },
  {
    id: 'uses',
    word: 'use cases',
    title: 'The use cases',
    picture: 'use-cases',
    likeness: (lines) => (lines.some((line) => TELLING.test(line)) ? Math.min(1, 1.6 * shareOf(lines, isUsing)) : 0),
  },
]
