export { BOOKING_DATABASE, bookingTables } from './database'
export { marramSoundFerries } from './marram'
export { marramPictures } from './plans'
export { marramTalk } from './talk'
