/** What leaves no mark: joiners, marks of direction, choices of a form. */
export const isUnseen = (code: number): boolean =>
  (code >= 0x200b && code <= 0x200f) ||
  (code >= 0x202a && code <= 0x202e) ||
  (code >= 0x2060 && code <= 0x206f) ||
  (code >= 0xfe00 && code <= 0xfe0f) ||
  (code >= 0xe0020 && code <= 0xe007f) ||
  code === 0xfeff ||
  code === 0xad

/** Chinese, Japanese and Korean: their fonts come in some hundred files, and are known only where a text needs them. */
const SQUARE =
  /[\u1100-\u11ff\u2e80-\u2fdf\u2ff0-\u9fff\ua960-\ua97f\uac00-\ud7ff\uf900-\ufaff\ufe30-\ufe4f\uff00-\uffef]|[\u{20000}-\u{3ffff}]/u
export const isSquare = (text: string): boolean => SQUARE.test(text)
