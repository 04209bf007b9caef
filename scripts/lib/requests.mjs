// What a request may look like before anything looks at it, and where it came from.

/**
 * Whether a path names what it seems to name: whoever reads it before (a proxy that leaves some paths open) and whoever reads it after see the same one.
 * Refused are backslashes, doubled slashes, segments of dots, and slashes, backslashes and zeros in percent signs. O(address)
 */
export function isPlain(address) {
  const [path] = address.split(/[?#]/, 1)
  if (!path.startsWith('/') || /[\\\s\0-\x1f\x7f]|\/\//.test(path)) return false
  let said = path
  try {
    said = decodeURIComponent(path)
  } catch {
    // What is no text stays as it is, and names nothing.
  }
  if (/[\\\0]/.test(said) || said.split('/').length !== path.split('/').length) return false
  // Read once more, as some proxies do: %252e is a dot in the end.
  const segments = [...path.split('/'), ...said.split('/'), ...said.replace(/%2e/gi, '.').split('/')]
  return !segments.some((segment) => /^\.{1,2}(?:;.*)?$/.test(segment)) && !/%(?:2f|5c|00)/i.test(said)
}

/** The address that somebody asks from: the connection's, or where `behindProxy` the last that the proxy before us has noted. */
export function askedFrom(request, behindProxy) {
  const own = request.socket.remoteAddress ?? ''
  if (!behindProxy) return own
  const noted = String(request.headers['x-forwarded-for'] ?? '').split(',')
  return (noted.at(-1)?.trim() || own).slice(0, 64)
}

/**
 * Lets in a few at a time, the first who came first, and in between whatever else there is to do: a crowd that comes at once is no wait for anybody
 * else. Answers a promise of one's turn.
 */
export function inTurns(atOnce) {
  const waiting = []
  const letIn = () => {
    for (const begin of waiting.splice(0, atOnce)) begin()
    if (waiting.length > 0) setImmediate(letIn)
  }
  return () =>
    new Promise((begin) => {
      if (waiting.push(begin) === 1) setImmediate(letIn)
    })
}
