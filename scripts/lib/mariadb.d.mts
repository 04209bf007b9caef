export function startMariaDb(
  folder: string,
  database: string,
): Promise<{ readonly url: string; readonly stop: () => Promise<void>; readonly pid: number | undefined }>
export function freePort(wished: number | undefined): Promise<number>
export function pause(ms: number): Promise<void>
