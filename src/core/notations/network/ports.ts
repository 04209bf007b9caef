/** Numbers of ports as rules and flows say them: numbers, ranges, and names of services. */

/** Half-open stretches in order, apart from each other. */
export type Spans = readonly (readonly [first: number, end: number])[]

export const PORTS = 65_536

/** Names of services by the registry of RFC 6335 (IANA, Service Name and Transport Protocol Port Number Registry); values from memory. */
const SERVICES: ReadonlyMap<string, number> = new Map(
  `ftp-data 20|ftp 21|ssh 22|telnet 23|smtp 25|whois 43|tacacs 49|domain 53|bootps 67|bootpc 68|tftp 69|http 80|kerberos 88|pop3 110|sunrpc 111|ntp 123
netbios-ns 137|netbios-dgm 138|netbios-ssn 139|imap 143|snmp 161|snmptrap 162|bgp 179|ldap 389|https 443|submissions 465|isakmp 500
syslog 514|printer 515|rtsp 554|submission 587|ipp 631|ldaps 636|domain-s 853|rsync 873|imaps 993|pop3s 995|radius 1812|radius-acct 1813
mqtt 1883|nfs 2049|mysql 3306|ipsec-nat-t 4500|sip 5060|sips 5061|postgresql 5432|amqps 5671|amqp 5672|coap 5683|syslog-tls 6514
http-alt 8080|secure-mqtt 8883|git 9418`
    .split(/[|\n]/)
    .map((one): [string, number] => {
      const [name = '', port = ''] = one.split(' ')
      return [name, Number(port)]
    }),
)

export const SERVICE_NAMES: readonly string[] = [...SERVICES.keys()].sort((a, b) => b.length - a.length)

export interface Ports {
  /** What is said of it that can be read; undefined where nothing is said at all. */
  readonly spans: Spans | undefined
  /** Parts that are no port, as they stand. */
  readonly unread: readonly string[]
}

/** `80, https, 1000-2000` as stretches. O(text) */
export function readPorts(text: string): Ports {
  if (text.trim() === '') return { spans: undefined, unread: [] }
  const unread: string[] = []
  const spans = text.split(/[,;]/).flatMap((part): (readonly [number, number])[] => {
    const said = part.trim().toLowerCase()
    const service = SERVICES.get(said)
    if (service !== undefined) return [[service, service + 1]]
    const [, low, high = low] = /^(\d{1,5})\s*(?:-\s*(\d{1,5}))?$/.exec(said) ?? []
    const [from, to] = [Number(low), Number(high)]
    if (low !== undefined && from <= to && to < PORTS) return [[from, to + 1]]
    unread.push(part.trim())
    return []
  })
  return { spans: united(spans), unread }
}

/** Why a text names no ports; undefined where all of it can be read. */
export function unreadPorts(text: string): string | undefined {
  const [first] = readPorts(text).unread
  return first === undefined
    ? undefined
    : `“${first.slice(0, 40)}” is no port: write a number up to ${PORTS - 1}, a range such as 1000-2000, or a service such as https.`
}

/** The same stretches in their order, those that touch as one. O(n log n) */
export function united(spans: readonly (readonly [number, number])[]): Spans {
  const sorted = [...spans].sort((a, b) => a[0] - b[0])
  const found: [number, number][] = []
  for (const [first, end] of sorted) {
    const last = found.at(-1)
    if (last && first <= last[1]) last[1] = Math.max(last[1], end)
    else found.push([first, end])
  }
  return found
}
