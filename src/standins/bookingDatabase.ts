import type { Day } from '../core/model'
import { statementsOf } from '../core/notations/uml/formats/ddl'
import { bookingTables, marramSoundFerries } from '../demo'

/** Simulated: the statements that lay the ferry line's booking database as it stands on a day. Made up; the same day always gives the same tables. */
export const bookingStatements = (day: Day): readonly string[] => statementsOf(bookingTables(marramSoundFerries(), day))
