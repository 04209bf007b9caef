import { parseJson } from '../../core/model'
import type { Table } from '../../core/notation'
import { registry } from '../../core/notations'
import { readBytes } from '../http/body'
import { TooLarge } from '../http/endpoint'
import { Unreachable } from './errors'

export const PATIENCE_MS = 10_000
/** Bytes of an answer that are read at most. */
const MOST_ANSWERED = 20_000_000

/** What another program answers at an address. @throws Unreachable when it does not answer, in words that name it. */
export async function askedOf(who: string, address: string, accept: string): Promise<unknown> {
  try {
    const response = await fetch(address, { headers: { accept }, signal: AbortSignal.timeout(PATIENCE_MS) })
    if (!response.ok) throw new Unreachable(`${who} answered ${response.status}.`)
    return parseJson(Buffer.from(await readBytes(response, MOST_ANSWERED)).toString('utf8'))
  } catch (error) {
    if (error instanceof Unreachable) throw error
    if (error instanceof TooLarge) throw new Unreachable(`${who} answers too much. ${error.message}`)
    if (error instanceof SyntaxError) throw new Unreachable(`What ${who.toLowerCase()} answers is not JSON.`)
    throw new Unreachable(`${who} does not answer: ${error instanceof Error ? error.message : String(error)}`)
  }
}

/** The answer as a table, by the reader that knows what such programs answer. @throws Unreachable for what it does not understand. */
export function tableOf(who: string, sort: 'directory' | 'network', answer: unknown): Table {
  const reader = registry.notations
    .flatMap(({ imports }) => imports.flatMap(({ readers }) => readers))
    .find(({ asked }) => asked === sort)
  const table = reader?.read(JSON.stringify(answer)) ?? { refused: 'nothing here reads what it answers.' }
  if ('refused' in table) throw new Unreachable(`What ${who.toLowerCase()} answers is not understood: ${table.refused}`)
  return table
}

/** Where a program that is asked is: as it is said, else the one that ships with this. */
export const addressOf = (variable: string, standin: string): string =>
  (process.env[variable] ?? `${process.env['SKIVEL_SELF'] ?? ''}${standin}`).replace(/\/$/, '')
