import { shipped } from './holidayList'
import { provideHolidays } from './holidays'

// For a program that waits for nothing: the list is there from the beginning.
provideHolidays(shipped)
