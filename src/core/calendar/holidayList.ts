import Holidays from 'date-holidays'

/** What a list of holidays knows. */
export interface HolidayList {
  readonly hasRegion: (country: string, state: string | undefined) => boolean
  readonly holidaysOf: (
    country: string,
    state: string | undefined,
    year: number,
  ) => readonly {
    readonly date: string
    readonly start: Date
    readonly end: Date
    readonly type: string
    readonly name: string
  }[]
}

/** The list that is shipped, with the rules of all countries: large, so a page loads it only when a calendar asks for it. */
export const shipped: HolidayList = {
  hasRegion: (country, state) => {
    if (!(country in new Holidays().getCountries())) return false
    const states = new Holidays().getStates(country) as Readonly<Record<string, string>> | undefined
    return state === undefined || state in (states ?? {})
  },
  holidaysOf: (country, state, year) =>
    (state === undefined ? new Holidays(country) : new Holidays(country, state)).getHolidays(year),
}
