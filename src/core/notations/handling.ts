import { makeHandlings } from '../notation'
import { handling as figure } from './figure/handling'
import { handling as network } from './network/handling'
import { handling as organisation } from './organisation/handling'
import { handling as process } from './process/handling'
import { handling as schedule } from './schedule/handling'
import { handling as uml } from './uml/handling'

/** How all that Skivel knows is stated. What is worked out of it is no part of the page. */
export const handlings = makeHandlings([organisation, process, schedule, network, uml, figure])
