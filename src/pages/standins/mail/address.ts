import { endpoint, json } from '../../../server'
import { mailCatcher } from '../../../standins/mailCatcher'

/** Where the made-up mail server listens. */
export const GET = endpoint(async () => json({ host: '127.0.0.1', port: await mailCatcher() }))
