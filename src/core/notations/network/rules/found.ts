import type { Day, Id, Model } from '../../../model'
import { COMMON, type Fix, type Found, type Rule } from '../../../notation'
import { netsOn, type Net } from '../structure'

export const finding = (message: string, subjects: readonly Id[], fixes: readonly Fix[] = []): Found => ({
  message,
  subjects: [...new Set(subjects)],
  fixes,
})

/** A rule that looks at each network of a day. */
export const inEach = (
  rule: Omit<Rule, 'check' | 'source'> & { readonly source?: string },
  find: (net: Net, model: Model, day: Day) => readonly Found[],
): Rule => ({
  source: COMMON,
  ...rule,
  check: (model, day) => netsOn(model, day).flatMap((net) => find(net, model, day)),
})

/** The first few names of many. */
export function listed(names: readonly string[], most = 4): string {
  const shown = names.slice(0, most).map((name) => `“${name}”`)
  const more = names.length - shown.length
  return more > 0 ? `${shown.join(', ')} and ${more.toLocaleString('en')} more` : shown.join(', ')
}
