import { addDays, asDay, covers, daysBetween, type Day, type Id, type Model } from '../core/model'
import { marramSoundFerries } from '../demo'
import { rolled } from './dice'

/**
 * A simulated staff directory, as a personnel system would serve it: the ferry line's people, to whom joiners, leavers and movers come
 * day by day. Made up from end to end; the same day always gives the same people.
 */

const USER = 'urn:ietf:params:scim:schemas:core:2.0:User'
const ENTERPRISE = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User'
const LIST = 'urn:ietf:params:scim:api:messages:2.0:ListResponse'

/** The day from which on the directory has a life of its own. */
const EPOCH = asDay('2026-11-01')
/** The made-up life of the directory goes on for two years; then it stays as it is. */
const MOST_DAYS = 730

interface Member {
  readonly id: string
  readonly name: string
  readonly title: string
  readonly department: string
  readonly manager: string | undefined
  readonly email: string
  readonly active: boolean
}

const FIRST = [
  'Aino',
  'Bela',
  'Cato',
  'Dena',
  'Edda',
  'Falk',
  'Gita',
  'Hauk',
  'Ilse',
  'Jory',
  'Kaja',
  'Loke',
  'Mira',
  'Nore',
  'Oda',
  'Pim',
  'Rune',
  'Siv',
  'Tova',
  'Ulf',
]
const LAST = [
  'Ambler',
  'Brinley',
  'Cotter',
  'Dunmore',
  'Eastwell',
  'Farrow',
  'Garnet',
  'Hollis',
  'Iverby',
  'Jessop',
  'Kelder',
  'Lindow',
  'Marsden',
  'Norrby',
  'Ostrey',
  'Penhall',
  'Quarle',
  'Rosby',
  'Selwick',
  'Tarrant',
]
const JOINING = ['Desk agent', 'Yard marshal', 'Linesman', 'Roster clerk', 'Service desk analyst', 'Terminal assistant']

/** Everyone the directory knows on a day, those who have left included. O(members × days since the epoch). */
export function membersOn(day: Day): readonly Member[] {
  if (last?.day !== day) last = { day, members: livedUntil(day) }
  return last.members
}

/** A page after the other is asked for on one day. */
let last: { readonly day: Day; readonly members: readonly Member[] } | undefined

function livedUntil(day: Day): Member[] {
  const members = staffOf(marramSoundFerries(), day)
  const days = Math.min(MOST_DAYS, daysBetween(EPOCH, day))
  for (let i = 0; i <= days; i++) liveThrough(members, addDays(EPOCH, i), i)
  return members
}

/** About one change in two days: somebody joins, leaves, or goes to another manager. */
function liveThrough(members: Member[], day: Day, index: number): void {
  const dice = rolled(index + 1)
  const staff = members.filter(
    ({ active, id }) => active && !members.some(({ manager, active: working }) => working && manager === id),
  )
  if (dice(0) < 0.22) {
    const name = `${FIRST[Math.floor(dice(1) * FIRST.length)]} ${LAST[Math.floor(dice(2) * LAST.length)]}`
    const leads = members.filter(({ active, id }) => active && members.some(({ manager }) => manager === id))
    const lead = leads[Math.floor(dice(3) * leads.length)]
    if (!lead) return
    members.push({
      id: `j-${day}`,
      name,
      title: JOINING[Math.floor(dice(4) * JOINING.length)] ?? 'Trainee',
      department: lead.department,
      manager: lead.id,
      email: emailOf(name),
      active: true,
    })
  } else if (dice(0) < 0.36) change(members, staff[Math.floor(dice(5) * staff.length)], { active: false })
  else if (dice(0) < 0.5) {
    const mover = staff[Math.floor(dice(6) * staff.length)]
    const others = members.filter(
      ({ id, active, department }) =>
        active &&
        mover &&
        department === mover.department &&
        id !== mover.id &&
        id !== mover.manager &&
        members.some(({ manager }) => manager === id),
    )
    const to = others[Math.floor(dice(7) * others.length)]
    if (to) change(members, mover, { manager: to.id })
  }
}

function change(members: Member[], member: Member | undefined, more: Partial<Member>): void {
  if (member) members[members.indexOf(member)] = { ...member, ...more }
}

const emailOf = (name: string): string => `${name.toLowerCase().replace(/\W+/g, '.')}@marramsound.example`

/** Everyone who holds a post on a day; a vacant post's reports answer to whoever is next above. */
function staffOf(model: Model, day: Day): Member[] {
  const held = model.relationsOfKind('holds').filter((holds) => covers(holds, day))
  const posts = new Set(held.map(({ target }) => target))
  const above = (post: Id): Id | undefined =>
    [...model.leaving(post, 'assists'), ...model.leaving(post, 'reports-to')].find(
      (line) => covers(line, day) && line.fields['line'] !== 'dotted',
    )?.target
  return held.flatMap(({ source, target }) => {
    const [person, post] = [model.entities.get(source), model.entities.get(target)]
    if (!person || !post || !covers(post, day)) return []
    let manager = above(target)
    while (manager !== undefined && !posts.has(manager)) manager = above(manager)
    const unit = model.entities.get(post.fields['unit'] as Id)?.name
    return {
      id: target,
      name: person.name,
      title: post.name,
      department: unit ?? '',
      manager,
      email: emailOf(person.name),
      active: true,
    }
  })
}

/** One page of the users of a day as a SCIM list response (RFC 7643, RFC 7644). */
export function usersPage(day: Day, startIndex: number, count: number): object {
  const members = membersOn(day)
  const Resources = members.slice(startIndex - 1, startIndex - 1 + count).map((member) => {
    const words = member.name.split(' ')
    return {
      schemas: [USER, ENTERPRISE],
      id: member.id,
      userName: member.email,
      displayName: member.name,
      name: { formatted: member.name, familyName: words.at(-1), givenName: words.slice(0, -1).join(' ') },
      title: member.title,
      active: member.active,
      emails: [{ value: member.email, type: 'work', primary: true }],
      [ENTERPRISE]: {
        department: member.department,
        ...(member.manager === undefined ? {} : { manager: { value: member.manager } }),
      },
    }
  })
  return { schemas: [LIST], totalResults: members.length, startIndex, itemsPerPage: Resources.length, Resources }
}
