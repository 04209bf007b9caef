export { cyclicComponents } from './cycles'
export { Heap } from './heap'
