import { describe } from 'vitest'
import { pictures } from '../../../src/core/notations/figure/pictures'
import { drawsSoundly } from '../../figureFaults'

const arranged = pictures.filter(({ arranges }) => arranges)

// In two files, so that both cores have something to do.
describe('every arrangement of the second half', () => {
  drawsSoundly(arranged.slice(arranged.length / 2))
})
