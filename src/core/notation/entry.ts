import {
  daysMeant,
  HORIZON,
  isReckonable,
  isReckoned,
  LONGEST_IN_WORDS,
  readMoment,
  tidyDuration,
  tidyWhen,
} from '../calendar'
import { asDay, cut, dayInWords, isDay, type Day, type StepValue } from '../model'
import type { Field } from './kind'
import { LIMITS } from './limits'

/** What was typed, read as a field's value; null clears. */
export type Entry = { readonly value: StepValue } | { readonly refused: string }

/** Reads typed text as a value of the field. */
export function readEntry(
  field: Pick<Field, 'label' | 'type' | 'choices' | 'min' | 'max' | 'fault'>,
  typed: string,
): Entry {
  const text = typed.trim()
  if (text === '') return { value: null }
  const fault = field.fault?.(text)
  if (fault !== undefined) return { refused: fault }
  switch (field.type) {
    case 'number':
    case 'integer':
      return readNumber(field, text)
    case 'flag':
      if (/^(yes|true|1|x|on)$/i.test(text)) return { value: true }
      if (/^(no|false|0|off)$/i.test(text)) return { value: null }
      return { refused: `${field.label} is yes or no, not “${clip(text)}”.` }
    case 'day': {
      const day = readDay(text)
      return day ? { value: day } : { refused: `${notOneDay(text)} Write it as 2026-11-24.` }
    }
    case 'choice': {
      const choice = field.choices?.find((one) => one.toLowerCase() === text.toLowerCase())
      return choice === undefined
        ? { refused: `${field.label} is one of ${field.choices?.join(', ')}, not “${clip(text)}”.` }
        : { value: choice }
    }
    case 'duration': {
      const duration = tidyDuration(text)
      if (duration === undefined)
        return { refused: `${field.label} is a working time such as 5d, 4h, 30min or 2w, not “${clip(text)}”.` }
      return isReckonable(duration) ? { value: duration } : { refused: tooLong(field.label, text) }
    }
    case 'moment': {
      const moment = tidyMoment(text)
      if (moment === undefined) return { refused: `${notOneDay(text)} Write it as 2026-11-24 or 2026-11-24 13:00.` }
      return isReckoned(asDay(moment.slice(0, 10))) ? { value: moment } : { refused: tooFar(text) }
    }
    case 'when': {
      const when = tidyWhen(text)
      return when === undefined
        ? { refused: `“${clip(text)}” is not a date. Write it as 1887, May 1887, 1887-05-14 or 44 BCE.` }
        : { value: when }
    }
    case 'pair': {
      const [x, y, more] = text.split(/\s*[;,]\s*|\s+/).map(Number)
      return x === undefined || y === undefined || more !== undefined || !Number.isFinite(x + y)
        ? { refused: `${field.label} is two numbers such as 1, 2, not “${clip(text)}”.` }
        : { value: [x, y] }
    }
    case 'list':
      return { value: text.split(/\s*[,;]\s*/).filter(Boolean) }
    case 'note':
      return within(field.label, typed, LIMITS.note)
    case 'text':
    case 'image':
    case 'reference':
      return within(field.label, text, LIMITS.name)
  }
}

/** Why a working time is too long for a plan, and a moment too far from now. */
export const tooLong = (what: string, text: string): string =>
  `${what} is ${LONGEST_IN_WORDS} of work at most, not “${clip(text)}”.`
export const tooFar = (text: string): string =>
  `Plans reckon from ${HORIZON.first.slice(0, 4)} to ${HORIZON.last.slice(0, 4)}; “${clip(text)}” lies beyond.`

/** `24 Nov 2026 13:00` as `2026-11-24T13:00`, a day alone as a day; undefined for anything else. */
export function tidyMoment(text: string): string | undefined {
  const [, date = text, time] = /^(.*?)[\sT]+(\d{1,2}:\d{2})$/.exec(text.trim()) ?? []
  const day = readDay(date.trim())
  if (!day) return undefined
  const moment = time === undefined ? day : `${day}T${time.padStart(5, '0')}`
  return readMoment(moment) && moment
}

/** A day as people write it, `24 Nov 2026`, `24.11.2026`, `11/24/2026`; undefined for what is none or may be several. */
export function readDay(text: string): Day | undefined {
  if (isDay(text)) return text
  const [day, other] = daysMeant(text)
  return other === undefined ? day : undefined
}

function notOneDay(text: string): string {
  const [day, other] = daysMeant(text)
  return day === undefined || other === undefined
    ? `“${clip(text)}” is not a day.`
    : `“${clip(text)}” may be ${dayInWords(day)} or ${dayInWords(other)}.`
}

function readNumber(field: Pick<Field, 'label' | 'type' | 'min' | 'max'>, text: string): Entry {
  const plain = text
    .replace(/[\s\u00a0\u202f’']/g, '')
    .replace(/^([^.]*),(\d{1,2}|\d{4,})$/, '$1.$2')
    .replace(/,/g, '')
  const value = Number(plain)
  if (!Number.isFinite(value) || plain === '') return { refused: `${field.label} is a number, not “${clip(text)}”.` }
  if (field.type === 'integer' && !Number.isInteger(value)) return { refused: `${field.label} is a whole number.` }
  if (field.min !== undefined && value < field.min) return { refused: `${field.label} is at least ${field.min}.` }
  if (field.max !== undefined && value > field.max) return { refused: `${field.label} is at most ${field.max}.` }
  return { value }
}

const within = (label: string, text: string, limit: number): Entry =>
  text.length > limit
    ? {
        refused: `${label} has ${text.length.toLocaleString('en')} characters; ${limit.toLocaleString('en')} is the most.`,
      }
    : { value: text }

/** A text short enough to be quoted in a message. */
export const clip = (text: string): string => (text.length > 60 ? `${cut(text, 59)}…` : text)
