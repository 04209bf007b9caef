import { shippedIcons } from './iconList'
import { provideIcons } from './icons'

/** For what draws at once and cannot wait: the icons are there from the beginning. */
provideIcons(shippedIcons)
