import { lineFor, unquoted, type Unquoted } from '../../notation'

/** Somebody on a task, with the part of their time that it takes: `Refunds clerk 50 %`. */
export interface TypedShare {
  readonly name: string
  readonly units: number | undefined
}

export const readShares = (words: string): readonly TypedShare[] => sharesIn(unquoted(words))

export const sharesIn = ({ text, plain }: Unquoted): readonly TypedShare[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)
    .map((part) => {
      const [, name = part, share] = /^(.*?)\s*(?<=\s|[^\d.,])(\d+(?:[.,]\d+)?)\s*%$/.exec(part) ?? []
      return { name: plain(name), units: share === undefined ? undefined : Number(share.replace(',', '.')) / 100 }
    })

/** `Refunds clerk 50 %`, its name in quotation marks where it would be read as something else. */
export const shareWords = ({ name, units }: TypedShare): string =>
  lineFor(
    (text) => (units === undefined || units === 1 ? text(name) : `${text(name)} ${Number((units * 100).toFixed(4))} %`),
    (text) => {
      const [read, more] = readShares(text)
      return read?.name === name && more === undefined && (read.units ?? 1) === (units ?? 1) && !/^@|\s{2}|"/.test(name)
    },
  )
