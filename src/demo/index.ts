export { marramSoundFerries } from './marram'
export { marramPictures } from './plans'
