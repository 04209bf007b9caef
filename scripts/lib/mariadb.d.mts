export interface Database {
  readonly url: string
  readonly stop: () => Promise<void>
  readonly isUp: () => boolean
  readonly pid: number | undefined
}
export function startMariaDb(folder: string, database: string): Promise<Database>
export function freePort(wished: number | undefined): Promise<number>
export function pause(ms: number): Promise<void>
