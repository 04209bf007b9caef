/** Where files of fonts are, by their names without what they end in. */
export const byName = (files: Readonly<Record<string, string>>): ReadonlyMap<string, string> =>
  new Map(Object.entries(files).map(([path, address]) => [path.replace(/^.*\/|\.woff2$/g, ''), address]))
