export { cyclicComponents } from './cycles'
