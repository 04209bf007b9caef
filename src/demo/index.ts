export { marramSoundFerries } from './marram'
