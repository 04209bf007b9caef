import type { Pool } from 'mysql2/promise'
import { databaseOn, openPool, type Database } from '../db/pool'
import { call } from '../threads/crew'
import { Memory } from './memory'

/** Where this process keeps its workspaces: made on first use from `SKIVEL_DATABASE_URL`. */
export interface Store {
  readonly pool: Pool
  readonly database: Database
  readonly memory: Memory
}

let store: Store | undefined

/** @throws Error when the address of the database is not set. */
export function theStore(): Store {
  if (store) return store
  const url = process.env['SKIVEL_DATABASE_URL']
  if (!url) throw new Error('SKIVEL_DATABASE_URL is not set. Start Skivel with `npm start`.')
  store = storeOn(openPool(url))
  call()
  return store
}

export const storeOn = (pool: Pool): Store => ({ pool, database: databaseOn(pool), memory: new Memory() })
