const NAME = 'skivel:author'
const MAIL = 'skivel:mail'

/** Who is written into the history and beneath comments until there are accounts: a name kept in this browser. */
export function authorName(): string {
  const known = localStorage.getItem(NAME)
  const name = known ?? `Guest ${1000 + Math.floor(Math.random() * 9000)}`
  if (!known) localStorage.setItem(NAME, name)
  return name
}

/** Where answers to comments are sent, if anywhere. */
export const authorMail = (): string => localStorage.getItem(MAIL) ?? ''

export function callAuthor(name: string, mail: string): void {
  if (name.trim() !== '') localStorage.setItem(NAME, name.trim())
  localStorage.setItem(MAIL, mail.trim())
}
