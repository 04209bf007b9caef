/** How speeds are said: `10G`, `100M`, `2.5 Gbit/s`. All are kept in Mbit/s. */

const STEPS: Readonly<Record<string, number>> = { k: 0.001, m: 1, g: 1000, t: 1_000_000 }
const SPEED = /^(\d+(?:[.,]\d+)?)\s*([kmgt])(?:bit\/s|bps|b\/s|bit|be?)?$/i
const MOST = 100_000_000

/** In Mbit/s; undefined for what is no speed, and for a bare number. */
export function readSpeed(text: string): number | undefined {
  const [, number, step = ''] = SPEED.exec(text.trim()) ?? []
  if (number === undefined) return undefined
  const speed = Number((Number(number.replace(',', '.')) * (STEPS[step.toLowerCase()] ?? 1)).toPrecision(12))
  return speed <= MOST ? speed : undefined
}

/** `10G`; read back to the same number. */
export function speedText(speed: number): string {
  if (speed !== 0 && speed % 1_000_000 === 0) return `${speed / 1_000_000}T`
  if (speed >= 1000 && (speed / 100) % 1 === 0) return `${speed / 1000}G`
  return `${plain(speed)}M`
}

/** A number without an exponent, which no speed has. */
const plain = (value: number): string =>
  String(value).includes('e') ? value.toFixed(12).replace(/0+$/, '') : String(value)
