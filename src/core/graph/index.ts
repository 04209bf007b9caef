export { componentsOf, cyclicComponents } from './cycles'
export { Heap } from './heap'
