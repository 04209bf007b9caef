export { componentsOf, cyclicComponents } from './cycles'
export { Heap } from './heap'
export { nth, topological } from './order'
export { descent, distances, reach } from './reach'
