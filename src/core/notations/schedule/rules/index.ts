import { reading, type Reads, type Rule } from '../../../notation'
import { entityKinds, relationKinds } from '../kinds'
import {
  beyondHorizon,
  calendarUnreadable,
  deadlineMissed,
  endsBeforeStart,
  negativeFloat,
  nonWorkingDay,
} from './dates'
import { cycle, orphan, summaryLinked, violatesLink } from './links'
import { inPost, overAllocated, unassigned } from './people'
import { actualInFuture, progressWithoutStart, shouldHaveStarted } from './progress'

/** Plans, and who works on them. */
const plans: Reads = {
  facts: {
    // A relation may lead to a fact of any kind: whether that is in force counts.
    '*': ['from', 'to'],
    ...Object.fromEntries([...entityKinds, ...relationKinds].map(({ id }) => [id, true as const])),
    person: true,
    position: true,
    holds: true,
  },
  names: ['*'],
}

export const rules: readonly Rule[] = reading(
  plans,
  cycle,
  endsBeforeStart,
  violatesLink,
  negativeFloat,
  beyondHorizon,
  calendarUnreadable,
  deadlineMissed,
  nonWorkingDay,
  inPost,
  overAllocated,
  unassigned,
  progressWithoutStart,
  actualInFuture,
  shouldHaveStarted,
  summaryLinked,
  orphan,
)
