import { converter, formatHex } from 'culori/fn'

const toLinear = converter('lrgb')

/** How a picture is seen by others than oneself. */
export const SIGHTS = ['grey', 'protanopia', 'deuteranopia', 'tritanopia'] as const
export type Sight = (typeof SIGHTS)[number]

/** In words that follow “are hardly told apart”. */
export const SIGHT_WORDS: Readonly<Record<Sight, string>> = {
  grey: 'in grey',
  protanopia: 'without the cones for red',
  deuteranopia: 'without the cones for green',
  tritanopia: 'without the cones for blue',
}

type Row = readonly [red: number, green: number, blue: number]

/** What is seen of linear red, green and blue: rows of matrices of severity 1.0 (Machado, Oliveira & Fernandes 2009, table of matrices); of grey, luminance. */
export const SIGHT_MATRICES: Readonly<Record<Sight, readonly [Row, Row, Row]>> = {
  grey: [
    [0.2126, 0.7152, 0.0722],
    [0.2126, 0.7152, 0.0722],
    [0.2126, 0.7152, 0.0722],
  ],
  protanopia: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
  deuteranopia: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
  tritanopia: [
    [1.255528, -0.076749, -0.178779],
    [-0.078411, 0.930809, 0.147602],
    [0.004733, 0.691367, 0.3039],
  ],
}

/** A colour as it is seen. */
export function seenBy(colour: string, sight: Sight): string {
  const { r, g, b } = toLinear(colour) ?? { r: 0, g: 0, b: 0 }
  const [red, green, blue] = SIGHT_MATRICES[sight].map((row) => row[0] * r + row[1] * g + row[2] * b)
  return formatHex({ mode: 'lrgb', r: red ?? 0, g: green ?? 0, b: blue ?? 0 })
}
