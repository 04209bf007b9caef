import type { Rule } from '../../../notation'
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

export const rules: readonly Rule[] = [
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
]
