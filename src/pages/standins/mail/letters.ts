import { endpoint, json } from '../../../server'
import { caughtLetters } from '../../../standins/mailCatcher'

/** The letters that the made-up mail server has caught, the newest first. */
export const GET = endpoint(() => Promise.resolve(json({ letters: caughtLetters() })))
