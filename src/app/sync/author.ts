/** Who is written into the history until there are accounts: a name kept in this browser. */
export function authorName(): string {
  const known = localStorage.getItem('skivel:author')
  const name = known ?? `Guest ${1000 + Math.floor(Math.random() * 9000)}`
  if (!known) localStorage.setItem('skivel:author', name)
  return name
}
