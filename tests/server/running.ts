import { fork, type ChildProcess } from 'node:child_process'

/** Asks a server in JSON, and answers the status with what it said. */
export async function asked<T>(
  { address }: Pick<Running, 'address'>,
  path: string,
  method = 'GET',
  body?: unknown,
): Promise<{ readonly status: number; readonly body: T }> {
  const response = await fetch(address + path, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  })
  return { status: response.status, body: (await response.json()) as T }
}

/** The built server as its own process on a free port. */
export interface Running {
  readonly address: string
  readonly process: ChildProcess
  readonly stop: (signal?: NodeJS.Signals) => Promise<void>
}

export function startServer(databaseUrl: string, environment: NodeJS.ProcessEnv = {}): Promise<Running> {
  return new Promise((resolve, reject) => {
    const child = fork('scripts/serve.mjs', {
      env: { ...process.env, ...environment, SKIVEL_DATABASE_URL: databaseUrl, PORT: '0' },
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      // As it is started in earnest: without what the tests themselves are run by.
      execArgv: [],
    })
    child.on('exit', (code) => reject(new Error(`the server ended with ${code}`)))
    child.on('message', (message: { listening?: number }) => {
      if (message.listening === undefined) return
      resolve({
        address: `http://127.0.0.1:${message.listening}`,
        process: child,
        stop: (signal = 'SIGTERM') =>
          new Promise((gone) => {
            if (child.exitCode !== null || child.signalCode !== null) return gone()
            child.once('exit', () => gone())
            child.kill(signal)
          }),
      })
    })
  })
}
