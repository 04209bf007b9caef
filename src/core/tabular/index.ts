export { pasteCells } from './paste'
