import Holidays from 'date-holidays'
import { provideHolidays } from './holidays'

/** The list itself, with the rules of all countries: large, so a page loads it only when a calendar asks for it. */
provideHolidays({
  hasRegion: (country, state) => {
    if (!(country in new Holidays().getCountries())) return false
    const states = new Holidays().getStates(country) as Readonly<Record<string, string>> | undefined
    return state === undefined || state in (states ?? {})
  },
  holidaysOf: (country, state, year) =>
    (state === undefined ? new Holidays(country) : new Holidays(country, state)).getHolidays(year),
})
