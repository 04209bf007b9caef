import type { Database } from './mariadb.mjs'

export interface Supervised {
  readonly stop: () => Promise<void>
  readonly kill: () => void
  readonly ended: Promise<number>
}
export function supervise(options: {
  readonly database: Database
  readonly startDatabase?: () => Promise<Database>
  readonly environment: NodeJS.ProcessEnv
  readonly say?: (line: string) => void
}): Supervised
